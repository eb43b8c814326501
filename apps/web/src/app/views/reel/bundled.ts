import type { Shot } from '@arvex/core';

/** A shot where it stands in the cut. */
export interface PlacedShot {
  readonly shot: Shot;
  readonly startFrame: number;
  readonly frameCount: number;
}

/** Narrower than this a shot can neither be read nor pressed, pixels. */
const NARROW_PX = 10;
/** Shots are put together until they are so wide. */
const BUNDLE_PX = 56;

/**
 * Puts narrow shots that follow each other together, so that a reel has no more blocks than can be told apart, however many shots there
 * are. A shot that is wide enough stands alone.
 * @param framePx width of a frame, pixels.
 */
export function bundled<T extends PlacedShot>(shots: readonly T[], framePx: number): (readonly [T, ...T[]])[] {
  const bundles: [T, ...T[]][] = [];
  let openPx = Infinity;
  for (const shot of shots) {
    const widthPx = shot.frameCount * framePx;
    const open = bundles.at(-1);
    if (open && widthPx < NARROW_PX && openPx < BUNDLE_PX) {
      open.push(shot);
      openPx += widthPx;
    } else {
      bundles.push([shot]);
      openPx = widthPx < NARROW_PX ? widthPx : Infinity;
    }
  }
  return bundles;
}
