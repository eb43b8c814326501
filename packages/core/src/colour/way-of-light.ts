import { applyCdl } from './cdl';
import type { ColourMatrix } from './colour-matrix';
import type { LookSettings } from './look';
import { LOOK_DEFAULTS } from './look';
import type { Lut } from './lut';
import { throughLut } from './lut';
import type { ResponseTable } from './response';
import { responseTable, throughTable } from './response';
import { shoulder } from './shoulder';
import { linearFromSrgb, srgbFromLinear } from './srgb';
import { whiteBalance } from './white-balance';

/** How far shadows are lifted or sunk at black, as a share of the pivot. */
const SHADOW_REACH = 0.3;

/** A look as numbers that a pixel goes through: the same for the core, and as what the graphics are given. */
export interface LookNumbers {
  /** Compensation and white balance in one: rows for red, green and blue. */
  readonly matrix: ColourMatrix;
  readonly cdl: LookSettings['cdl'];
  readonly contrast: number;
  readonly pivot: number;
  /** What is added at black. */
  readonly lift: number;
  /** How much red, green and blue count in black and white, of 1 in all; nothing in colour. */
  readonly grey: readonly [number, number, number] | undefined;
  readonly table: ResponseTable | undefined;
  readonly edgeStops: number;
  readonly lutShare: number;
}

const known = new WeakMap<LookSettings, LookNumbers>();

export function lookNumbers(look: LookSettings): LookNumbers {
  let numbers = known.get(look);
  if (!numbers) {
    numbers = made(look);
    known.set(look, numbers);
  }
  return numbers;
}

function made({ compensationStops, white, cdl, tone, response, edgeStops, lut }: LookSettings): LookNumbers {
  const gain = 2 ** compensationStops;
  const balance = whiteBalance(white.kelvin, white.tint);
  const [r, g, b] = response.grey ?? [0, 0, 0];
  // Weights that come to nothing or less would show nothing but black.
  const sum = Math.max(LEAST_GREY, r + g + b);
  return {
    matrix: balance.map((row) => row.map((part) => part * gain)) as unknown as ColourMatrix,
    cdl,
    contrast: tone.contrast,
    pivot: tone.pivot,
    lift: tone.shadows * tone.pivot * SHADOW_REACH,
    grey: response.grey ? [r / sum, g / sum, b / sum] : undefined,
    table: responseTable(response),
    edgeStops,
    lutShare: lut?.share ?? 0,
  };
}

const LEAST_GREY = 0.05;

/** Whether a look leaves every colour as it is, but for glow and streaks. */
export function isNeutral(look: LookSettings): boolean {
  const { compensationStops, white, cdl, tone, response, edgeStops, lut } = look;
  const { slope, offset, power, saturation } = cdl;
  const neutral = LOOK_DEFAULTS.white;
  return (
    compensationStops === 0 &&
    white.kelvin === neutral.kelvin &&
    white.tint === neutral.tint &&
    saturation === 1 &&
    [...slope, ...power].every((part) => part === 1) &&
    offset.every((part) => part === 0) &&
    tone.contrast === 1 &&
    tone.shadows === 0 &&
    response.grey === null &&
    responseTable(response) === undefined &&
    edgeStops === 0 &&
    (lut === null || lut.share === 0)
  );
}

/**
 * The way of light, from light as a share of what the camera's exposure clips (linear BT.709) to the picture (sRGB, 0 to 1):
 *
 *     compensation → white balance → slope, offset, power, saturation → contrast about the pivot → shadows
 *       → black and white → shoulder → response curve → edge darkening → display (sRGB) → 3D table
 *
 * Glow and streaks are added to the light before it begins; the lens darkens its edges there too. The graphics do the same, step by step
 * (`stage/passes/look-steps.ts`).
 * @param edge share of the light that the look's edge darkening leaves here, 0 to 1.
 * @param lut the table that the look names, where it is there.
 */
export function shownColour(
  light: readonly [number, number, number],
  numbers: LookNumbers,
  edge = 1,
  lut?: Lut,
): [number, number, number] {
  const { matrix, cdl, contrast, pivot, lift, grey, table, lutShare } = numbers;
  const [r, g, b] = light;
  const colour = matrix.map((row) => row[0] * r + row[1] * g + row[2] * b) as [number, number, number];
  applyCdl(colour, cdl);
  for (let i = 0 as 0 | 1 | 2; i < 3; i++) colour[i] = toned(colour[i], contrast, pivot, lift);
  if (grey) {
    const value = Math.max(0, colour[0] * grey[0] + colour[1] * grey[1] + colour[2] * grey[2]);
    colour[0] = colour[1] = colour[2] = value;
  }
  shoulder(colour[0], colour[1], colour[2], colour);
  for (let i = 0 as 0 | 1 | 2; i < 3; i++) {
    let value = srgbFromLinear(colour[i]);
    if (table) value = throughTable(table, value, i);
    if (edge < 1) value = srgbFromLinear(linearFromSrgb(value) * edge);
    colour[i] = value;
  }
  if (lut && lutShare > 0) {
    const through: [number, number, number] = [...colour];
    throughLut(through, lut);
    for (let i = 0 as 0 | 1 | 2; i < 3; i++) {
      colour[i] = Math.min(1, Math.max(0, colour[i] + (through[i] - colour[i]) * lutShare));
    }
  }
  return colour;
}

/** Contrast in stops about the pivot; then what lies below it is lifted, black by all of `lift`. Never below nought. */
function toned(value: number, contrast: number, pivot: number, lift: number): number {
  const held = Math.max(0, value);
  const bent = contrast === 1 ? held : pivot * (held / pivot) ** contrast;
  if (lift === 0 || bent >= pivot) return bent;
  const dark = 1 - bent / pivot;
  return Math.max(0, bent + lift * dark * dark);
}
