import type { Entity, EntityKind, Project } from '@arvex/core';
import { ALL_KINDS, KINDS } from '@arvex/core';
import type { Model, ModelAttributes, ModelStatic, Sequelize, Transaction } from 'sequelize';
import { DataTypes } from 'sequelize';
import type { z } from 'zod';
import { doneInTurns, jsonInTurns } from '../turns/in-turns';
import type { OneWrite } from './one-write';

type ColumnType = 'text' | 'id' | 'integer' | 'big' | 'number' | 'boolean' | 'json';

/** Rows that one statement writes, at most: making it holds others up. */
const ROWS_AT_ONCE = 100;

/** The largest number that an INTEGER column holds. */
const LARGEST_INTEGER = 2 ** 31 - 1;

/** Names that the database or SQL keeps for itself. */
const COLUMN_NAMES: Readonly<Record<string, string>> = {
  order: 'shot_order',
  references: 'camera_references',
  after: 'after_last',
};

const DATA_TYPES = {
  text: DataTypes.STRING,
  id: DataTypes.CHAR(36),
  integer: DataTypes.INTEGER,
  big: DataTypes.BIGINT,
  number: DataTypes.DOUBLE,
  boolean: DataTypes.BOOLEAN,
  // Made text here, so that making it and sending it are two turns.
  json: DataTypes.TEXT,
} as const;

type Row = Record<string, unknown>;
type EntityModel = ModelStatic<Model<Row, Row>>;

/** The tables of all kinds of entities, as Sequelize models that follow from core's table of kinds. */
export class EntityTables {
  private readonly models: Record<EntityKind, EntityModel>;

  constructor(sequelize: Sequelize) {
    this.models = Object.fromEntries(
      ALL_KINDS.map((kind) => {
        const table = kind === 'project' ? 'projects' : snakeCase(KINDS[kind].table);
        return [kind, sequelize.define<Model<Row, Row>>(kind, attributesOf(kind), { tableName: table })];
      }),
    ) as unknown as Record<EntityKind, EntityModel>;
  }

  /** All entities of a kind in a project. */
  async all(kind: EntityKind, projectId: string, transaction: Transaction): Promise<Entity[]> {
    const where = kind === 'project' ? { id: projectId } : { projectId };
    const rows = await this.models[kind].findAll({ where, transaction, raw: true });
    return doneInTurns(entitiesOf(kind, rows as unknown as Row[]));
  }

  /** Whether a project has an entity of a kind. */
  async has(kind: EntityKind, projectId: string, id: string, transaction: Transaction): Promise<boolean> {
    return (await this.models[kind].count({ where: { projectId, id }, transaction })) > 0;
  }

  /** A project's own row, at its place in its history. */
  async insertProject(head: Project['head'], seq: number, transaction: Transaction): Promise<void> {
    await this.models.project.create({ ...(await rowOf('project', head)), seq }, { transaction });
  }

  async insert(
    kind: EntityKind,
    projectId: string,
    entities: readonly Entity[],
    transaction: Transaction,
  ): Promise<void> {
    for (let i = 0; i < entities.length; i += ROWS_AT_ONCE) {
      const some = entities.slice(i, i + ROWS_AT_ONCE);
      const rows = await Promise.all(some.map(async (entity) => ({ ...(await rowOf(kind, entity)), projectId })));
      await this.models[kind].bulkCreate(rows, { transaction });
    }
  }

  /** Writes the fields of an entity that are not the same any more. */
  async update(kind: EntityKind, projectId: string, was: Entity, is: Entity, transaction: Transaction): Promise<void> {
    const [before, after]: [Row, Row] = [{ ...was }, { ...is }];
    const fields = Object.keys(after).filter((field) => after[field] !== before[field]);
    const where = kind === 'project' ? { id: projectId } : { id: is.id, projectId };
    const row = await rowOf(kind, is, fields);
    await this.models[kind].update(row, { where, fields, transaction });
  }

  /** Adds what {@link update} writes to a write of several statements. */
  async addUpdate(write: OneWrite, kind: EntityKind, projectId: string, was: Entity, is: Entity): Promise<void> {
    const [before, after]: [Row, Row] = [{ ...was }, { ...is }];
    const fields = Object.keys(after).filter((field) => after[field] !== before[field]);
    const row = await rowOf(kind, is, fields);
    const set = fields.map((field) => `${this.columnOf(kind, field)} = ${write.value(row[field])}`).join(', ');
    const where = kind === 'project' ? '' : ` AND project_id = ${write.value(projectId)}`;
    write.add(`UPDATE ${this.tableOf(kind)} SET ${set} WHERE id = ${write.value(is.id)}${where}`);
  }

  /** Adds what {@link insert} writes of one entity to a write of several statements. */
  async addInsert(write: OneWrite, kind: EntityKind, projectId: string, entity: Entity): Promise<void> {
    const row = { ...(await rowOf(kind, entity)), projectId };
    const fields = Object.keys(row) as (keyof typeof row)[];
    const names = fields.map((field) => this.columnOf(kind, field)).join(', ');
    const values = fields.map((field) => write.value(row[field])).join(', ');
    write.add(`INSERT INTO ${this.tableOf(kind)} (${names}) VALUES (${values})`);
  }

  private tableOf(kind: EntityKind): string {
    return `\`${this.models[kind].tableName}\``;
  }

  private columnOf(kind: EntityKind, field: string): string {
    return `\`${this.models[kind].getAttributes()[field]?.field ?? field}\``;
  }

  async delete(kind: EntityKind, projectId: string, ids: readonly string[], transaction: Transaction): Promise<void> {
    await this.models[kind].destroy({ where: { projectId, id: [...ids] }, transaction });
  }

  /** Everything of a kind that a project has. Things that carry each other are let go of first. */
  async deleteAll(kind: EntityKind, projectId: string, transaction: Transaction): Promise<void> {
    if (kind === 'placement') await this.models[kind].update({ parentId: null }, { where: { projectId }, transaction });
    await this.models[kind].destroy({ where: { projectId }, transaction });
  }
}

function* entitiesOf(kind: EntityKind, rows: readonly Row[]): Generator<void, Entity[]> {
  const entities: Entity[] = [];
  for (const row of rows) {
    entities.push(entityOf(kind, row));
    yield;
  }
  return entities;
}

/** `light_groups` for `lightGroups`. */
function snakeCase(name: string): string {
  return name.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`);
}

type Columns = readonly (readonly [field: string, type: ColumnType])[];
const columns = new Map<EntityKind, Columns>();

/** Columns of a kind's table beside id, revision and project: fields of its schema by the same names. */
function columnsOf(kind: EntityKind): Columns {
  const known = columns.get(kind) ?? columnsIn(KINDS[kind].schema.shape);
  columns.set(kind, known);
  return known;
}

function columnsIn(shape: Readonly<Record<string, z.ZodType>>): Columns {
  return Object.entries(shape).flatMap(([field, schema]) =>
    field === 'id' || field === 'revision' ? [] : [[field, columnType(schema)] as const],
  );
}

/** What a schema may be wrapped in without being kept in another way. */
const WRAPPERS: ReadonlySet<string> = new Set(['nullable', 'readonly', 'default']);

/** The column that holds what a schema takes. */
function columnType(schema: z.ZodType): ColumnType {
  const { def } = schema as z.ZodType & { def: { type: string; innerType?: z.ZodType } };
  if (WRAPPERS.has(def.type) && def.innerType) return columnType(def.innerType);
  if (def.type === 'string') return (schema as z.ZodString).format === 'uuid' ? 'id' : 'text';
  if (def.type === 'enum') return 'text';
  if (def.type === 'boolean') return 'boolean';
  if (def.type !== 'number') return 'json';
  const { format, maxValue } = schema as z.ZodNumber;
  if (format !== 'safeint' && format !== 'int32') return 'number';
  return (maxValue ?? Infinity) > LARGEST_INTEGER ? 'big' : 'integer';
}

function attributesOf(kind: EntityKind): ModelAttributes<Model<Row, Row>, Row> {
  const attributes: Record<string, object> = {
    id: { type: DataTypes.CHAR(36), primaryKey: true },
    revision: { type: DataTypes.STRING(64), allowNull: false },
  };
  if (kind === 'project') attributes['seq'] = { type: DataTypes.BIGINT, allowNull: false };
  else attributes['projectId'] = { type: DataTypes.CHAR(36), allowNull: false, primaryKey: true };
  for (const [field, type] of columnsOf(kind)) {
    attributes[field] = { type: DATA_TYPES[type], field: COLUMN_NAMES[field] };
  }
  return attributes as ModelAttributes<Model<Row, Row>, Row>;
}

/** An entity as a row, or some of its fields. */
async function rowOf(kind: EntityKind, entity: Entity, fields: readonly string[] = Object.keys(entity)): Promise<Row> {
  const values: Row = { ...entity };
  const types = new Map(columnsOf(kind));
  const row: Row = {};
  for (const field of fields) {
    const value = values[field];
    row[field] = types.get(field) === 'json' && value !== null ? await jsonInTurns(value) : value;
  }
  return row;
}

/** A row as an entity: types that the driver gives back as text are read. */
function entityOf(kind: EntityKind, row: Row): Entity {
  const entity: Row = { id: row['id'], revision: row['revision'] };
  for (const [field, type] of columnsOf(kind)) {
    const value = row[field];
    if (value === null) entity[field] = null;
    else if (type === 'json') entity[field] = typeof value === 'string' ? JSON.parse(value) : value;
    else if (type === 'big' || type === 'number') entity[field] = Number(value);
    else if (type === 'boolean') entity[field] = Boolean(value);
    else entity[field] = value;
  }
  return KINDS[kind].schema.parse(entity);
}
