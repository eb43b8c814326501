import {
  applyCdl,
  CDL_DEFAULTS,
  bentBy,
  isNeutral,
  leftOutOf,
  lightOfInput,
  LOOK_DEFAULTS,
  lookNumbers,
  luminanceOf,
  lutOfLook,
  MID_TONE,
  RESPONSES,
  responseTable,
  shownColour,
  shoulder,
  srgbFromLinear,
  throughLut,
  whiteAt,
  whiteBalance,
} from '@arvex/core';
import type { LookSettings, Lut } from '@arvex/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';

type Rgb = [number, number, number];

const shown = (light: Rgb, parts: Partial<LookSettings>) =>
  shownColour(light, lookNumbers({ ...LOOK_DEFAULTS, ...parts }));

/** Linear BT.709 of a chromaticity at luminance 1 (IEC 61966-2-1). */
function rgbOf([x, y]: readonly [number, number]): Rgb {
  const [X, Y, Z] = [x / y, 1, (1 - x - y) / y];
  return [
    3.2404542 * X - 1.5371385 * Y - 0.4985314 * Z,
    -0.969266 * X + 1.8760108 * Y + 0.041556 * Z,
    0.0556434 * X - 0.2040259 * Y + 1.0572252 * Z,
  ];
}

const through = (matrix: ReturnType<typeof whiteBalance>, [r, g, b]: Rgb): Rgb =>
  matrix.map((row) => row[0] * r + row[1] * g + row[2] * b) as Rgb;

describe('white balance', () => {
  // CIE 15:2004, tables T.3 and 11.1: chromaticities of illuminants.
  const ILLUMINANTS = [
    ['A', 2856, 0.44758, 0.40745],
    ['D50', 5003, 0.34567, 0.3585],
    ['D55', 5503, 0.33242, 0.34743],
    ['D65', 6504, 0.31272, 0.32903],
    ['D75', 7504, 0.29902, 0.31485],
  ] as const;

  it.each(ILLUMINANTS)('knows the white of %s and makes its light white', (_name, kelvin, x, y) => {
    const [foundX, foundY] = whiteAt(kelvin);
    expect(Math.hypot(foundX - x, foundY - y)).toBeLessThan(0.001);
    const white = through(whiteBalance(kelvin, 0), rgbOf([x, y]));
    for (const part of white) expect(part).toBeCloseTo(1, 1.7);
  });

  it('adapts from A to D65 as published', () => {
    // Bradford adaptation matrix from A to D65 (Lindbloom, “Chromatic Adaptation”), in XYZ: applied to the red primary of BT.709.
    const [r, g, b] = through(whiteBalance(2856, 0), [1, 0, 0]);
    const X = 0.8446965 * 0.4124564 - 0.1179225 * 0.2126729 + 0.3948108 * 0.0193339;
    const Y = -0.1366303 * 0.4124564 + 1.1041226 * 0.2126729 + 0.1291718 * 0.0193339;
    const Z = 0.0798489 * 0.4124564 - 0.1348999 * 0.2126729 + 3.1924009 * 0.0193339;
    expect(r).toBeCloseTo(3.2404542 * X - 1.5371385 * Y - 0.4985314 * Z, 2);
    expect(g).toBeCloseTo(-0.969266 * X + 1.8760108 * Y + 0.041556 * Z, 2);
    expect(b).toBeCloseTo(0.0556434 * X - 0.2040259 * Y + 1.0572252 * Z, 2);
  });

  it('warms with more kelvin, and goes to magenta with tint, at about the same luminance', () => {
    const warm = through(whiteBalance(9000, 0), [1, 1, 1]);
    expect(warm[0]).toBeGreaterThan(warm[2]);
    const magenta = through(whiteBalance(6504, 40), [1, 1, 1]);
    expect(magenta[1]).toBeLessThan(Math.min(magenta[0], magenta[2]));
    expect(luminanceOf(magenta)).toBeCloseTo(1, 1);
  });
});

describe('a colour decision', () => {
  it('follows its published formula', () => {
    const colour: Rgb = [0.5, 0.25, 0.1];
    applyCdl(colour, { slope: [1.2, 1, 0.9], offset: [0.05, -0.3, 0], power: [0.8, 1, 1.5], saturation: 0.6 });
    const [r, g, b] = [(0.5 * 1.2 + 0.05) ** 0.8, 0, (0.1 * 0.9) ** 1.5];
    const grey = 0.2126 * r + 0.7152 * g + 0.0722 * b;
    expect(colour[0]).toBeCloseTo(grey + 0.6 * (r - grey), 12);
    expect(colour[1]).toBeCloseTo(grey + 0.6 * (g - grey), 12);
    expect(colour[2]).toBeCloseTo(grey + 0.6 * (b - grey), 12);
  });
});

describe('the way of light', () => {
  const light = fc.tuple(
    ...([0, 1, 2].map(() => fc.double({ min: 0, max: 40, noNaN: true })) as never[]),
  ) as fc.Arbitrary<Rgb>;

  it('is the shoulder and the display alone without a look', () => {
    fc.assert(
      fc.property(light, ([r, g, b]) => {
        const bent = shoulder(r, g, b, [0, 0, 0]);
        shown([r, g, b], {}).forEach((value, i) => expect(value).toBeCloseTo(srgbFromLinear(bent[i] ?? 0), 6));
      }),
    );
  });

  it('doubles light with a stop, leaves the pivot to contrast, and lifts only what is darker', () => {
    expect(shown([0.1, 0.2, 0.05], { compensationStops: 1 })[1]).toBeCloseTo(shown([0.2, 0.4, 0.1], {})[1], 6);
    const tone = { contrast: 1.7, pivot: 0.104, shadows: 0 };
    expect(shown([0.104, 0.104, 0.104], { tone })[0]).toBeCloseTo(srgbFromLinear(0.104), 6);
    // A stop under the pivot is 1.7 stops under it.
    expect(shown([0.052, 0.052, 0.052], { tone })[0]).toBeCloseTo(srgbFromLinear(0.104 * 2 ** -1.7), 6);
    const lifted = { contrast: 1, pivot: 0.104, shadows: 1 };
    expect(shown([0, 0, 0], { tone: lifted })[0]).toBeCloseTo(srgbFromLinear(0.104 * 0.3), 6);
    expect(shown([0.2, 0.2, 0.2], { tone: lifted })[0]).toBeCloseTo(srgbFromLinear(0.2), 6);
  });

  it('makes black and white by weights of which the sum does not count', () => {
    const response = { ...LOOK_DEFAULTS.response, grey: [2, 0, 0] as const };
    const [r, g, b] = shown([0.3, 0.9, 0.1], { response });
    expect([g, b]).toEqual([r, r]);
    expect(r).toBeCloseTo(srgbFromLinear(0.3), 6);
  });

  it('stays between black and white whatever a look says', () => {
    const share = fc.double({ min: 0, max: 1, noNaN: true });
    const look = fc.record({
      compensationStops: fc.double({ min: -10, max: 10, noNaN: true }),
      white: fc.record({ kelvin: fc.integer({ min: 1700, max: 25000 }), tint: fc.integer({ min: -100, max: 100 }) }),
      tone: fc.record({
        contrast: fc.double({ min: 0.2, max: 4, noNaN: true }),
        pivot: fc.constant(0.104),
        shadows: share,
      }),
      response: fc.constantFrom(...RESPONSES),
    });
    fc.assert(
      fc.property(light, look, (rgb, parts) => {
        for (const value of shown(rgb, parts)) expect(value >= 0 && value <= 1).toBe(true);
      }),
    );
  });
});

describe('response curves', () => {
  it('go through their points and never overshoot', () => {
    for (const { all } of RESPONSES) {
      const curve = bentBy(all);
      for (const { x, y } of all) expect(curve(x)).toBeCloseTo(y, 9);
      for (let i = 1; i < all.length; i++) {
        const [from, to] = [all[i - 1]!, all[i]!];
        for (let t = 0; t <= 1; t += 0.05) {
          const value = curve(from.x + (to.x - from.x) * t);
          expect(value).toBeGreaterThanOrEqual(Math.min(from.y, to.y) - 1e-9);
          expect(value).toBeLessThanOrEqual(Math.max(from.y, to.y) + 1e-9);
        }
      }
    }
    expect(RESPONSES.length).toBeGreaterThanOrEqual(10);
    expect(responseTable(RESPONSES[0]!)).toBeUndefined();
  });
});

describe('tables of colours', () => {
  it('give back what is even in them, also between their points', () => {
    const size = 4;
    const values = new Float32Array(size ** 3 * 3);
    for (let b = 0, at = 0; b < size; b++)
      for (let g = 0; g < size; g++)
        for (let r = 0; r < size; r++, at += 3)
          values.set(
            [r / 3, g / 3, b / 3].map((v) => 0.1 + 0.5 * v),
            at,
          );
    const lut: Lut = { size, values, from: [0, 0, 0], to: [1, 1, 1] };
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 3, maxLength: 3 }), (rgb) => {
        const colour = [...rgb] as Rgb;
        throughLut(colour, lut);
        colour.forEach((value, i) => expect(value).toBeCloseTo(0.1 + 0.5 * (rgb[i] ?? 0), 5));
      }),
    );
  });

  const LOOKS: readonly Partial<LookSettings>[] = [
    { white: { kelvin: 4300, tint: 5 }, tone: { contrast: 1.2, pivot: 0.104, shadows: 0.2 }, response: RESPONSES[5]! },
    { compensationStops: -1, cdl: { ...CDL_DEFAULTS, saturation: 0.7 }, response: RESPONSES[6]! },
    { response: RESPONSES[10]!, tone: { contrast: 1.3, pivot: 0.104, shadows: 0 } },
  ];

  it.each([
    ['picture', 1.5],
    ['log', 5],
  ] as const)(
    'of a look are exact at their points, and near it between where colours can be shown (%s)',
    (input, most) => {
      for (const parts of LOOKS) {
        const look = { ...LOOK_DEFAULTS, ...parts };
        const lut = lutOfLook(look, input, MID_TONE);
        const apart = (at: Rgb) => {
          const light = at.map((value) => lightOfInput(value, input, MID_TONE)) as Rgb;
          const wanted = shownColour(light, lookNumbers(look));
          throughLut(at, lut);
          return Math.max(...at.map((value, k) => Math.abs(value - (wanted[k] ?? 0)) * 255));
        };
        for (let i = 0; i < 33; i++) expect(apart([i / 32, (32 - i) / 32, ((i * 7) % 33) / 32])).toBeLessThan(0.01);
        let worst = 0;
        for (let i = 0; i < 4000; i++) {
          // Colours of which no part is less than a fifth of the brightest: what is purer leaves what a display can show.
          const peak = (i * 0.618034) % 1;
          const light = lightOfInput(peak, input, MID_TONE);
          const of = (share: number) =>
            input === 'picture' ? srgbFromLinear(light * share) : peak + Math.log2(share) / 13;
          worst = Math.max(worst, apart([peak, of(0.2 + 0.8 * ((i * 0.371) % 1)), of(0.2 + 0.8 * ((i * 0.713) % 1))]));
        }
        expect(worst).toBeLessThan(most);
      }
    },
  );

  it('say what they leave out', () => {
    const look: LookSettings = { ...LOOK_DEFAULTS, compensationStops: 1, glow: { ...LOOK_DEFAULTS.glow, amount: 1 } };
    expect(leftOutOf(look, 'lut')).toEqual(['glow']);
    expect(leftOutOf(look, 'cdl')).toEqual(['compensation', 'glow']);
    expect(isNeutral(LOOK_DEFAULTS)).toBe(true);
  });
});
