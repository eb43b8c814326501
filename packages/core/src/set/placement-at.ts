import { valueAt } from '../curve';
import { CoreError } from '../error';
import type { Placement, PlacementChannel, Project, WalkPath } from '../model';
import { clipSecond, PLACEMENT_CHANNELS } from '../model';
import type { Frame, Vector } from '../space';
import { anglesToward, combined, pathThrough, rotationOf, turned } from '../space';
import { FLICKS_PER_SECOND } from '../time';

/** The part of a project that decides where its pieces are. */
export type Pieces = Pick<Project, 'placements' | 'assets'>;

/** A placement at one time, in the world. */
export interface PlacementState extends Frame {
  /** Second of its clip that shows; `undefined` when none plays. */
  readonly clipSecond: number | undefined;
}

/** Things attached to things attached to things: deeper than this is a circle. */
const DEEPEST = 32;

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
  for (let depth = 0; parent && depth < DEEPEST; depth++) {
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
    if (curve) values[channel] = valueAt(curve, atFlicks) ?? values[channel];
  }
  return values;
}

/** How far a walk has come at a time, metres from its start; on a closed path it goes round and round. */
export function walkedM(walk: WalkPath, atFlicks: number): number {
  const { lengthM } = pathThrough(walk.nodesM, walk.closed);
  const gone = (walk.speedMps * Math.max(0, atFlicks - walk.startFlicks)) / FLICKS_PER_SECOND;
  if (!walk.closed || lengthM === 0) return Math.min(gone, lengthM);
  return gone % lengthM;
}

/** Time at which an open walk arrives, flicks. */
export function arrivalFlicks(walk: WalkPath): number {
  const { lengthM } = pathThrough(walk.nodesM, walk.closed);
  return walk.startFlicks + Math.round((lengthM / walk.speedMps) * FLICKS_PER_SECOND);
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
  for (let one: Placement | undefined = placement, depth = 0; one && depth < DEEPEST; depth++) {
    if (one.motion.kind !== 'still' || one.clip) return true;
    one = one.parentId === null ? undefined : pieces.placements[one.parentId];
  }
  return false;
}

/** Whether a placement and all it is attached to are shown. */
export function isShown(pieces: Pieces, placement: Placement): boolean {
  for (let one: Placement | undefined = placement, depth = 0; one && depth < DEEPEST; depth++) {
    if (!one.visible) return false;
    one = one.parentId === null ? undefined : pieces.placements[one.parentId];
  }
  return true;
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
