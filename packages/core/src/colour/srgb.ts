/** Linear light of an sRGB value, both 0 to 1 (IEC 61966-2-1). */
export function linearFromSrgb(value: number): number {
  return value <= 0.04045 ? value / 12.92 : ((value + 0.055) / 1.055) ** 2.4;
}

/** The sRGB value of linear light, both 0 to 1; what lies beyond is black or white. The inverse of {@link linearFromSrgb}. */
export function srgbFromLinear(light: number): number {
  if (light <= 0.0031308) return 12.92 * Math.max(0, light);
  return light >= 1 ? 1 : 1.055 * light ** (1 / 2.4) - 0.055;
}
