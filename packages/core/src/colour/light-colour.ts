import { luminanceOf } from './luminance';
import { whiteAt } from './white-balance';

/**
 * Linear BT.709 colour of light of `kelvin`, scaled to luminance 1 and kept inside the gamut: a black body up to 4000 K, daylight from
 * 5000 K on, between them from the one to the other ({@link whiteAt}). It is the white that {@link whiteBalance} of the same number
 * makes neutral; 6504 K is white within 0.1 %. Temperatures beyond 1700 K to 25 000 K are taken as the nearest.
 */
export function lightColour(kelvin: number): [number, number, number] {
  const [x, y] = whiteAt(kelvin);
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
