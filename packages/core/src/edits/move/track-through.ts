import type { Vector } from '../../space';
import { distanceBetween, pathThrough } from '../../space';

/** What a fitted track has to be: within so many metres of every place, or of so many nodes. */
export type TrackWish = { readonly withinM: number } | { readonly count: number };

/** Nodes of a smooth track, and how far it passes the places at most, metres. */
export interface FittedTrack {
  readonly nodesM: Vector[];
  readonly closed: boolean;
  readonly offM: number;
}

/** Ends nearer than this, after a way that is much longer, are one: the track closes. */
const CLOSES_M = 0.02;

/** More nodes than this nobody lays by hand: they are put where the track strays most. */
const MOST_EVEN = 12;
const MOST_NODES = 200;

/** The places of a way are looked at no finer than this, and its track in so many pieces between two nodes. */
const MOST_PLACES = 400;
const PIECES = 24;

/**
 * A smooth track through the places that a camera passes, with as few nodes as a wish wants: evenly spaced where that does, else
 * more of them where the way bends most. Half a circle of 6 m takes five nodes to 5 cm.
 * @param placesM at least one, in the order in which they are passed.
 * @param through places among them through which the track goes exactly, in that order: none but the ends where it is left out.
 */
export function trackThrough(
  placesM: readonly Vector[],
  wish: TrackWish,
  through: readonly Vector[] = [],
): FittedTrack {
  const places = thinnedPlaces(placesM, through);
  const along = distancesAlong(places);
  const length = along.at(-1) ?? 0;
  const [first, last] = [places[0] as Vector, places.at(-1) as Vector];
  const closed = length > 50 * CLOSES_M && distanceBetween(first, last) < CLOSES_M && places.length > 3;
  const least = closed ? 3 : 2;
  const fixed = through.map((place) => along[places.indexOf(place)] ?? 0).filter((at) => at > 0 && at < length);
  const at = (distances: readonly number[]) =>
    fitted(
      distances.map((distanceM) => placeAt(places, along, distanceM)),
      closed,
      places,
    );
  const even = (count: number): Spread =>
    END_PIECES.map((end) => {
      const distances = spread(length, count, closed, fixed, end);
      return { distances, track: at(distances) };
    }).reduce((best, one) => (one.track.offM < best.track.offM ? one : best));
  if ('count' in wish) return even(Math.max(least, Math.min(MOST_NODES, Math.round(wish.count)))).track;
  for (let count = least; count <= MOST_EVEN + fixed.length; count++) {
    const spaced = even(count);
    if (spaced.track.offM <= wish.withinM) return spaced.track;
    // What is nearly enough is so once its nodes are moved a little.
    const moved = spaced.track.offM < wish.withinM * NEARLY ? shifted(spaced, at, fixed) : spaced.track;
    if (moved.offM <= wish.withinM) return moved;
  }
  return bent(places, closed, wish.withinM, through);
}

/** Nodes at distances along a way, and the track that they make. */
interface Spread {
  readonly distances: readonly number[];
  readonly track: FittedTrack;
}

/** How much farther off than wished a track may be for moving its nodes to be worth while. */
const NEARLY = 1.8;

/** Shares of the way to the next node by which one is moved, from coarse to fine. */
const SHIFTS = [0.12, -0.12, 0.05, -0.05] as const;

/** The track once each node that is not fixed was moved along the way as long as that brings it nearer. */
function shifted(
  { distances: given, track: first }: Spread,
  at: (distances: readonly number[]) => FittedTrack,
  fixed: readonly number[],
): FittedTrack {
  let [distances, best] = [given, first];
  for (const share of [...SHIFTS, ...SHIFTS]) {
    for (let i = 1; i < distances.length - 1; i++) {
      const [before, here, after] = [distances[i - 1] ?? 0, distances[i] ?? 0, distances[i + 1] ?? 0];
      if (fixed.includes(here)) continue;
      const to = here + share * (share > 0 ? after - here : here - before);
      const next = distances.map((one, k) => (k === i ? to : one));
      const track = at(next);
      if (track.offM < best.offM) [distances, best] = [next, track];
    }
  }
  return best;
}

/** Lengths of the first and last piece of a track that are tried, beside its other pieces. */
const END_PIECES = [1, 0.75, 0.6, 0.5, 0.4, 0.3];

/** Distances of so many nodes along a way: at those that are fixed, and between them as evenly as it comes. */
function spread(length: number, count: number, closed: boolean, fixed: readonly number[], end: number): number[] {
  const stops = [0, ...[...fixed].sort((a, b) => a - b), length];
  const pieces = closed ? count : count - 1;
  const parts = stops.slice(1).map((to, i) => Math.max(1, Math.round((pieces * (to - (stops[i] ?? 0))) / length)));
  const nodes = parts.flatMap((many, i) => {
    const [from, to] = [stops[i] ?? 0, stops[i + 1] ?? length];
    // The first and the last piece of the way are shorter by so much: a smooth line bends least well at its ends.
    const [first, last] = [i === 0 && !closed ? end : 1, i === parts.length - 1 && !closed ? end : 1];
    const whole = many < 3 ? many : many - 2 + first + last;
    const at = (k: number) => (many < 3 ? k : k === 0 ? 0 : k - 1 + first);
    return Array.from({ length: many }, (_, k) => from + ((to - from) * at(k)) / whole);
  });
  return closed ? nodes : [...nodes, length];
}

/** Nodes put one after another where the track strays most. */
function bent(places: readonly Vector[], closed: boolean, withinM: number, through: readonly Vector[]): FittedTrack {
  const third = Math.floor(places.length / 3);
  const fixed = through.map((place) => places.indexOf(place)).filter((i) => i >= 0);
  const chosen = new Set(closed ? [0, third, 2 * third, ...fixed] : [0, places.length - 1, ...fixed]);
  for (;;) {
    const indices = [...chosen].sort((a, b) => a - b);
    const track = fitted(
      indices.map((i) => places[i] as Vector),
      closed,
      places,
    );
    if (track.offM <= withinM || chosen.size >= MOST_NODES || chosen.size >= places.length - 1) return track;
    chosen.add(track.worst);
  }
}

function fitted(
  nodesM: Vector[],
  closed: boolean,
  places: readonly Vector[],
): FittedTrack & { readonly worst: number } {
  const path = pathThrough(nodesM, closed);
  const pieces = Math.max(PIECES, nodesM.length * PIECES);
  const line = Array.from({ length: pieces + 1 }, (_, i) => path.pointAt((path.lengthM * i) / pieces));
  let [offM, worst, from] = [0, 0, 0];
  places.forEach((place, i) => {
    // The track is passed in the order of the places: what is nearest lies on from where the last one was.
    let [best, at] = [Infinity, from];
    for (let k = Math.max(0, from - PIECES); k < Math.min(pieces, from + 3 * PIECES); k++) {
      const away = fromSegment(place, line[k] as Vector, line[k + 1] as Vector);
      if (away < best) [best, at] = [away, k];
    }
    from = at;
    if (best > offM) [offM, worst] = [best, i];
  });
  return { nodesM, closed, offM, worst };
}

function fromSegment(point: Vector, a: Vector, b: Vector): number {
  const [ax, ay, az] = a;
  const [bx, by, bz] = [b[0] - ax, b[1] - ay, b[2] - az];
  const [px, py, pz] = [point[0] - ax, point[1] - ay, point[2] - az];
  const square = bx * bx + by * by + bz * bz;
  const share = square > 0 ? Math.max(0, Math.min(1, (px * bx + py * by + pz * bz) / square)) : 0;
  return Math.hypot(px - bx * share, py - by * share, pz - bz * share);
}

/** Places that lie apart, not more than are worth looking at; those that are to be passed stay. */
function thinnedPlaces(placesM: readonly Vector[], through: readonly Vector[]): Vector[] {
  const step = Math.max(1, Math.ceil(placesM.length / MOST_PLACES));
  const passed = new Set(through);
  const some = placesM.filter((place, i) => i % step === 0 || i === placesM.length - 1 || passed.has(place));
  return some.filter((place, i) => {
    const before = some[i - 1];
    const after = some[i + 1];
    if (passed.has(place)) return true;
    // One that is passed goes before its neighbours.
    if (after && passed.has(after) && distanceBetween(place, after) < SAME_M) return false;
    return !before || distanceBetween(place, before) > SAME_M;
  });
}

/** Closer places are one, metres. */
const SAME_M = 1e-4;

function distancesAlong(places: readonly Vector[]): number[] {
  let sum = 0;
  return places.map((place, i) => (sum += i === 0 ? 0 : distanceBetween(place, places[i - 1] as Vector)));
}

/** The place after a distance along them. */
function placeAt(places: readonly Vector[], along: readonly number[], distanceM: number): Vector {
  const next = along.findIndex((at) => at >= distanceM - 1e-9);
  if (next <= 0) return places[next < 0 ? places.length - 1 : 0] as Vector;
  const [from, to] = [places[next - 1] as Vector, places[next] as Vector];
  const [start, end] = [along[next - 1] ?? 0, along[next] ?? 0];
  const share = end > start ? (distanceM - start) / (end - start) : 0;
  return [0, 1, 2].map(
    (axis) => (from[axis] ?? 0) + ((to[axis] ?? 0) - (from[axis] ?? 0)) * share,
  ) as unknown as Vector;
}
