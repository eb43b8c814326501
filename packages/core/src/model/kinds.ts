import * as z from 'zod';
import { assetKind } from './asset';
import { cameraKind } from './camera';
import { headKind } from './head';
import { keptResponseKind } from './kept-response';
import { lensKitKind } from './lens-kit';
import { lightGroupKind } from './light-group';
import { lookKind } from './look';
import { markerKind } from './marker';
import { moveKind } from './move';
import { placementKind } from './placement';
import { sequenceKind } from './sequence';
import { setKind } from './set';
import { shotKind } from './shot';
import { soundKind } from './sound';

/**
 * Every kind of entity, what is referred to before what refers to it: the one table from which entity types, {@link Project},
 * its schema and the columns of the database follow. A kind says what its table is called, what an entity of it is, and which of
 * its fields hold the id of another entity; that one must be in the same project, and cannot go while it is referred to. One of
 * these fields may be its `owner`: with that entity it is copied, and with that it goes. Fields that are times in the cut are its
 * `cutTimes`: they go along where the cut's time changes.
 */
export const KINDS = {
  project: headKind,
  lightGroup: lightGroupKind,
  set: setKind,
  asset: assetKind,
  placement: placementKind,
  lensKit: lensKitKind,
  look: lookKind,
  keptResponse: keptResponseKind,
  camera: cameraKind,
  move: moveKind,
  sequence: sequenceKind,
  shot: shotKind,
  marker: markerKind,
  sound: soundKind,
} as const;

export type EntityKind = keyof typeof KINDS;
/** Kinds of which a project has many; it has one head. */
export type TableKind = Exclude<EntityKind, 'project'>;
export type EntityOf = { [K in EntityKind]: z.infer<(typeof KINDS)[K]['schema']> };
export type Entity = EntityOf[EntityKind];
export const ALL_KINDS = Object.keys(KINDS) as [EntityKind, ...EntityKind[]];
export const TABLE_KINDS = ALL_KINDS.filter((kind): kind is TableKind => kind !== 'project');
export const entityKindSchema = z.enum(ALL_KINDS);

/** Fields of a kind that hold ids of others, and of which kind those are. */
export function referencesOf(kind: EntityKind): readonly (readonly [field: string, to: TableKind])[] {
  return Object.entries(KINDS[kind].references);
}

/** Fields of a kind that are times in the cut, flicks. */
export function cutTimesOf(kind: EntityKind): readonly string[] {
  const of = KINDS[kind];
  return 'cutTimes' in of ? of.cutTimes : [];
}

/** A field's schema; `undefined` when a kind has no such field, or it is one that nobody may change. */
export function fieldSchema(kind: EntityKind, field: string): z.ZodType | undefined {
  const shape: Readonly<Record<string, z.ZodType>> = KINDS[kind].schema.shape;
  return field === 'id' || field === 'revision' || !Object.hasOwn(shape, field) ? undefined : shape[field];
}
