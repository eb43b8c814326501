/** How much linear red, green and blue count for luminance: ITU-R BT.709-6, item 3.2 (primaries of sRGB). They add up to 1. */
export const LUMINANCE_WEIGHTS = [0.2126, 0.7152, 0.0722] as const;

/** Luminance of linear red, green and blue, in their unit: 1, 1, 1 has 1. */
export function luminanceOf([red, green, blue]: readonly [number, number, number]): number {
  return LUMINANCE_WEIGHTS[0] * red + LUMINANCE_WEIGHTS[1] * green + LUMINANCE_WEIGHTS[2] * blue;
}
