import type { LookSettings } from './look';
import type { Lut } from './lut';
import { responseTable } from './response';
import { linearFromSrgb } from './srgb';
import { lookNumbers, shownColour } from './way-of-light';
import { NEUTRAL_KELVIN } from './white-balance';

/** What a table of a look is put on: a picture rendered without its look, or its light as a logarithm. */
export type LutInput = 'picture' | 'log';

/** Points along each side. */
const LUT_SIZE = 33;
/** Stops below and above the mid-tone that the logarithm reaches from 0 to 1. */
export const LOG_STOPS = { below: 8, above: 5 } as const;

/** Light, as a share of what clips, that an input of a table stands for. */
export function lightOfInput(value: number, input: LutInput, middle: number): number {
  if (input === 'picture') return linearFromSrgb(value);
  return middle * 2 ** (value * (LOG_STOPS.below + LOG_STOPS.above) - LOG_STOPS.below);
}

/**
 * A look as a table: what it shows of each of 33³ colours. Edge darkening, glow and streaks are not in it: they are not the same everywhere
 * in a picture. @param middle the mid-tone as a share of what clips, which the logarithm counts from.
 * @param through the table that the look itself goes through last.
 */
export function lutOfLook(look: LookSettings, input: LutInput, middle: number, through?: Lut): Lut {
  const values = new Float32Array(LUT_SIZE ** 3 * 3);
  const numbers = lookNumbers(look);
  const light = Array.from({ length: LUT_SIZE }, (_, i) => lightOfInput(i / (LUT_SIZE - 1), input, middle));
  let at = 0;
  for (const b of light) {
    for (const g of light) {
      for (const r of light) {
        values.set(shownColour([r, g, b], numbers, 1, through), at);
        at += 3;
      }
    }
  }
  return { size: LUT_SIZE, values, from: [0, 0, 0], to: [1, 1, 1] };
}

/** What of a look neither a colour decision nor a table can carry, in words. */
export function leftOutOf(look: LookSettings, of: 'cdl' | 'lut'): string[] {
  const { compensationStops, white, tone, response, edgeStops, glow, streaks, lut } = look;
  const colours: readonly (readonly [boolean, string])[] = [
    [compensationStops !== 0, 'compensation'],
    [white.kelvin !== NEUTRAL_KELVIN || white.tint !== 0, 'white balance'],
    [tone.contrast !== 1, 'contrast'],
    [tone.shadows !== 0, 'shadows'],
    [response.grey !== null, 'black and white'],
    [responseTable(response) !== undefined, `the response ${response.name}`],
    [lut !== null, 'the table it goes through'],
  ];
  const places: readonly (readonly [boolean, string])[] = [
    [edgeStops > 0, 'edge darkening'],
    [glow.amount > 0, 'glow'],
    [streaks.amount > 0, 'streaks'],
  ];
  return [...(of === 'cdl' ? colours : []), ...places].filter(([has]) => has).map(([, words]) => words);
}
