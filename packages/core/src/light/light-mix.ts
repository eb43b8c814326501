import * as z from 'zod';
import { linearFromSrgb, luminanceOf } from '../colour';

/** Stops over or under its own amount that a light group goes to at most. */
export const MOST_LIGHT_STOPS = 20;

/** How strong a light group is: in stops over or under its own amount, its tint, and whether it burns at all. */
export const groupLevelSchema = z.object({
  stops: z.number().min(-MOST_LIGHT_STOPS).max(MOST_LIGHT_STOPS),
  tint: z.string().regex(/^#[0-9a-f]{6}$/i),
  on: z.boolean(),
});

export type GroupLevel = z.infer<typeof groupLevelSchema>;

export const LEVEL_AS_IT_IS: GroupLevel = { stops: 0, tint: '#ffffff', on: true };

/** Levels by light group; a group that is not named is as it is. */
export const lightMixSchema = z.record(z.uuid(), groupLevelSchema);

export type LightMix = z.infer<typeof lightMixSchema>;

/** What a light of a group is multiplied with, for each of red, green and blue (linear BT.709): a tint keeps the amount. */
export function lightFactor(level: GroupLevel | undefined): readonly [number, number, number] {
  if (!level) return [1, 1, 1];
  if (!level.on) return [0, 0, 0];
  const linear = [1, 3, 5].map((at) => linearFromSrgb(parseInt(level.tint.slice(at, at + 2), 16) / 255));
  const [r, g, b] = linear as [number, number, number];
  const luminance = luminanceOf([r, g, b]);
  const gain = luminance > 0 ? 2 ** level.stops / luminance : 0;
  return [r * gain, g * gain, b * gain];
}
