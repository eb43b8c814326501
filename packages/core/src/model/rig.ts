import type { Vector } from '../space';
import { metres, vectorSchema } from './fields';
import { SUBJECT_POINTS } from './subject-points';
import * as z from 'zod';

const degrees = z.number().min(-36_000).max(36_000);

/** Whether a head keeps its own pan, tilt and roll in the world, or turns with what carries it. */
const head = z.enum(['world', 'carried']);

/** Every rig but sticks can be moved as a whole: to a vectorSchema, and turned (degrees, to the right seen from above). */
const base = { atM: vectorSchema, turnDeg: degrees, head };

/**
 * What carries a camera. Numbers here are in force where no key says otherwise.
 * The trolley of a rail stands `along` it: metres, or per cent of its length when it goes by share.
 */
export const rigSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('sticks') }),
  z.object({
    kind: z.literal('rail'),
    ...base,
    /** Of the track, in the rig's own axes. */
    nodesM: z.array(vectorSchema).min(2).max(500),
    /** For each piece between two nodes, whether it is straight; pieces that are not listed bend. */
    straight: z.array(z.boolean()).max(500),
    closed: z.boolean(),
    by: z.enum(['distance', 'share']),
    along: metres,
    /** The camera over the trolley: to the right of the way, up, and on along it. */
    cameraM: vectorSchema,
  }),
  z.object({
    kind: z.literal('crane'),
    ...base,
    /** Height of the arm's pivot over the base. */
    columnM: z.number().min(0).max(50),
    swingDeg: degrees,
    pitchDeg: z.number().min(-89).max(89),
    armM: z.number().min(0.1).max(60),
    /** The camera's height over the arm's end; negative hangs under it. */
    riserM: z.number().min(-5).max(5),
  }),
  z.object({
    kind: z.literal('orbit'),
    ...base,
    /** Who is in the middle; nobody means the place `atM`, which is an offset from the subject otherwise. */
    subjectId: z.uuid().nullable(),
    point: z.enum(SUBJECT_POINTS),
    angleDeg: degrees,
    radiusM: z.number().min(0.01).max(10_000),
    heightM: metres,
  }),
  z.object({
    kind: z.literal('follow'),
    ...base,
    subjectId: z.uuid().nullable(),
    point: z.enum(SUBJECT_POINTS),
    /** Whether the offset turns with the subject. */
    axes: z.enum(['subject', 'world']),
    /** To the subject's right, up, and behind it. */
    offsetM: vectorSchema,
    /** How far behind the camera follows, seconds. */
    lagS: z.number().min(0).max(10),
  }),
]);

export type Rig = z.infer<typeof rigSchema>;

export type RigKind = Rig['kind'];

export type RigOf<K extends RigKind> = Extract<Rig, { kind: K }>;

export const RIG_KINDS: readonly RigKind[] = ['sticks', 'rail', 'crane', 'orbit', 'follow'];

/** A rig that stands where the world begins, as it comes out of its case. */
export const RIG_DEFAULTS = {
  base: { atM: [0, 0, 0] as Vector, turnDeg: 0, head: 'world' as const },
  columnM: 1.3,
  riserM: 0.2,
  railCameraM: [0, 1.5, 0] as Vector,
};

/** A rail's track: smooth, with some straight pieces. */
export function trackShape({ straight }: RigOf<'rail'>): readonly boolean[] | 'smooth' {
  return straight.some(Boolean) ? straight : 'smooth';
}
