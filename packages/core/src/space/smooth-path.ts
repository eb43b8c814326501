import { unwrappedNear } from './rotation';
import type { Vector } from './vector';
import { distanceBetween } from './vector';

/** A smooth line through nodes, travelled by distance. Lengths in metres. */
export interface SmoothPath {
  readonly lengthM: number;
  /** Distance from the start of each node. A closed path has one more entry: its length. */
  readonly nodeDistancesM: readonly number[];
  /** Point at a distance from the start; distances beyond the ends give the ends. */
  pointAt(distanceM: number): Vector;
  /** Unit vector in which the path goes on at a distance. */
  directionAt(distanceM: number): Vector;
  /**
   * Pan in degrees in which it goes on, seen from above and going on from the start's: whole turns are counted. Straight up or
   * down it is that of what came before.
   */
  headingDegAt(distanceM: number): number;
  /** By how much that has turned once a closed path is back at its start: whole turns; 0 for an open one. */
  readonly turnDeg: number;
}

/** Shape of a path between its nodes: all of it, or for each piece whether it is straight (pieces not listed bend). */
export type PathShape = 'smooth' | 'straight' | readonly boolean[];

/** Pieces of each segment whose length is integrated on its own: relative error of the arc length below 1e-8. */
const PIECES = 16;

/** Nodes and weights of Gauss–Legendre quadrature of order 5 on −1 … 1 (Abramowitz and Stegun, table 25.4). */
const GAUSS: readonly (readonly [number, number])[] = [
  [0, 0.5688888888888889],
  [-0.5384693101056831, 0.47862867049936647],
  [0.5384693101056831, 0.47862867049936647],
  [-0.906179845938664, 0.23692688505618908],
  [0.906179845938664, 0.23692688505618908],
];

const NEWTON_STEPS = 6;

/** Closer nodes than this are one. */
const SAME_M = 1e-9;

/** One segment as a cubic in u from 0 to 1: p(u) = a + b·u + c·u² + d·u³. */
interface Segment {
  /** a, b, c, d of x, then of y, then of z. */
  readonly cubic: Float64Array;
  /** Distance from the path's start at u = i / PIECES. */
  readonly distancesM: readonly number[];
}

const paths = new WeakMap<readonly Vector[], Map<string, SmoothPath>>();

/**
 * A path through nodes: centripetal Catmull–Rom (Yuksel, Schaefer and Keyser, 2011), or straight pieces, parameterised by
 * arc length; bends leave and join straight pieces in their direction. Computed once for each list of nodes. Nodes on one spot count once; a path of one spot has length 0.
 */
export function pathThrough(nodes: readonly Vector[], closed = false, shape: PathShape = 'smooth'): SmoothPath {
  const known = paths.get(nodes) ?? new Map<string, SmoothPath>();
  const key = `${typeof shape === 'string' ? shape : shape.map(Number).join('')} ${closed}`;
  const found = known.get(key);
  if (found) return found;
  const path = makePath(nodes, closed, shape);
  paths.set(nodes, known.set(key, path));
  return path;
}

function makePath(all: readonly Vector[], closed: boolean, given: PathShape): SmoothPath {
  // A node on the spot of the one before it counts once, and so does a last one on the first of a closed path.
  const stands = all.map((node, i) => i === 0 || distanceBetween(node, all[i - 1] as Vector) > SAME_M);
  let last = all.length - 1;
  while (closed && last > 0 && distanceBetween(all[last] as Vector, all[0] as Vector) <= SAME_M) stands[last--] = false;
  const own = all.flatMap((_, i) => (stands[i] ? [i] : []));
  const nodes = own.map((i) => all[i] as Vector);
  const first = nodes[0] ?? [0, 0, 0];
  const loop = closed && nodes.length > 1;
  const count = loop ? nodes.length : nodes.length - 1;
  // A piece that is straight is the one that leaves the last of the nodes on its spot.
  const shape: PathShape =
    typeof given === 'string'
      ? given
      : own.map((start, i) => given[(own[i + 1] ?? last + 1) - 1] ?? given[start] ?? false);
  const segments: Segment[] = [];
  let length = 0;
  for (let i = 0; i < count; i++) {
    const segment = segmentOf(nodes, i, loop, shape, length);
    segments.push(segment);
    length = segment.distancesM[PIECES] as number;
  }
  const place = (distanceM: number): readonly [Segment, number] | undefined => {
    const at = Math.max(0, Math.min(length, distanceM));
    const segment = segments[segmentAt(segments, at)];
    return segment && [segment, parameterAt(segment, at)];
  };
  const distances = [...segments.map((segment) => segment.distancesM[0] as number), length];
  const directionAt = (distanceM: number): Vector => {
    const found = place(distanceM);
    if (!found) return [0, 0, -1];
    const [dx, dy, dz] = derivativeOf(...found);
    const size = Math.hypot(dx, dy, dz) || 1;
    return [dx / size, dy / size, dz / size];
  };
  let known: Headings | undefined;
  const headings = () => (known ??= headingsOf(segments, directionAt, loop));
  const passed = stands.map((_, i) => stands.slice(0, i + 1).filter(Boolean).length - 1);
  const atNode = passed.map((node, i) => (i > last && closed ? length : (distances[node] ?? length)));
  return {
    lengthM: length,
    nodeDistancesM: loop ? [...atNode, length] : atNode,
    get turnDeg() {
      return headings().turnDeg;
    },
    pointAt: (distanceM) => {
      const found = place(distanceM);
      return found ? valueOf(...found) : first;
    },
    directionAt,
    headingDegAt: (distanceM) => {
      const near = headings().before(Math.max(0, Math.min(length, distanceM)));
      const [dx, , dz] = directionAt(distanceM);
      return Math.hypot(dx, dz) < LEVEL ? near : unwrappedNear((Math.atan2(dx, -dz) * 180) / Math.PI, near);
    },
  };
}

/** A direction whose level part is less than this goes straight up or down. */
const LEVEL = 1e-6;

/** By how much a loop turns, and the heading shortly before a distance. */
interface Headings {
  readonly turnDeg: number;
  before(distanceM: number): number;
}

/** Headings of a path at even places of its segments, each going on from the one before. */
function headingsOf(segments: readonly Segment[], directionAt: (distanceM: number) => Vector, loop: boolean): Headings {
  const places = segments.flatMap(({ distancesM }) => distancesM.slice(0, PIECES));
  const end = loop ? [segments.at(-1)?.distancesM[PIECES] ?? 0] : [];
  const raw = [...places, ...end].map((at) => {
    const [dx, , dz] = directionAt(at);
    return Math.hypot(dx, dz) < LEVEL ? undefined : (Math.atan2(dx, -dz) * 180) / Math.PI;
  });
  const known: number[] = [];
  for (const pan of raw) {
    const before = known.at(-1) ?? raw.find((one) => one !== undefined) ?? 0;
    known.push(pan === undefined ? before : unwrappedNear(pan, before));
  }
  const turned = loop ? (known.at(-1) ?? 0) - (known[0] ?? 0) : 0;
  return {
    turnDeg: 360 * Math.round(turned / 360),
    before: (distanceM) => {
      let [low, high] = [0, places.length - 1];
      while (low < high) {
        const middle = (low + high + 1) >>> 1;
        if ((places[middle] ?? 0) <= distanceM) low = middle;
        else high = middle - 1;
      }
      return known[low] ?? 0;
    },
  };
}

function segmentOf(nodes: readonly Vector[], i: number, loop: boolean, shape: PathShape, startM: number): Segment {
  const n = nodes.length;
  const at = (index: number) => nodes[loop ? (index + n) % n : Math.max(0, Math.min(n - 1, index))] as Vector;
  const [p1, p2] = [at(i), at(i + 1)];
  const isStraight = (piece: number): boolean => {
    if (typeof shape === 'string') return shape === 'straight';
    return (loop || (piece >= 0 && piece < n - 1)) && (shape[(piece + n) % n] ?? false);
  };
  const [straight, afterStraight, beforeStraight] = [isStraight(i), isStraight(i - 1), isStraight(i + 1)];
  const chord = distanceBetween(p1, p2);
  const cubic = new Float64Array(12);
  for (const axis of [0, 1, 2] as const) {
    const [from, to] = [p1[axis], p2[axis]];
    let [m1, m2] = straight ? [to - from, to - from] : tangents([at(i - 1), p1, p2, at(i + 2)], axis);
    if (!straight && afterStraight) m1 = (chord * (from - at(i - 1)[axis])) / distanceBetween(at(i - 1), p1);
    if (!straight && beforeStraight) m2 = (chord * (at(i + 2)[axis] - to)) / distanceBetween(p2, at(i + 2));
    cubic.set([from, m1, 3 * (to - from) - 2 * m1 - m2, 2 * (from - to) + m1 + m2], axis * 4);
  }
  const distancesM = [startM];
  const segment = { cubic, distancesM };
  for (let piece = 0; piece < PIECES; piece++) {
    distancesM.push((distancesM[piece] as number) + lengthBetween(segment, piece / PIECES, (piece + 1) / PIECES));
  }
  return segment;
}

/** Tangents at the inner two of four nodes, per unit of u, with centripetal knots (the square root of the chord). */
function tangents(points: readonly [Vector, Vector, Vector, Vector], axis: number): [number, number] {
  const [p0, p1, p2, p3] = points;
  const knot = (a: Vector, b: Vector) => Math.sqrt(distanceBetween(a, b));
  const middle = knot(p1, p2);
  // At the ends of an open path the missing node repeats the last one: its knot is taken as long as the segment's.
  const before = knot(p0, p1) || middle;
  const after = knot(p2, p3) || middle;
  const [a, b, c, d] = [p0, p1, p2, p3].map((p) => p[axis]) as [number, number, number, number];
  const m1 = (b - a) / before - (c - a) / (before + middle) + (c - b) / middle;
  const m2 = (c - b) / middle - (d - b) / (middle + after) + (d - c) / after;
  return [m1 * middle, m2 * middle];
}

function valueOf({ cubic }: Segment, u: number): Vector {
  const axis = (i: number) =>
    (cubic[i] as number) +
    u * ((cubic[i + 1] as number) + u * ((cubic[i + 2] as number) + u * (cubic[i + 3] as number)));
  return [axis(0), axis(4), axis(8)];
}

function slopeOf(cubic: Float64Array, i: number, u: number): number {
  return (cubic[i + 1] as number) + u * (2 * (cubic[i + 2] as number) + u * 3 * (cubic[i + 3] as number));
}

function derivativeOf({ cubic }: Segment, u: number): Vector {
  return [slopeOf(cubic, 0, u), slopeOf(cubic, 4, u), slopeOf(cubic, 8, u)];
}

function speedAt(cubic: Float64Array, u: number): number {
  const [x, y, z] = [slopeOf(cubic, 0, u), slopeOf(cubic, 4, u), slopeOf(cubic, 8, u)];
  return Math.sqrt(x * x + y * y + z * z);
}

function lengthBetween({ cubic }: Segment, from: number, to: number): number {
  const half = (to - from) / 2;
  let sum = 0;
  for (const [x, weight] of GAUSS) sum += weight * speedAt(cubic, from + half * (1 + x));
  return half * sum;
}

/** The last segment that starts at or before a distance. O(log segments). */
function segmentAt(segments: readonly Segment[], distanceM: number): number {
  let low = 0;
  let high = segments.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >>> 1;
    if (((segments[middle] as Segment).distancesM[0] as number) <= distanceM) low = middle;
    else high = middle - 1;
  }
  return low;
}

/** The parameter u at which a segment has come to a distance: Newton from the table's place. */
function parameterAt(segment: Segment, distanceM: number): number {
  const { distancesM } = segment;
  let piece = 0;
  while (piece < PIECES - 1 && (distancesM[piece + 1] as number) <= distanceM) piece += 1;
  const [start, end] = [distancesM[piece] as number, distancesM[piece + 1] as number];
  const from = piece / PIECES;
  let u = from + (end > start ? (distanceM - start) / (end - start) : 0) / PIECES;
  for (let step = 0; step < NEWTON_STEPS; step++) {
    const error = start + lengthBetween(segment, from, u) - distanceM;
    const speed = speedAt(segment.cubic, u);
    if (Math.abs(error) < 1e-10 || speed === 0) break;
    u = Math.max(from, Math.min(from + 1 / PIECES, u - error / speed));
  }
  return u;
}
