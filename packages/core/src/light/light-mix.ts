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

/** A tint with only a share of its colour, from 0 (white) to 1 (the tint itself), mixed as displays have colours (sRGB). */
export function tintShare(tint: string, share: number): string {
  const part = (at: number) => {
    const byte = Math.round(255 + (parseInt(tint.slice(at, at + 2), 16) - 255) * share);
    return byte.toString(16).padStart(2, '0');
  };
  return `#${[1, 3, 5].map(part).join('')}`;
}

/** Levels by light group; a group that is not named is as it is. */
export const lightMixSchema = z.record(z.uuid(), groupLevelSchema);

export type LightMix = z.infer<typeof lightMixSchema>;

/** Stands in a mix for what belongs to no group. It is in no mix that is kept: only in one that shows a group alone. */
export const NO_GROUP = '';

/** A mix in which one group burns alone, whether it burns in the mix itself or not. */
export function soloed(mix: LightMix, groupIds: readonly string[], groupId: string): LightMix {
  const level = (id: string) => ({ ...(mix[id] ?? LEVEL_AS_IT_IS), on: id === groupId });
  return Object.fromEntries([...groupIds, NO_GROUP].map((id) => [id, level(id)]));
}

/** A mix in which one group does not burn. */
export function withoutGroup(mix: LightMix, groupId: string): LightMix {
  return { ...mix, [groupId]: { ...(mix[groupId] ?? LEVEL_AS_IT_IS), on: false } };
}

/**
 * Stops over or under its own amount at which a group brings a place to a luminance, all else staying as it is.
 * @param wanted cd/m² there. @param rest of all other light. @param own of the group at its own amount.
 * @returns nothing where all other light alone is as bright, or the group does not reach the place.
 */
export function stopsToReach(wanted: number, rest: number, own: number): number | undefined {
  if (!(wanted > rest) || !(own > 0)) return undefined;
  return Math.max(-MOST_LIGHT_STOPS, Math.min(MOST_LIGHT_STOPS, Math.log2((wanted - rest) / own)));
}

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

/** What each light group of a project was multiplied with, by its name: files of groups are at their full level and add up with these. */
export function lightFactorsByName(
  { lightGroups }: { readonly lightGroups: Readonly<Record<string, { readonly id: string; readonly name: string }>> },
  mix: LightMix,
): Record<string, readonly [number, number, number]> {
  return Object.fromEntries(Object.values(lightGroups).map(({ id, name }) => [name, lightFactor(mix[id])]));
}
