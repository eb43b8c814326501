import { luminanceOf } from '@arvex/core';
import { Color } from 'three';

/** A colour (`#rrggbb`, sRGB) made so bright that its luminance is 1; black stays black. */
export function colourOfLuminanceOne(hex: string): Color {
  const colour = new Color(hex);
  const luminance = luminanceOf([colour.r, colour.g, colour.b]);
  return luminance > 0 ? colour.multiplyScalar(1 / luminance) : colour;
}
