import * as z from 'zod';
import { base, flicks, id, MAX_FLICKS, name, order } from './fields';
import { retimeSchema, TRUE_SPEED } from './retime';
import { CUT, entrySchema, fadeSchema } from './transition';

/** What a shot shows: whom it looks through, when in the scene, how fast, how long. */
const showing = {
  cameraId: id.nullable(),
  /** The variation of its camera that is seen; null is the one that the camera wears, an empty text is the camera without any. */
  variationId: z
    .union([id, z.literal('')])
    .nullable()
    .default(null),
  /** Name of the camera that was here until it was deleted. */
  lostCamera: z.string().max(120),
  /** Scene time of its first frame, unless it goes on with the action. */
  sceneStartFlicks: flicks,
  /** Whether its scene time begins where the shot before it ends. */
  continues: z.boolean(),
  /** How long it lasts in the cut. */
  durationFlicks: z.number().int().positive().max(MAX_FLICKS),
  retime: retimeSchema,
};

/** An alternate of a shot that is not in the cut now. */
const takeSchema = z.object({ id, name, ...showing });

/** Which of its frames is a shot's picture on the board. */
const posterSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.enum(['first', 'middle', 'last']) }),
  z.object({ kind: z.literal('mark'), markId: id }),
]);

const text = z.string().max(2000);

/** Two points on the ground between which the action goes, metres: x to the east, z to the south. */
export const actionLineSchema = z.object({
  fromM: z.tuple([z.number(), z.number()]).readonly(),
  toM: z.tuple([z.number(), z.number()]).readonly(),
});

/** A camera (or another sequence) over a range of scene time. `order` is its place in its sequence: see {@link orderBetween}. */
const shotSchema = z.object({
  ...base,
  sequenceId: id,
  /** The sequence that it shows instead of a camera: its scene time is that sequence's. */
  insideId: id.nullable(),
  ...showing,
  name,
  order,
  /** How long nothing is seen before it. */
  gapFlicks: flicks,
  entry: entrySchema,
  /** Into a colour at its end. */
  fadeOut: fadeSchema.nullable(),
  /** Extra at output before and after it; the sequence's when null. */
  handleInFlicks: flicks.nullable(),
  handleOutFlicks: flicks.nullable(),
  /** The name of the take that is in the cut, and the other takes. */
  takeName: name,
  takes: z.array(takeSchema).max(50).readonly(),
  /** Cameras whose picture under this shot was thrown away. */
  without: z.array(id).max(500).readonly(),
  description: text,
  spoken: text,
  poster: posterSchema,
  /** Of this shot alone; the sequence's when null. */
  actionLine: actionLineSchema.nullable(),
  /** The scene that it belongs to, as the script counts them. Neighbours of one scene are a group. */
  scene: z.string().max(120).default(''),
  /** What checks and continuity find in it and somebody called meant, so that they say it no more: see `meantKey`. */
  meant: z.array(z.string().max(80)).max(100).readonly().default([]),
});

export type Shot = z.infer<typeof shotSchema>;
export type Take = z.infer<typeof takeSchema>;
export type Showing = Pick<Take, keyof typeof showing>;
export type ActionLine = z.infer<typeof actionLineSchema>;

/** What a shot has unless somebody says otherwise. */
export const SHOT_DEFAULTS: Omit<
  Shot,
  'id' | 'revision' | 'sequenceId' | 'cameraId' | 'name' | 'order' | 'sceneStartFlicks' | 'durationFlicks'
> = {
  insideId: null,
  variationId: null,
  lostCamera: '',
  continues: false,
  retime: TRUE_SPEED,
  gapFlicks: 0,
  entry: CUT,
  fadeOut: null,
  handleInFlicks: null,
  handleOutFlicks: null,
  takeName: 'a',
  takes: [],
  without: [],
  description: '',
  spoken: '',
  poster: { kind: 'middle' },
  actionLine: null,
  scene: '',
  meant: [],
};

export const shotKind = {
  table: 'shots',
  schema: shotSchema,
  references: { sequenceId: 'sequence', cameraId: 'camera', insideId: 'sequence' },
  owner: 'sequenceId',
} as const;
