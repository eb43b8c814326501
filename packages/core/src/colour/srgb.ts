/** Linear light of an sRGB value, both 0 to 1 (IEC 61966-2-1). */
export function linearFromSrgb(value: number): number {
  return value <= 0.04045 ? value / 12.92 : ((value + 0.055) / 1.055) ** 2.4;
}
