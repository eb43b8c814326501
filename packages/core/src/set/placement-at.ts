import { valueOnward } from '../curve';
import { CoreError } from '../error';
import type { Placement, PlacementChannel, Project, WalkPath } from '../model';
import { clipSecond, PLACEMENT_CHANNELS } from '../model';
import type { Frame, Vector } from '../space';
import { anglesToward, combined, pathThrough, rotationOf, turned, unwrappedNear } from '../space';
import { FLICKS_PER_SECOND } from '../time';

/** The part of a project that decides where its pieces are. */
export type Pieces = Pick<Project, 'placements' | 'assets'>;

/** A placement at one time, in the world. */
export interface PlacementState extends Frame {
  /** Second of its clip that shows; `undefined` when none plays. */
  readonly clipSecond: number | undefined;
}

/**
 * Where a placement is at a scene time: its own motion, carried by what it is attached to. The one function that says so.
 * A thing takes over place and turn of what it is attached to, not its size.
 * @param atFlicks scene time in flicks.
 * @throws CoreError `unknown-entity` when there is no such placement.
 */
export function placementAt(pieces: Pieces, placementId: string, atFlicks: number): PlacementState {
  const placement = pieces.placements[placementId];
  if (!placement) throw new CoreError('unknown-entity', `There is no placement ${placementId}.`, 'placementId');
  let { positionM, quaternion } = localAt(placement, atFlicks);
  let parent = placement.parentId === null ? undefined : pieces.placements[placement.parentId];
  // A circle cannot be made, but may come from elsewhere: it ends where it comes round.
  const passed = parent && new Set([placementId]);
  while (parent && passed && !passed.has(parent.id)) {
    passed.add(parent.id);
    const carrier = localAt(parent, atFlicks);
    const offset = turned(positionM, carrier.quaternion);
    positionM = [carrier.positionM[0] + offset[0], carrier.positionM[1] + offset[1], carrier.positionM[2] + offset[2]];
    quaternion = combined(carrier.quaternion, quaternion);
    parent = parent.parentId === null ? undefined : pieces.placements[parent.parentId];
  }
  return { positionM, quaternion, clipSecond: clipSecondOf(pieces, placement, atFlicks) };
}

/** Place and turn at a scene time of what a placement is attached to; the world's own where it stands alone. */
export function carrierAt(pieces: Pieces, { parentId }: Placement, atFlicks: number): Frame {
  if (parentId === null || !pieces.placements[parentId]) return { positionM: [0, 0, 0], quaternion: [0, 0, 0, 1] };
  const { positionM, quaternion } = placementAt(pieces, parentId, atFlicks);
  return { positionM, quaternion };
}

/** A placement's own place and turn at a time, within what it is attached to. */
function localAt(placement: Placement, atFlicks: number): Frame {
  const { motion, positionM, panDeg, tiltDeg, rollDeg } = placement;
  if (motion.kind === 'path') return walkFrame(placement, motion, atFlicks);
  if (motion.kind === 'still') return { positionM, quaternion: rotationOf({ panDeg, tiltDeg, rollDeg }) };
  const values = placementValuesAt(placement, atFlicks);
  return {
    positionM: [values.positionX, values.positionY, values.positionZ],
    quaternion: rotationOf({ panDeg: values.pan, tiltDeg: values.tilt, rollDeg: values.roll }),
  };
}

/** Value of every channel of a placement at a time: its keys', else its own at rest. */
export function placementValuesAt(placement: Placement, atFlicks: number): Record<PlacementChannel, number> {
  const [positionX, positionY, positionZ] = placement.positionM;
  const { panDeg: pan, tiltDeg: tilt, rollDeg: roll, motion } = placement;
  const values = { positionX, positionY, positionZ, pan, tilt, roll };
  if (motion.kind !== 'keys') return values;
  for (const channel of PLACEMENT_CHANNELS) {
    const curve = motion.curves[channel];
    if (curve) values[channel] = valueOnward(curve, motion.after?.[channel] ?? 'stay', atFlicks) ?? values[channel];
  }
  return values;
}

/** Lengths along the ground of a walk, from its start to each of its ground heights, and in all. */
interface GroundWay {
  readonly alongM: readonly number[];
  readonly lengthM: number;
}

const groundWays = new WeakMap<WalkPath, GroundWay | undefined>();

/** How long a walk is on the ground under it: uphill it is longer than from above. Nothing where no ground is known. */
function groundWayOf(walk: WalkPath): GroundWay | undefined {
  if (walk.groundM.length < 2) return undefined;
  const known = groundWays.get(walk);
  if (known) return known;
  const path = pathThrough(walk.nodesM, walk.closed);
  const count = walk.groundM.length - 1;
  const alongM = [0];
  let before = path.pointAt(0);
  for (let i = 1; i <= count; i++) {
    const here = path.pointAt((path.lengthM * i) / count);
    const rise = (walk.groundM[i] ?? 0) - (walk.groundM[i - 1] ?? 0);
    alongM.push((alongM[i - 1] ?? 0) + Math.hypot(here[0] - before[0], rise, here[2] - before[2]));
    before = here;
  }
  const way = { alongM, lengthM: alongM[count] ?? 0 };
  groundWays.set(walk, way);
  return way;
}

/** Length of a walk as it is walked, metres. */
function walkLengthM(walk: WalkPath): number {
  return groundWayOf(walk)?.lengthM ?? pathThrough(walk.nodesM, walk.closed).lengthM;
}

/** Metres that are walked by a time, as if the walk had no end. */
function gaitM({ speedMps, startFlicks }: WalkPath, atFlicks: number): number {
  return (speedMps * Math.max(0, atFlicks - startFlicks)) / FLICKS_PER_SECOND;
}

/**
 * How far along its path a walk has come at a time, metres from its start; on a closed path it goes round and round. Its speed is
 * that over the ground: uphill it gets along more slowly.
 */
export function walkedM(walk: WalkPath, atFlicks: number): number {
  const { lengthM } = pathThrough(walk.nodesM, walk.closed);
  const whole = walkLengthM(walk);
  const gone = gaitM(walk, atFlicks);
  const walked = !walk.closed || whole === 0 ? Math.min(gone, whole) : gone % whole;
  const way = groundWayOf(walk);
  if (!way) return walked;
  const { alongM } = way;
  let [low, high] = [0, alongM.length - 1];
  while (high - low > 1) {
    const middle = (low + high) >>> 1;
    if ((alongM[middle] ?? 0) <= walked) low = middle;
    else high = middle;
  }
  const [from, to] = [alongM[low] ?? 0, alongM[high] ?? 0];
  const share = low + (to > from ? (walked - from) / (to - from) : 0);
  return (lengthM * share) / (alongM.length - 1);
}

/** Time at which an open walk arrives, flicks. */
export function arrivalFlicks(walk: WalkPath): number {
  return walk.startFlicks + Math.round((walkLengthM(walk) / walk.speedMps) * FLICKS_PER_SECOND);
}

/** Place and turn of a walking placement at a time, within what it is attached to. */
export function walkFrame(placement: Placement, walk: WalkPath, atFlicks: number): Frame {
  const path = pathThrough(walk.nodesM, walk.closed);
  const gone = walkedM(walk, atFlicks);
  const [x, y, z] = path.pointAt(gone);
  const [dx, , dz] = path.directionAt(gone);
  const { tiltDeg, rollDeg } = placement;
  const panDeg = walk.facing === 'along' ? anglesToward([0, 0, 0], [dx, 0, dz]).panDeg : placement.panDeg;
  const positionM: Vector = [x, groundUnder(walk, gone / (path.lengthM || 1)) ?? y, z];
  return { positionM, quaternion: rotationOf({ panDeg, tiltDeg, rollDeg }) };
}

/**
 * Which way a placement faces at a time, degrees of pan, whole turns counted: as its walk winds or its keys say, carried by what it
 * is attached to.
 */
export function facingDegAt(pieces: Pieces, placement: Placement, atFlicks: number): number {
  const facing = turned([0, 0, -1], placementAt(pieces, placement.id, atFlicks).quaternion);
  let near = 0;
  eachCarrier(pieces, placement, (one) => (near += ownPanDegAt(one, atFlicks)));
  return unwrappedNear(anglesToward([0, 0, 0], facing).panDeg, near);
}

function ownPanDegAt(placement: Placement, atFlicks: number): number {
  const { motion } = placement;
  if (motion.kind !== 'path') return placementValuesAt(placement, atFlicks).pan;
  if (motion.facing !== 'along') return placement.panDeg;
  const path = pathThrough(motion.nodesM, motion.closed);
  const length = walkLengthM(motion);
  const rounds = motion.closed && length > 0 ? Math.floor(gaitM(motion, atFlicks) / length) : 0;
  return path.headingDegAt(walkedM(motion, atFlicks)) + rounds * path.turnDeg;
}

/** A placement and what carries it, one after the other; a circle ends where it comes round. */
function eachCarrier(pieces: Pieces, placement: Placement, visit: (one: Placement) => unknown): void {
  const passed = new Set<string>();
  for (let one: Placement | undefined = placement; one && !passed.has(one.id);) {
    passed.add(one.id);
    if (visit(one) === false) return;
    one = one.parentId === null ? undefined : pieces.placements[one.parentId];
  }
}

/** Ground height under a share of a path's length, from the heights kept with it. */
function groundUnder({ groundM }: WalkPath, share: number): number | undefined {
  if (groundM.length === 0) return undefined;
  const at = Math.max(0, Math.min(1, share)) * (groundM.length - 1);
  const [low, high] = [groundM[Math.floor(at)] as number, groundM[Math.ceil(at)] as number];
  return low + (high - low) * (at - Math.floor(at));
}

function clipSecondOf({ assets }: Pieces, { assetId, clip }: Placement, atFlicks: number): number | undefined {
  const file = assetId === null ? undefined : assets[assetId]?.file;
  const facts = file?.kind === 'geometry' && clip ? file.clips[clip.index] : undefined;
  if (!facts || !clip) return undefined;
  return clipSecond(clip, facts.seconds, (atFlicks - clip.startFlicks) / FLICKS_PER_SECOND);
}

/** Whether a placement, or what it is attached to, changes over scene time. */
export function isMoving(pieces: Pieces, placement: Placement): boolean {
  let moves = false;
  eachCarrier(pieces, placement, ({ motion, clip }) => !(moves = motion.kind !== 'still' || clip !== null));
  return moves;
}

/** Whether a placement and all it is attached to are shown. */
export function isShown(pieces: Pieces, placement: Placement): boolean {
  let shown = true;
  eachCarrier(pieces, placement, ({ visible }) => (shown = visible));
  return shown;
}

const childrenByTable = new WeakMap<Project['placements'], ReadonlyMap<string, readonly string[]>>();

/** Ids of what is attached directly, by what it is attached to. */
function childrenOf(placements: Project['placements']): ReadonlyMap<string, readonly string[]> {
  let children = childrenByTable.get(placements);
  if (!children) {
    const found = new Map<string, string[]>();
    for (const { id, parentId } of Object.values(placements)) {
      if (parentId !== null) found.set(parentId, [...(found.get(parentId) ?? []), id]);
    }
    children = found;
    childrenByTable.set(placements, children);
  }
  return children;
}

/** A placement and everything attached to it, directly or not. */
export function withAttached(pieces: Pieces, placementId: string): Placement[] {
  const found = new Map<string, Placement>();
  const take = (id: string) => {
    const placement = pieces.placements[id];
    if (!placement || found.has(id)) return;
    found.set(id, placement);
    for (const child of childrenOf(pieces.placements).get(id) ?? []) take(child);
  };
  take(placementId);
  return [...found.values()];
}

/** Of some placements those that none of the others carries: what moves them moves the rest. In their order, each once. */
export function rootsOf(pieces: Pieces, placementIds: readonly string[]): string[] {
  const chosen = new Set(placementIds);
  return [...chosen].filter((id) => {
    let carried = false;
    const placement = pieces.placements[id];
    if (placement) eachCarrier(pieces, placement, (one) => !(carried = one.id !== id && chosen.has(one.id)));
    return !carried;
  });
}
