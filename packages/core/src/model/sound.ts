import * as z from 'zod';
import { base, flicks, id, name } from './fields';

/** Lanes of sound that a sequence has. */
export const SOUND_LANES = 8;
/** The longest file, seconds. */
export const LONGEST_SOUND_S = 3600;

const seconds = z.number().min(0).max(LONGEST_SOUND_S);

/** A piece of a file of sound under a sequence. What is sound's own is in seconds: it knows no frames. */
const soundSchema = z.object({
  ...base,
  sequenceId: id,
  assetId: id,
  name,
  lane: z
    .number()
    .int()
    .min(0)
    .max(SOUND_LANES - 1),
  /** Where it begins in the sequence. */
  startFlicks: flicks,
  /** How much of the file's beginning is left out, and how much of it is heard. */
  trimS: seconds,
  lengthS: seconds,
  fadeInS: seconds,
  fadeOutS: seconds,
  gainDb: z.number().min(-60).max(24),
  muted: z.boolean(),
});

export type Sound = z.infer<typeof soundSchema>;

export const soundKind = {
  table: 'sounds',
  schema: soundSchema,
  references: { sequenceId: 'sequence', assetId: 'asset' },
  owner: 'sequenceId',
  cutTimes: ['startFlicks'],
} as const;
