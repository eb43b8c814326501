import * as z from 'zod';
import { CoreError } from '../error';
import { FORM } from './form';
import { headSchema } from './head';
import type { Entity, EntityKind, EntityOf, TableKind } from './kinds';
import { KINDS, TABLE_KINDS } from './kinds';
import type { MeasuredFocus } from './measured-focus';
import { measuredFocusSchema } from './measured-focus';

export type Table<T> = Readonly<Record<string, T>>;

type Tables = { readonly [K in TableKind as (typeof KINDS)[K]['table']]: Table<EntityOf[K]> };

/** A whole project: plain, immutable, validated. `seq` counts the changes it has seen on the server. */
export interface Project extends Tables {
  readonly form: typeof FORM;
  readonly seq: number;
  readonly head: EntityOf['project'];
  /** What was measured of cameras, by their ids. It stands beside the entities: no change holds it. */
  readonly measured: Table<MeasuredFocus>;
}

type TableSchemas = {
  [K in TableKind as (typeof KINDS)[K]['table']]: z.ZodDefault<z.ZodRecord<z.ZodUUID, (typeof KINDS)[K]['schema']>>;
};

/** A project as it travels. One that was written before there was a kind has nothing of it. */
export const projectSchema = z.object({
  form: z.literal(FORM),
  seq: z.number().int().nonnegative(),
  head: headSchema,
  measured: z.record(z.uuid(), measuredFocusSchema),
  ...(Object.fromEntries(
    TABLE_KINDS.map((kind) => [KINDS[kind].table, z.record(z.uuid(), KINDS[kind].schema).default({})]),
  ) as unknown as TableSchemas),
});

/** Tables without anything in them. */
export function emptyTables(): Tables {
  return Object.fromEntries(TABLE_KINDS.map((kind) => [KINDS[kind].table, {}])) as unknown as Tables;
}

/** All entities of a kind by their ids. */
export function tableOf<K extends TableKind>(project: Tables, kind: K): Table<EntityOf[K]> {
  return project[KINDS[kind].table] as Table<EntityOf[K]>;
}

/** The entity of this kind and id, or `undefined`. */
export function entityIn<K extends EntityKind>(project: Project, kind: K, id: string): EntityOf[K] | undefined {
  if (kind === 'project') return (project.head.id === id ? project.head : undefined) as EntityOf[K] | undefined;
  const table: Table<Entity> = tableOf(project, kind);
  return Object.hasOwn(table, id) ? (table[id] as EntityOf[K]) : undefined;
}

/** The entity with this id. @throws CoreError `unknown-entity`. */
export function existing<K extends EntityKind>(project: Project, kind: K, id: string): EntityOf[K] {
  const entity = entityIn(project, kind, id);
  if (!entity) throw new CoreError('unknown-entity', `There is no ${kind} ${id} in this project.`);
  return entity;
}
