import { luminanceOf } from './luminance';

/** Range of the approximation, kelvin. */
const COOLEST_K = 1667;

const HOTTEST_K = 25_000;

/**
 * Linear BT.709 colour of a black body at `kelvin`, scaled to luminance 1 and kept inside the gamut.
 * Chromaticity after Kim et al. (US 7024034, 2006), 1667 K to 25 000 K; temperatures beyond are taken as the nearest.
 * 6504 K comes close to white (0.99 … 1.04 in each part).
 */
export function blackBodyColour(kelvin: number): [number, number, number] {
  const t = Math.min(HOTTEST_K, Math.max(COOLEST_K, kelvin));
  const x =
    t <= 4000
      ? -0.2661239e9 / t ** 3 - 0.2343589e6 / t ** 2 + 0.8776956e3 / t + 0.17991
      : -3.0258469e9 / t ** 3 + 2.1070379e6 / t ** 2 + 0.2226347e3 / t + 0.24039;
  const y = chromaticityY(t, x);
  const X = x / y;
  const Z = (1 - x - y) / y;
  // XYZ to linear BT.709, luminance 1 (IEC 61966-2-1).
  const rgb = [
    3.2404542 * X - 1.5371385 - 0.4985314 * Z,
    -0.969266 * X + 1.8760108 + 0.041556 * Z,
    0.0556434 * X - 0.2040259 + 1.0572252 * Z,
  ].map((part) => Math.max(0, part)) as [number, number, number];
  const luminance = luminanceOf(rgb);
  return rgb.map((part) => part / luminance) as [number, number, number];
}

function chromaticityY(t: number, x: number): number {
  if (t <= 2222) return -1.1063814 * x ** 3 - 1.3481102 * x ** 2 + 2.18555832 * x - 0.20219683;
  if (t <= 4000) return -0.9549476 * x ** 3 - 1.37418593 * x ** 2 + 2.09137015 * x - 0.16748867;
  return 3.081758 * x ** 3 - 5.8733867 * x ** 2 + 3.75112997 * x - 0.37001483;
}
