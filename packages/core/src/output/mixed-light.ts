import type { CameraState } from '../camera';
import { deliveredWindow, filmBackWindow } from '../camera';
import type { LookSettings, Lut } from '../colour';
import { lookNumbers, shownColour, srgbFromLinear } from '../colour';
import type { LightMix } from '../light';
import { lightFactor } from '../light';
import type { RenderOrder } from './order';

/**
 * Why the light of what an order makes cannot be mixed anew, as a sentence with the way out; nothing where it can be. What stands here is
 * said when the order is written.
 */
export function mixRefusal({ what, formats, burnIns, stereo, background }: RenderOrder): string | undefined {
  if (formats.pictures.exr === null || !formats.layers.lightGroups)
    return 'The light groups of this render were not kept apart. Order them as EXR first.';
  if (what.kind === 'cut') return 'A cut dissolves and fades. Order its shots one by one, and mix those.';
  if (burnIns?.outside) return 'Burn-ins stand in bars outside the picture. Order it without them, and mix that.';
  if (stereo?.layout === 'anaglyph')
    return 'An anaglyph has the light of two eyes in one picture. Order two files, and mix those.';
  if (background.kind === 'transparent')
    return 'A mix keeps no transparency. Order it with the sky behind it, and mix that.';
  return undefined;
}

/** The light of one group alone at its full level, as a share of what clips: RGBA, rows from the top. */
export interface GroupLight {
  /** Nothing for what belongs to no group. */
  readonly lightGroupId: string | null;
  readonly pixels: Float32Array;
}

/** How mixed light is shown: by a look, with the table it goes through, and the share of light that its edges leave at a pixel. */
export interface MixedLook {
  readonly settings: LookSettings;
  readonly lut: Lut | undefined;
  /** Stops less at the film back's corner, and where on the film plane the picture lies. */
  readonly edge: MixedEdge | undefined;
}

export interface MixedEdge {
  readonly stops: number;
  readonly cornerMm: number;
  /** Of the picture, from the lens's axis, mm. */
  readonly window: {
    readonly leftMm: number;
    readonly rightMm: number;
    readonly bottomMm: number;
    readonly topMm: number;
  };
}

/**
 * The picture that light groups come to with a mix: their light added up and shown by a look, as sRGB in 8 bits, rows from the top, three
 * channels. Without a look it is shown as it is. What glows and streaks is not in it.
 */
export function mixedPicture(
  groups: readonly GroupLight[],
  widthPx: number,
  mix: LightMix,
  look: MixedLook | undefined,
): Uint8Array {
  const pixels = (groups[0]?.pixels.length ?? 0) / 4;
  const heightPx = pixels / widthPx;
  const out = new Uint8Array(pixels * 3);
  const parts = groups.map(({ lightGroupId, pixels: light }) => ({
    light,
    factor: lightFactor(lightGroupId === null ? undefined : mix[lightGroupId]),
  }));
  const numbers = look && lookNumbers(look.settings);
  for (let i = 0; i < pixels; i++) {
    const sum: [number, number, number] = [0, 0, 0];
    for (const { light, factor } of parts) {
      for (let c = 0 as 0 | 1 | 2; c < 3; c++) sum[c] += (light[i * 4 + c] ?? 0) * factor[c];
    }
    const edge = look?.edge
      ? edgeShare(look.edge, ((i % widthPx) + 0.5) / widthPx, (Math.floor(i / widthPx) + 0.5) / heightPx)
      : 1;
    const shown = numbers ? shownColour(sum, numbers, edge, look.lut) : sum.map(srgbFromLinear);
    for (let c = 0; c < 3; c++) out[i * 3 + c] = Math.round(255 * (shown[c] ?? 0));
  }
  return out;
}

/** @param x, y shares of the picture from its top left. */
function edgeShare({ stops, cornerMm, window }: MixedEdge, x: number, y: number): number {
  const across = window.leftMm + (window.rightMm - window.leftMm) * x;
  const up = window.topMm - (window.topMm - window.bottomMm) * y;
  return 2 ** (-stops * ((across * across + up * up) / cornerMm ** 2));
}

/** Where a look darkens the edges of what a camera delivers; nothing where its lens does, or it does not. */
export function lookEdge(state: CameraState): MixedEdge | undefined {
  const { look, lens, filmBack } = state;
  if (look.edgeStops === 0 || lens.edgeStops > 0) return undefined;
  const back = filmBackWindow(state);
  const { leftMm, rightMm, bottomMm, topMm } = deliveredWindow(state);
  const [right, up] = [lens.shiftXMm * filmBack.squeeze, lens.shiftYMm];
  return {
    stops: look.edgeStops,
    cornerMm: Math.hypot(back.rightMm, back.topMm),
    window: { leftMm: leftMm + right, rightMm: rightMm + right, bottomMm: bottomMm + up, topMm: topMm + up },
  };
}
