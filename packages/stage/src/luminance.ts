import { Color } from 'three';

/** Relative luminance of linear BT.709 (ITU-R BT.709-6, 3). */
export const LUMINANCE_WEIGHTS = [0.2126, 0.7152, 0.0722] as const;

/** A colour (`#rrggbb`, sRGB) made so bright that its luminance is 1; black stays black. */
export function colourOfLuminanceOne(hex: string): Color {
  const colour = new Color(hex);
  const [r, g, b] = LUMINANCE_WEIGHTS;
  const luminance = colour.r * r + colour.g * g + colour.b * b;
  return luminance > 0 ? colour.multiplyScalar(1 / luminance) : colour;
}
