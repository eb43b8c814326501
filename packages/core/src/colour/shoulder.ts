/** Picture values stay true up to this share of the clipping level; above it they bend toward white. */
export const SHOULDER_START = 0.8;

/** How quickly colours beyond the clipping level lose their saturation. */
export const FADE_TO_WHITE = 0.15;

/**
 * The response of the picture to light as a share of what clips: linear below the shoulder, so that the meter's mid-tone lands where it
 * should; above it the highlights of Khronos PBR Neutral (2024), which keep their hue. Written into `into`, which is given back.
 */
export function shoulder(r: number, g: number, b: number, into: [number, number, number]): [number, number, number] {
  const peak = Math.max(r, g, b);
  into[0] = r;
  into[1] = g;
  into[2] = b;
  if (peak < SHOULDER_START) return into;
  const room = 1 - SHOULDER_START;
  const bent = 1 - (room * room) / (peak + room - SHOULDER_START);
  const fade = 1 - 1 / (FADE_TO_WHITE * (peak - bent) + 1);
  for (let i = 0; i < 3; i++) into[i] = ((into[i] ?? 0) * bent * (1 - fade)) / peak + bent * fade;
  return into;
}
