import * as z from 'zod';
import { flicks } from './fields';

const shape = {
  durationFlicks: flicks,
  /** Where it lies about the joint. */
  place: z.enum(['before', 'centred', 'after']),
  /** 0 is even, 1 is slow at both ends. */
  ease: z.number().min(0).max(1),
};

/** sRGB, as six hexadecimal digits. */
const colour = z.string().regex(/^#[0-9a-f]{6}$/i);

/** A fade between a picture and a colour. */
export const fadeSchema = z.object({ ...shape, colour });

/** How the picture goes over to a shot: at once, out of the shot before it, or out of a colour. */
export const entrySchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('cut') }),
  z.object({ kind: z.literal('dissolve'), ...shape }),
  z.object({ kind: z.literal('fade'), ...shape, colour }),
]);

export type Fade = z.infer<typeof fadeSchema>;
export type Entry = z.infer<typeof entrySchema>;

export const CUT: Entry = { kind: 'cut' };
