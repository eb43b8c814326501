import type { ColourMatrix } from './colour-matrix';
import { product } from './colour-matrix';

/** Kelvin of light that needs no balance: D65, the white of the display. */
export const NEUTRAL_KELVIN = 6504;
export const KELVIN_RANGE = { min: 1700, max: 25_000 } as const;
/** Tint goes so far to either side. */
export const MOST_TINT = 100;

/** Distance from the locus of whites in CIE 1960 uv at the end of the tint, far enough for the greenest tubes. */
const MOST_DUV = 0.04;
/** Black bodies below, daylight above; between them the one goes over into the other, kelvin. */
const [LAST_BODY_K, FIRST_DAYLIGHT_K] = [4000, 5000];
/** Over so many kelvin the direction of the locus is measured. */
const LOCUS_STEP_K = 1;

/** CIE 1931 chromaticity. */
type Chromaticity = readonly [x: number, y: number];

/** Linear BT.709 to XYZ, and back (IEC 61966-2-1; white is D65). */
const XYZ_OF_RGB: ColourMatrix = [
  [0.4124564, 0.3575761, 0.1804375],
  [0.2126729, 0.7151522, 0.072175],
  [0.0193339, 0.119192, 0.9503041],
];
const RGB_OF_XYZ: ColourMatrix = [
  [3.2404542, -1.5371385, -0.4985314],
  [-0.969266, 1.8760108, 0.041556],
  [0.0556434, -0.2040259, 1.0572252],
];
/** The Bradford transform to sharpened cones, and back (Lam 1985; ICC.1:2010, annex E). */
const CONES_OF_XYZ: ColourMatrix = [
  [0.8951, 0.2664, -0.1614],
  [-0.7502, 1.7135, 0.0367],
  [0.0389, -0.0685, 1.0296],
];
const XYZ_OF_CONES: ColourMatrix = [
  [0.9869929, -0.1470543, 0.1599627],
  [0.4323053, 0.5183603, 0.0492912],
  [-0.0085287, 0.0400428, 0.9684867],
];

/**
 * What linear BT.709 is multiplied with so that light of `kelvin` comes out white: chromatic adaptation by the Bradford transform. With
 * 6504 K and no tint nothing changes; a higher number makes the picture warmer. @param tint −100 to 100: above nought the light is taken to
 * be greenish, and the picture goes toward magenta.
 */
export function whiteBalance(kelvin: number, tint: number): ColourMatrix {
  if (kelvin === NEUTRAL_KELVIN && tint === 0) return SAME;
  const from = conesOf(whiteAt(kelvin, tint));
  const to = conesOf(whiteAt(NEUTRAL_KELVIN, 0));
  const [l, m, s] = [0, 1, 2].map((i) => (to[i] ?? 1) / (from[i] ?? 1)) as [number, number, number];
  const scaled: ColourMatrix = [
    [l, 0, 0],
    [0, m, 0],
    [0, 0, s],
  ];
  return [XYZ_OF_CONES, scaled, CONES_OF_XYZ, XYZ_OF_RGB].reduce(product, RGB_OF_XYZ);
}

const SAME: ColourMatrix = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];

/** Chromaticity of white light: of a black body, or daylight, and beside it by its tint (see {@link whiteBalance}). */
export function whiteAt(kelvin: number, tint = 0): Chromaticity {
  const t = Math.min(KELVIN_RANGE.max, Math.max(KELVIN_RANGE.min, kelvin));
  const here = onLocus(t);
  if (tint === 0) return here;
  const [u, v] = uvOf(here);
  const [uOn, vOn] = uvOf(onLocus(t + LOCUS_STEP_K));
  const [du, dv] = [uOn - u, vOn - v];
  const away = (tint / MOST_TINT) * MOST_DUV;
  const length = Math.hypot(du, dv);
  // The locus goes to lower u and v as it gets hotter; green lies at lower u and higher v.
  return xyOf([u + (dv / length) * away, v - (du / length) * away]);
}

function onLocus(kelvin: number): Chromaticity {
  if (kelvin <= LAST_BODY_K) return blackBodyWhite(kelvin);
  if (kelvin >= FIRST_DAYLIGHT_K) return daylightWhite(kelvin);
  const share = (kelvin - LAST_BODY_K) / (FIRST_DAYLIGHT_K - LAST_BODY_K);
  const [cold, hot] = [blackBodyWhite(kelvin), daylightWhite(kelvin)];
  return [cold[0] + (hot[0] - cold[0]) * share, cold[1] + (hot[1] - cold[1]) * share];
}

/** Daylight of a colour temperature, 4000 K to 25 000 K (CIE 15:2004, 3.1). */
function daylightWhite(kelvin: number): Chromaticity {
  const t = kelvin;
  const x =
    t <= 7000
      ? -4.607e9 / t ** 3 + 2.9678e6 / t ** 2 + 0.09911e3 / t + 0.244063
      : -2.0064e9 / t ** 3 + 1.9018e6 / t ** 2 + 0.24748e3 / t + 0.23704;
  return [x, -3 * x * x + 2.87 * x - 0.275];
}

/** A black body, 1667 K to 4000 K (Kim et al., US 7024034). */
function blackBodyWhite(kelvin: number): Chromaticity {
  const x = -0.2661239e9 / kelvin ** 3 - 0.2343589e6 / kelvin ** 2 + 0.8776956e3 / kelvin + 0.17991;
  const [a, b, c, d] = kelvin <= 2222 ? BODY_BELOW_2222 : BODY_TO_4000;
  return [x, a * x ** 3 + b * x ** 2 + c * x + d];
}

const BODY_BELOW_2222 = [-1.1063814, -1.3481102, 2.18555832, -0.20219683] as const;
const BODY_TO_4000 = [-0.9549476, -1.37418593, 2.09137015, -0.16748867] as const;

/** CIE 1960 UCS. */
function uvOf([x, y]: Chromaticity): readonly [number, number] {
  const under = -2 * x + 12 * y + 3;
  return [(4 * x) / under, (6 * y) / under];
}

function xyOf([u, v]: readonly [number, number]): Chromaticity {
  const under = 2 * u - 8 * v + 4;
  return [(3 * u) / under, (2 * v) / under];
}

function conesOf([x, y]: Chromaticity): readonly number[] {
  const xyz = [x / y, 1, (1 - x - y) / y];
  return CONES_OF_XYZ.map((row) => row[0] * (xyz[0] ?? 0) + row[1] * (xyz[1] ?? 0) + row[2] * (xyz[2] ?? 0));
}
