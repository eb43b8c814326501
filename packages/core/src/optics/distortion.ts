/** Radial distortion with one coefficient (Brown–Conrady, k1): r_d = r(1 + k1·r²) on normalised coordinates x = X/Z. */
const NEWTON_STEPS = 12;

/** Coefficients this small move nothing by a thousandth of a pixel. */
const NO_DISTORTION = 1e-9;

/**
 * Strongest barrel that one coefficient gives, per cent of the corner's distance: beyond 4/27 no point of the world comes to lie
 * in the corner (there the fold r = √(−1/3k1) is reached). A little is left, so that the corner is drawn.
 */
export const STRONGEST_BARREL_PERCENT = -14.5;

/**
 * Coefficient k1 that moves the corner of the film back outward by `percent` of its distance from the axis (inward when
 * negative: barrel). `cornerR` is that distance over the focal length.
 */
export function distortionK1(percent: number, cornerR: number): number {
  return cornerR > 0 ? percent / 100 / (cornerR * cornerR) : 0;
}

/** Square of the distance, in normalised coordinates, beyond which a barrel folds back: nothing there is seen. */
export function foldSquared(k1: number): number {
  return k1 < -NO_DISTORTION ? -1 / (3 * k1) : Infinity;
}

/** What normalised coordinates are multiplied with by distortion. */
export function distortionFactor(k1: number, x: number, y: number): number {
  return 1 + k1 * (x * x + y * y);
}

/**
 * What distorted coordinates are multiplied with to undo distortion: Newton's method on r(1 + k1·r²) = r_d.
 * Beyond the fold of a strong barrel, where no point of the world is seen, the fold itself is given.
 */
export function undistortionFactor(k1: number, x: number, y: number): number {
  if (Math.abs(k1) < NO_DISTORTION) return 1;
  const distorted = Math.hypot(x, y);
  if (distorted === 0) return 1;
  const fold = k1 < 0 ? Math.sqrt(-1 / (3 * k1)) : Infinity;
  if (k1 < 0 && distorted >= fold * (1 + k1 * fold * fold)) return fold / distorted;
  let r = Math.min(distorted, fold * 0.999);
  for (let step = 0; step < NEWTON_STEPS; step++) {
    const error = r * (1 + k1 * r * r) - distorted;
    if (Math.abs(error) < 1e-14) break;
    r -= error / (1 + 3 * k1 * r * r);
  }
  return r / distorted;
}
