/** How much linear red, green and blue count for luminance: ITU-R BT.709-6, item 3.2 (primaries of sRGB). They add up to 1. */
export const LUMINANCE_WEIGHTS = [0.2126, 0.7152, 0.0722] as const;

/** Luminance of linear red, green and blue, in their unit: 1, 1, 1 has 1. */
export function luminanceOf([red, green, blue]: readonly [number, number, number]): number {
  return LUMINANCE_WEIGHTS[0] * red + LUMINANCE_WEIGHTS[1] * green + LUMINANCE_WEIGHTS[2] * blue;
}

/** What blue and red less luma are divided by (ITU-R BT.709-6, item 3.3). */
const [CB_DIVISOR, CR_DIVISOR] = [1.8556, 1.5748] as const;

/** How much bluer, and how much redder than grey a colour is shown, each −1/2 to 1/2: Cb and Cr of ITU-R BT.709-6. @param rgb as shown, 0 to 1. */
export function chromaOf(rgb: readonly [number, number, number]): readonly [bluer: number, redder: number] {
  const luma = luminanceOf(rgb);
  return [(rgb[2] - luma) / CB_DIVISOR, (rgb[0] - luma) / CR_DIVISOR];
}
