import type { Curve } from '../../curve';
import { keyIndexAt, withKey, withoutKey } from '../../curve';
import { CoreError } from '../../error';
import type { Placement, PlacementChannel, PlacementMotion, Project, WalkPath } from '../../model';
import { existing, PLACEMENT_CHANNELS } from '../../model';
import { placementValuesAt, walkFrame } from '../../set';
import type { Vector } from '../../space';
import { unwrappedNear } from '../../space';
import type { Edit } from '../edit';
import type { PlacementParts } from './placements';
import { setPlacement } from './placements';

/** Speed of an unhurried walk, m/s. */
const WALKING_MPS = 1.3;

export type PlacementCurves = Extract<PlacementMotion, { kind: 'keys' }>['curves'];

const AXES: readonly PlacementChannel[] = ['positionX', 'positionY', 'positionZ'];

/** A place or turn within what a placement is attached to, as far as it changes. */
export interface LocalPose {
  readonly positionM?: Vector;
  readonly panDeg?: number;
  readonly tiltDeg?: number;
  readonly rollDeg?: number;
}

/**
 * What putting a placement somewhere changes of it: its own place when it is still, a key at that time when it has keys,
 * its whole path when it walks.
 * @param angles whether keyed angles stay `as-typed`, a whole turn and more; when left out they are taken the short way round.
 */
export function movedParts(
  placement: Placement,
  atFlicks: number,
  pose: LocalPose,
  angles: 'as-typed' | 'short-way' = 'short-way',
): PlacementParts {
  const { motion } = placement;
  const own = {
    ...(pose.positionM && { positionM: [...pose.positionM] as Vector }),
    ...(pose.panDeg !== undefined && { panDeg: pose.panDeg }),
    ...(pose.tiltDeg !== undefined && { tiltDeg: pose.tiltDeg }),
    ...(pose.rollDeg !== undefined && { rollDeg: pose.rollDeg }),
  };
  if (motion.kind === 'still') return own;
  if (motion.kind === 'keys') return { motion: keyed(placement, atFlicks, valuesOf(pose), angles) };
  if (!pose.positionM) return own;
  const [x, y, z] = pose.positionM;
  const here = walkFrame(placement, motion, atFlicks).positionM;
  return { ...own, motion: movedWalk(motion, [x - here[0], y - here[1], z - here[2]]) };
}

/** What moving a placement with all its movement by a way within what it is attached to changes of it: every key, or its walk. */
export function shiftedParts({ positionM: [x, y, z], motion }: Placement, way: Vector): PlacementParts {
  const positionM: Vector = [x + way[0], y + way[1], z + way[2]];
  if (motion.kind === 'still') return { positionM };
  if (motion.kind === 'path') return { positionM, motion: movedWalk(motion, way) };
  const curves = { ...motion.curves };
  AXES.forEach((channel, i) => {
    curves[channel] = curves[channel]?.map((key) => ({ ...key, value: key.value + (way[i] ?? 0) }));
  });
  return { positionM, motion: { ...motion, curves } };
}

function valuesOf({ positionM, panDeg, tiltDeg, rollDeg }: LocalPose): Partial<Record<PlacementChannel, number>> {
  const values: Partial<Record<PlacementChannel, number>> = {};
  positionM?.forEach((value, i) => (values[AXES[i] as PlacementChannel] = value));
  if (panDeg !== undefined) values.pan = panDeg;
  if (tiltDeg !== undefined) values.tilt = tiltDeg;
  if (rollDeg !== undefined) values.roll = rollDeg;
  return values;
}

function movedWalk(walk: WalkPath, [dx, dy, dz]: Vector): WalkPath {
  return {
    ...walk,
    nodesM: walk.nodesM.map(([x, y, z]) => [x + dx, y + dy, z + dz]),
    groundM: walk.groundM.map((y) => y + dy),
  };
}

/** The placement's keys with one more at a time on every channel; `values` win over what it has then. */
function keyed(
  placement: Placement,
  atFlicks: number,
  values: Partial<Record<PlacementChannel, number>>,
  angles: 'as-typed' | 'short-way' = 'short-way',
) {
  const curves: Partial<Record<PlacementChannel, Curve>> =
    placement.motion.kind === 'keys' ? { ...placement.motion.curves } : {};
  const all = { ...placementValuesAt(placement, atFlicks), ...values };
  for (const channel of PLACEMENT_CHANNELS) {
    const curve = curves[channel] ?? [];
    const near = curve[Math.max(0, keyIndexAt(curve, atFlicks))]?.value;
    const isTyped = angles === 'as-typed' && values[channel] !== undefined;
    const turning = !isTyped && (channel === 'pan' || channel === 'roll');
    const value = turning && near !== undefined ? unwrappedNear(all[channel], near) : all[channel];
    curves[channel] = withKey(curve, { atFlicks, value, shape: 'smooth' });
  }
  return keysOf(placement.motion, curves as PlacementCurves);
}

/** Keys in place of those of a movement; what its curves do after their last key stays. */
export function keysOf(motion: PlacementMotion, curves: PlacementCurves): PlacementMotion {
  return { ...(motion.kind === 'keys' ? motion : {}), kind: 'keys', curves };
}

/** Keeps a placement's place and turn at a time as keys. @throws CoreError `in-motion` when it walks along a path. */
export function keyPlacement(project: Project, placementId: string, atFlicks: number, pose: LocalPose = {}): Edit {
  const placement = existing(project, 'placement', placementId);
  if (placement.motion.kind === 'path') {
    throw new CoreError('in-motion', `${placement.name} walks along a path. Take the path away to give it keys.`);
  }
  return setPlacement(project, placementId, 'Key', { motion: keyed(placement, atFlicks, valuesOf(pose)) });
}

/** A turn about the upright axis, as for a turntable. */
export interface Turn {
  readonly fromFlicks: number;
  /** How long it lasts, flicks; at least 1. */
  readonly lengthFlicks: number;
  /** How far it turns in all: positive is clockwise seen from above; a whole turn and more is kept. */
  readonly degrees: number;
}

/**
 * Turns a placement evenly about its upright axis: two keys of its pan, straight between them, in place of those it had there.
 * Its other keys stay.
 * @throws CoreError `in-motion` when it walks along a path.
 */
export function turnPlacement(project: Project, placementId: string, turn: Turn): Edit {
  const placement = existing(project, 'placement', placementId);
  const { motion } = placement;
  if (motion.kind === 'path') {
    throw new CoreError('in-motion', `${placement.name} walks along a path. Take the path away to turn it by keys.`);
  }
  const toFlicks = turn.fromFlicks + Math.max(1, turn.lengthFlicks);
  const { pan } = placementValuesAt(placement, turn.fromFlicks);
  const before = motion.kind === 'keys' ? motion.curves : {};
  const outside = (before.pan ?? []).filter((key) => key.atFlicks < turn.fromFlicks || key.atFlicks > toFlicks);
  const begun = withKey(outside, { atFlicks: turn.fromFlicks, value: pan, shape: 'linear' });
  const turned = withKey(begun, { atFlicks: toFlicks, value: pan + turn.degrees, shape: 'linear' });
  return setPlacement(project, placementId, 'Turn', {
    motion: keysOf(motion, { ...before, pan: [...turned] }),
  });
}

/** Times at which a placement has keys, rising, in flicks. */
export function keyTimesOf({ motion }: Placement): number[] {
  if (motion.kind !== 'keys') return [];
  const times = Object.values(motion.curves).flatMap((curve) => (curve ?? []).map((key) => key.atFlicks));
  return [...new Set(times)].sort((a, b) => a - b);
}

/** Takes the keys at a time away. With the last one the thing stands still where that key had it. */
export function unkeyPlacement(project: Project, placementId: string, atFlicks: number): Edit {
  const placement = existing(project, 'placement', placementId);
  if (keyTimesOf(placement).some((time) => time !== atFlicks) && placement.motion.kind === 'keys') {
    const curves = Object.fromEntries(
      Object.entries(placement.motion.curves).map(([channel, curve]) => [channel, withoutKey(curve ?? [], atFlicks)]),
    );
    return setPlacement(project, placementId, 'Remove a key of', {
      motion: keysOf(placement.motion, curves),
    });
  }
  return stopMoving(project, placementId, atFlicks, 'Remove a key of');
}

/** Makes a placement stand still where it is at a time. */
export function stopMoving(project: Project, placementId: string, atFlicks: number, what = 'Stop'): Edit {
  const placement = existing(project, 'placement', placementId);
  const { motion } = placement;
  if (motion.kind === 'path') {
    const start = motion.nodesM[0] ?? placement.positionM;
    return setPlacement(project, placementId, what, { motion: { kind: 'still' }, positionM: [...start] });
  }
  const values = placementValuesAt(placement, atFlicks);
  return setPlacement(project, placementId, what, {
    motion: { kind: 'still' },
    positionM: [values.positionX, values.positionY, values.positionZ],
    panDeg: values.pan,
    tiltDeg: values.tilt,
    rollDeg: values.roll,
  });
}

/** Lets a placement walk along a path from a time on. `groundM` are heights under the path at even distances. */
export function walkAlong(
  project: Project,
  placementId: string,
  walk: Omit<WalkPath, 'kind' | 'closed' | 'facing' | 'speedMps'> & Partial<WalkPath>,
): Edit {
  const motion: WalkPath = { closed: false, facing: 'along', speedMps: WALKING_MPS, ...walk, kind: 'path' };
  return setPlacement(project, placementId, 'Walk of', { motion });
}
