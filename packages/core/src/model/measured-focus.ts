import * as z from 'zod';
import { curveSchema } from '../curve';

/** Distances under a camera's point of automatic focus over scene time, and what they were measured for. */
export const measuredFocusSchema = z.object({
  /** Fingerprint of everything that they depend on: when it is another one, they are to be measured again. */
  for: z.string().regex(/^[\x20-\x7e]{0,64}$/),
  /** Metres along the axis. */
  curve: curveSchema,
});

export type MeasuredFocus = z.infer<typeof measuredFocusSchema>;
