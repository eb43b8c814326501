import * as z from 'zod';
import { keySchema, MOST_KEYS } from '../curve';
import { revision, sceneFlicks } from './fields';
import { FORM } from './form';
import { entityKindSchema } from './kinds';

const fields = z.record(z.string(), z.unknown());
/** The place of one entry of a field that is a record: the field and the entry's name. */
const at = z.tuple([z.string(), z.string()]);

/**
 * A change to one entry of a field that is a record, so that one curve of a move, or some keys of it, can be changed without
 * the rest. `keys` puts keys at their times and takes away what stands at others.
 */
const partSchema = z.discriminatedUnion('how', [
  z.object({ how: z.literal('put'), at, value: z.unknown() }),
  z.object({ how: z.literal('gone'), at }),
  z.object({
    how: z.literal('keys'),
    at,
    put: z.array(keySchema).max(MOST_KEYS),
    gone: z.array(sceneFlicks).max(MOST_KEYS),
  }),
]);
export type WrittenPart = z.infer<typeof partSchema>;

/**
 * One step of a change. `baseRevision` is the revision it was made from; where it was brought up to a later one on its way,
 * `madeFrom` is the one that its maker saw.
 */
const operationSchema = z.discriminatedUnion('op', [
  z.object({ op: z.literal('create'), kind: entityKindSchema, id: z.uuid(), fields }),
  z.object({
    op: z.literal('patch'),
    kind: entityKindSchema,
    id: z.uuid(),
    baseRevision: revision,
    madeFrom: revision.optional(),
    fields,
    parts: z.array(partSchema).max(1000).optional(),
  }),
  z.object({ op: z.literal('delete'), kind: entityKindSchema, id: z.uuid(), baseRevision: revision }),
]);
export type Operation = z.infer<typeof operationSchema>;
export type PatchOperation = Extract<Operation, { op: 'patch' }>;

/** A named, atomic list of operations. Its id is made where it was made, so that it is applied once however often it is sent. */
export const changeSchema = z.object({
  /** The form it was written in; see `upgrade.ts`. */
  form: z.number().int().min(1),
  id: z.uuid(),
  name: z.string().min(1).max(200),
  operations: z.array(operationSchema).min(1).max(5000),
});
export type Change = z.infer<typeof changeSchema>;

/** Who did something, as people read it. Whoever works alone is {@link YOU}. */
export const authorSchema = z.string().trim().min(1).max(60);
export const YOU = 'you';

/** A change that the server has applied, with its place in the project's history, who made it, and when it was applied. */
export const appliedChangeSchema = z.object({
  seq: z.number().int().positive(),
  author: authorSchema,
  at: z.iso.datetime(),
  change: changeSchema,
});
export type AppliedChange = z.infer<typeof appliedChangeSchema>;
/** A change at its place in the history, whoever made it. */
export type PlacedChange = Pick<AppliedChange, 'seq' | 'change'>;

/** An edit as a change: what was done, in the present form and under an id. */
export function changeOf({ name, operations }: { name: string; operations: readonly Operation[] }, id: string): Change {
  return { form: FORM, id, name, operations: [...operations] };
}
