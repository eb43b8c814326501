/** A place on a unit disc, or an area of one metre each way, evenly spread however many are taken. */
export interface LightPoint {
  readonly x: number;
  readonly y: number;
}

/** 1/g and 1/g², g the plastic number: the two-dimensional golden ratio (Roberts, "The Unreasonable Effectiveness of Quasirandom Sequences", 2018). */
const PLASTIC = [0.7548776662466927, 0.5698402909980532] as const;

/** (√5 − 1) / 2. */
const GOLDEN = 0.6180339887498949;

const share = (value: number) => value - Math.floor(value);

/** Point of sample `index` on a square from −½ to ½. */
export function areaPoint(index: number): LightPoint {
  return { x: share(0.5 + index * PLASTIC[0]) - 0.5, y: share(0.5 + index * PLASTIC[1]) - 0.5 };
}

/** Point of sample `index` on a disc of radius 1, each part of its area as likely. */
export function discPoint(index: number): LightPoint {
  const { x, y } = areaPoint(index);
  const [radius, angle] = [Math.sqrt(x + 0.5), 2 * Math.PI * (y + 0.5)];
  return { x: radius * Math.cos(angle), y: radius * Math.sin(angle) };
}

/**
 * Direction of the sky from which sample `index` takes its light, a unit vector with y up: each part of the half sphere is as likely
 * (its height is even between 0 and 1, as Archimedes found). Two after each other are as high as each other is low, on opposite
 * sides, so that an even number of them lights what lies flat with exactly the mean.
 */
export function skyDirection(index: number): readonly [number, number, number] {
  const pair = index >> 1;
  const low = share(0.5 + pair * GOLDEN) / 2;
  const height = index % 2 === 0 ? 1 - low : low;
  const angle = 2 * Math.PI * share(0.25 + pair * PLASTIC[1]) + (index % 2) * Math.PI;
  const out = Math.sqrt(1 - height * height);
  return [out * Math.cos(angle), height, out * Math.sin(angle)];
}
