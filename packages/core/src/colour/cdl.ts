import * as z from 'zod';
import { luminanceOf } from './luminance';

const triple = (part: z.ZodNumber) => z.tuple([part, part, part]).readonly();

/** Slope, offset and power for red, green and blue, and saturation for all. */
export const cdlSchema = z.object({
  slope: triple(z.number().min(0).max(100)),
  offset: triple(z.number().min(-10).max(10)),
  power: triple(z.number().min(0.01).max(10)),
  saturation: z.number().min(0).max(10),
});

export type Cdl = z.infer<typeof cdlSchema>;

export const CDL_DEFAULTS: Cdl = { slope: [1, 1, 1], offset: [0, 0, 0], power: [1, 1, 1], saturation: 1 };

/**
 * A colour decision (ASC CDL 1.2): out = (in · slope + offset) ^ power, then saturation about the luminance of BT.709. What goes below
 * nought stops there before the power, as the standard has it; light above 1 goes on, as the response that follows takes it.
 * Written into `colour`.
 */
export function applyCdl(colour: [number, number, number], { slope, offset, power, saturation }: Cdl): void {
  for (let i = 0 as 0 | 1 | 2; i < 3; i++) {
    const value = Math.max(0, colour[i] * slope[i] + offset[i]);
    colour[i] = power[i] === 1 ? value : value ** power[i];
  }
  if (saturation === 1) return;
  const grey = luminanceOf(colour);
  for (let i = 0 as 0 | 1 | 2; i < 3; i++) colour[i] = grey + saturation * (colour[i] - grey);
}
