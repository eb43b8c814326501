import type { Iris } from '@arvex/core';

/** The radical inverse of `index` in a base: the van der Corput sequence, from 0 (included) to 1 (excluded). */
function radicalInverse(index: number, base: number): number {
  let result = 0;
  let digit = 1 / base;
  for (let rest = index; rest > 0; rest = Math.floor(rest / base)) {
    result += (rest % base) * digit;
    digit /= base;
  }
  return result;
}

/** Place of sample `index` within a pixel, −0.5 to 0.5: the Halton sequence in bases 2 and 3, the first in the middle. */
export function samplePlace(index: number): { x: number; y: number } {
  if (index === 0) return { x: 0, y: 0 };
  return { x: radicalInverse(index, 2) - 0.5, y: radicalInverse(index, 3) - 0.5 };
}

/** (√5 − 1) / 2. */
const GOLDEN = 0.6180339887498949;

/** Share of the open shutter at which sample `index` is taken: multiples of the golden ratio, evenly spread however many. */
export function shutterShare(index: number): number {
  return ((index + 0.5) * GOLDEN) % 1;
}

/** Distance from the middle of a unit iris to its edge at an angle: a polygon with edges as round as they are. */
export function irisRadius({ blades, roundness, rotationDeg }: Iris, angle: number): number {
  if (blades < 3) return 1;
  const sector = (2 * Math.PI) / blades;
  const within = (((angle - (rotationDeg * Math.PI) / 180) % sector) + sector) % sector;
  const straight = Math.cos(sector / 2) / Math.cos(within - sector / 2);
  return straight + (1 - straight) * roundness;
}

const points = new Map<string, { x: number; y: number }[]>();

const tried = new Map<string, number>();

/**
 * Point of sample `index` on an opening of radius 1, evenly spread: Halton points in bases 5 and 7 on the square, those
 * outside the iris left out. The same everywhere, and for any number of samples.
 */
export function irisPoint(iris: Iris, index: number): { x: number; y: number } {
  const key = `${iris.blades} ${iris.roundness} ${iris.rotationDeg}`;
  const found = points.get(key) ?? [];
  points.set(key, found);
  let next = tried.get(key) ?? 1;
  while (found.length <= index) {
    const [x, y] = [2 * radicalInverse(next, 5) - 1, 2 * radicalInverse(next, 7) - 1];
    next += 1;
    if (Math.hypot(x, y) <= irisRadius(iris, Math.atan2(y, x))) found.push({ x, y });
  }
  tried.set(key, next);
  return found[index] as { x: number; y: number };
}
