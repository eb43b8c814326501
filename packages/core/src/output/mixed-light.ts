import { srgbFromLinear, shoulder } from '../colour';
import type { LightMix } from '../light';
import { lightFactor } from '../light';

/** The light of one group alone at its full level, as a share of what clips: RGBA, rows from the top. */
export interface GroupLight {
  /** Nothing for what belongs to no group. */
  readonly lightGroupId: string | null;
  readonly pixels: Float32Array;
}

/**
 * The picture that light groups come to with a mix: their light added up, bent as the picture's response bends it unless there is no look,
 * as sRGB in 8 bits, rows from the top, three channels.
 */
export function mixedPicture(groups: readonly GroupLight[], mix: LightMix, look: boolean): Uint8Array {
  const pixels = (groups[0]?.pixels.length ?? 0) / 4;
  const out = new Uint8Array(pixels * 3);
  const parts = groups.map(({ lightGroupId, pixels: light }) => ({
    light,
    factor: lightFactor(lightGroupId === null ? undefined : mix[lightGroupId]),
  }));
  const bent: [number, number, number] = [0, 0, 0];
  for (let i = 0; i < pixels; i++) {
    let [r, g, b] = [0, 0, 0];
    for (const { light, factor } of parts) {
      r += (light[i * 4] ?? 0) * factor[0];
      g += (light[i * 4 + 1] ?? 0) * factor[1];
      b += (light[i * 4 + 2] ?? 0) * factor[2];
    }
    if (look) shoulder(r, g, b, bent);
    else [bent[0], bent[1], bent[2]] = [r, g, b];
    for (let c = 0; c < 3; c++)
      out[i * 3 + c] = Math.round(255 * srgbFromLinear(Math.min(1, Math.max(0, bent[c] ?? 0))));
  }
  return out;
}
