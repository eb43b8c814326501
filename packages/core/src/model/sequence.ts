import * as z from 'zod';
import { base, flicks, name } from './fields';
import { actionLineSchema } from './shot';

/** When neighbouring shots are too alike to be cut together, and when a shot is too short. */
const continuityLimitsSchema = z.object({
  /** A cut reads as a jump where the angle changes by less than this, degrees, … */
  angleDeg: z.number().min(0).max(180),
  /** … and the size by fewer steps of the row from extreme close-up to extreme wide than this. */
  sizeSteps: z.number().min(0).max(8),
  /** A matching pair differs by this much at most: in focal length (share), in height and in distance (share). */
  pairLens: z.number().min(0).max(1),
  pairHeightM: z.number().min(0).max(10),
  pairDistance: z.number().min(0).max(1),
  /** Shortest time in which a wide shot that stands can be read, seconds; close ones take less, moving ones more. */
  readS: z.number().min(0).max(10),
});

export type ContinuityLimits = z.infer<typeof continuityLimitsSchema>;

/** Where timecode begins unless somebody says otherwise. */
const FIRST_TIMECODE = '00:00:00:00';

const sequenceSchema = z.object({
  ...base,
  name,
  /** Extra at output before and after each shot that has none of its own. */
  handleInFlicks: flicks,
  handleOutFlicks: flicks,
  /** Timecode of its first frame, `hh:mm:ss:ff`. */
  startTimecode: z
    .string()
    .regex(/^\d{2}:[0-5]\d:[0-5]\d[:;]\d{2}$/)
    .default(FIRST_TIMECODE),
  actionLine: actionLineSchema.nullable(),
  continuity: continuityLimitsSchema,
  /** Lanes of sound that are not heard. */
  mutedLanes: z.array(z.number().int().min(0).max(7)).max(8).readonly(),
});

export type Sequence = z.infer<typeof sequenceSchema>;

/** The usual rule: 30° or two sizes (Katz, Film Directing Shot by Shot, 1991, ch. 8). */
export const CONTINUITY_DEFAULTS: ContinuityLimits = {
  angleDeg: 30,
  sizeSteps: 2,
  pairLens: 0.05,
  pairHeightM: 0.25,
  pairDistance: 0.2,
  readS: 2,
};

export const SEQUENCE_DEFAULTS: Omit<Sequence, 'id' | 'revision' | 'name'> = {
  handleInFlicks: 0,
  handleOutFlicks: 0,
  startTimecode: FIRST_TIMECODE,
  actionLine: null,
  continuity: CONTINUITY_DEFAULTS,
  mutedLanes: [],
};

export const sequenceKind = { table: 'sequences', schema: sequenceSchema, references: {} } as const;
