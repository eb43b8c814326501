import type { RenderState } from '@arvex/core';
import type { FindOptions, Model, ModelAttributeColumnOptions, ModelStatic, Sequelize } from 'sequelize';
import { DataTypes } from 'sequelize';

const ID = DataTypes.CHAR(36);
const JSON_TEXT = DataTypes.TEXT('long');
const TIME = DataTypes.DATE(3);
const key = (type: ModelAttributeColumnOptions['type']) => ({ type, primaryKey: true });

/** A table as a model whose rows are read plain. */
export type Table<Row extends object> = ModelStatic<Model<Row, Partial<Row>>>;

interface ProjectRow {
  readonly id: string;
  readonly name: string;
  readonly seq: number;
  readonly lastVersion: number;
  readonly createdAt: Date;
}
export interface ChangeRow {
  readonly projectId: string;
  readonly seq: number;
  readonly author: string;
  readonly madeAt: Date;
  readonly id: string;
  readonly name: string;
  readonly form: number;
  readonly operations: unknown;
}
interface MeasuredRow {
  readonly projectId: string;
  readonly cameraId: string;
  readonly madeFor: string;
  readonly curve: unknown;
}
interface OrderRow {
  readonly projectId: string;
  readonly id: string;
  readonly author: string;
  readonly version: string;
  readonly day: string;
  readonly what: unknown;
  readonly snapshot: unknown;
}
interface RenderRow {
  readonly projectId: string;
  readonly id: string;
  readonly orderId: string;
  readonly place: number;
  readonly name: string;
  readonly title: string;
  readonly part: unknown;
  readonly folder: string;
  readonly widthPx: number;
  readonly heightPx: number;
  readonly rate: unknown;
  readonly firstFrame: number;
  readonly frameCount: number;
  readonly state: RenderState;
  readonly mixOf: string | null;
  readonly mix: unknown;
}
interface RenderFileRow {
  readonly projectId: string;
  readonly renderId: string;
  readonly path: string;
  readonly kind: string;
  readonly hash: string;
  readonly bytes: number;
}
interface NamedRow {
  readonly id: string;
  readonly name: string;
  readonly kept: unknown;
  readonly savedAt: Date;
}

/**
 * The tables that are no kind of entity: those are in {@link EntityTables}. Frames, their files and jobs are the queue's, whose rows are
 * leased to one of many at once: its statements stand in `queue/embedded`.
 */
export interface Tables {
  readonly projects: Table<ProjectRow>;
  readonly changes: Table<ChangeRow>;
  readonly measuredFocus: Table<MeasuredRow>;
  readonly orders: Table<OrderRow>;
  readonly renders: Table<RenderRow>;
  readonly renderFiles: Table<RenderFileRow>;
}

const made = new WeakMap<Sequelize, Tables>();

/** The models of a connection, made once. */
export function tablesOf(sequelize: Sequelize): Tables {
  const tables = made.get(sequelize) ?? define(sequelize);
  made.set(sequelize, tables);
  return tables;
}

function define(sequelize: Sequelize): Tables {
  return {
    projects: sequelize.define(
      'projectRow',
      { id: key(ID), name: DataTypes.STRING, seq: DataTypes.BIGINT, lastVersion: DataTypes.INTEGER, createdAt: TIME },
      { tableName: 'projects' },
    ),
    changes: sequelize.define(
      'change',
      {
        projectId: key(ID),
        seq: key(DataTypes.BIGINT),
        author: DataTypes.STRING,
        madeAt: TIME,
        id: ID,
        name: DataTypes.STRING,
        form: DataTypes.INTEGER,
        operations: JSON_TEXT,
      },
      { tableName: 'changes' },
    ),
    measuredFocus: sequelize.define(
      'measuredFocus',
      { projectId: key(ID), cameraId: key(ID), madeFor: DataTypes.STRING, curve: JSON_TEXT },
      { tableName: 'measured_focus' },
    ),
    orders: sequelize.define(
      'order',
      {
        projectId: key(ID),
        id: key(ID),
        author: DataTypes.STRING,
        version: DataTypes.STRING,
        day: DataTypes.STRING,
        what: JSON_TEXT,
        snapshot: JSON_TEXT,
      },
      { tableName: 'render_orders' },
    ),
    renders: sequelize.define(
      'render',
      {
        projectId: key(ID),
        id: key(ID),
        orderId: ID,
        place: DataTypes.INTEGER,
        name: DataTypes.STRING,
        title: DataTypes.STRING,
        part: JSON_TEXT,
        folder: DataTypes.STRING,
        widthPx: DataTypes.INTEGER,
        heightPx: DataTypes.INTEGER,
        rate: JSON_TEXT,
        firstFrame: DataTypes.INTEGER,
        frameCount: DataTypes.INTEGER,
        state: DataTypes.STRING,
        mixOf: ID,
        mix: JSON_TEXT,
      },
      { tableName: 'renders' },
    ),
    renderFiles: sequelize.define(
      'renderFile',
      {
        projectId: key(ID),
        renderId: key(ID),
        path: key(DataTypes.STRING),
        kind: DataTypes.STRING,
        hash: DataTypes.STRING,
        bytes: DataTypes.BIGINT,
      },
      { tableName: 'render_files' },
    ),
  };
}

/** A table of things that are kept under names, with one column of JSON. */
export function namedTable(sequelize: Sequelize, table: string, column: string): Table<NamedRow> {
  return sequelize.define(
    table,
    { id: key(ID), name: DataTypes.STRING, kept: { type: JSON_TEXT, field: column }, savedAt: TIME },
    { tableName: table },
  );
}

/** Rows of a table, plain. */
export async function rowsOf<Row extends object>(table: Table<Row>, options: FindOptions<Row>): Promise<Row[]> {
  return (await table.findAll({ ...options, raw: true })) as unknown as Row[];
}

/** The first row of those that are meant, plain. */
export async function rowOf<Row extends object>(
  table: Table<Row>,
  options: FindOptions<Row>,
): Promise<Row | undefined> {
  return (await rowsOf(table, { ...options, limit: 1 }))[0];
}
