import type { Entity, EntityKind } from '@arvex/core';
import { ENTITY_KINDS } from '@arvex/core';
import type { Model, ModelAttributes, ModelStatic, Sequelize, Transaction } from 'sequelize';
import { DataTypes } from 'sequelize';

type ColumnType = 'text' | 'id' | 'integer' | 'big' | 'number' | 'boolean' | 'json';

/** Columns of each kind's table beside id, revision and project: fields of core's schema by the same name. */
const COLUMNS: Record<EntityKind, Readonly<Record<string, ColumnType>>> = {
  project: {
    ...{ name: 'text', rate: 'json', firstFrame: 'integer', delivery: 'json', displayUnit: 'text' },
    ...{ deliveryChosen: 'boolean', exposure: 'json', guides: 'json' },
  },
  set: {
    ...{ name: 'text', sun: 'json', sky: 'json', sunFrom: 'text', sunPlace: 'json', amounts: 'text' },
    daylightGroupId: 'id',
  },
  lightGroup: { name: 'text', level: 'json' },
  asset: { name: 'text', file: 'json' },
  placement: {
    ...{ name: 'text', setId: 'id', parentId: 'id', assetId: 'id', lightGroupId: 'id', piece: 'json' },
    ...{ positionM: 'json', panDeg: 'number', tiltDeg: 'number', rollDeg: 'number', scale: 'json', surface: 'json' },
    ...{ motion: 'json', clip: 'json', subject: 'boolean', visible: 'boolean', locked: 'boolean' },
  },
  camera: {
    ...{ name: 'text', number: 'integer', pose: 'json', filmBack: 'json', lens: 'json', focus: 'json' },
    ...{
      aim: 'json',
      guides: 'json',
      exposure: 'json',
      framing: 'json',
      clip: 'json',
      lightMix: 'json',
      own: 'json',
      rig: 'json',
      handheld: 'json',
      references: 'json',
    },
  },
  lensKit: { name: 'text', lenses: 'json' },
  move: { cameraId: 'id', curves: 'json', after: 'json', marks: 'json' },
  sequence: { name: 'text' },
  shot: {
    ...{ name: 'text', sequenceId: 'id', cameraId: 'id', order: 'number' },
    ...{ sceneStartFlicks: 'big', durationFlicks: 'big' },
  },
};

/** Names that the database or SQL keeps for itself. */
const COLUMN_NAMES: Readonly<Record<string, string>> = {
  order: 'sort_order',
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
  json: DataTypes.JSON,
} as const;

export type Row = Record<string, unknown>;
export type EntityModel = ModelStatic<Model<Row, Row>>;

/** The tables of all kinds of entities, as Sequelize models, with the way from row to entity and back. */
export class EntityTables {
  private readonly models: Record<EntityKind, EntityModel>;

  constructor(sequelize: Sequelize) {
    const kinds = Object.keys(COLUMNS) as EntityKind[];
    this.models = Object.fromEntries(
      kinds.map((kind) => {
        const table = kind === 'project' ? 'projects' : snakeCase(ENTITY_KINDS[kind].table);
        return [kind, sequelize.define<Model<Row, Row>>(kind, attributesOf(kind), { tableName: table })];
      }),
    ) as unknown as Record<EntityKind, EntityModel>;
  }

  model(kind: EntityKind): EntityModel {
    return this.models[kind];
  }

  /** One entity of a project, locked until the transaction ends; `undefined` when there is none. */
  async find(kind: EntityKind, projectId: string, id: string, transaction: Transaction): Promise<Entity | undefined> {
    const where = kind === 'project' ? { id: id === projectId ? id : '' } : { id, projectId };
    const row = await this.models[kind].findOne({ where, transaction, raw: true });
    return row ? entityOf(kind, row as unknown as Row) : undefined;
  }

  /** All entities of a kind in a project. */
  async all(kind: EntityKind, projectId: string, transaction: Transaction): Promise<Entity[]> {
    const where = kind === 'project' ? { id: projectId } : { projectId };
    const rows = await this.models[kind].findAll({ where, transaction, raw: true });
    return rows.map((row) => entityOf(kind, row as unknown as Row));
  }

  /** Writes what an operation made of an entity: inserts, updates or deletes its row. */
  async write(
    kind: EntityKind,
    projectId: string,
    id: string,
    was: Entity | undefined,
    is: Entity | undefined,
    transaction: Transaction,
  ): Promise<void> {
    const model = this.models[kind];
    if (!is) await model.destroy({ where: { id }, transaction });
    else if (was) await model.update(is as unknown as Row, { where: { id }, transaction });
    else await model.create({ ...is, projectId }, { transaction });
  }
}

/** `light_groups` for `lightGroups`. */
function snakeCase(name: string): string {
  return name.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`);
}

function attributesOf(kind: EntityKind): ModelAttributes<Model<Row, Row>, Row> {
  const attributes: Record<string, object> = {
    id: { type: DataTypes.CHAR(36), primaryKey: true },
    revision: { type: DataTypes.STRING(64), allowNull: false },
  };
  if (kind === 'project') attributes['seq'] = { type: DataTypes.BIGINT, allowNull: false };
  else attributes['projectId'] = { type: DataTypes.CHAR(36), allowNull: false };
  for (const [field, type] of Object.entries(COLUMNS[kind])) {
    attributes[field] = { type: DATA_TYPES[type], field: COLUMN_NAMES[field] };
  }
  return attributes as ModelAttributes<Model<Row, Row>, Row>;
}

/** A row as an entity: types that the driver gives back as text are read. */
function entityOf(kind: EntityKind, row: Row): Entity {
  const entity: Row = { id: row['id'], revision: row['revision'] };
  for (const [field, type] of Object.entries(COLUMNS[kind])) {
    const value = row[field];
    if (value === null) entity[field] = null;
    else if (type === 'json') entity[field] = typeof value === 'string' ? JSON.parse(value) : value;
    else if (type === 'big' || type === 'number') entity[field] = Number(value);
    else if (type === 'boolean') entity[field] = Boolean(value);
    else entity[field] = value;
  }
  return ENTITY_KINDS[kind].schema.parse(entity);
}
