import type { AfterLast, Curve } from '../../curve';
import { withKey } from '../../curve';
import { CoreError } from '../../error';
import type { Placement, PlacementChannel, Project } from '../../model';
import { channelFace, existing, PLACEMENT_CHANNELS } from '../../model';
import { placementValuesAt } from '../../set';
import type { Edit } from '../edit';
import type { LocalPose, PlacementCurves } from './placement-motion';
import { keysOf } from './placement-motion';
import { setPlacement } from './placements';

type Curves = Readonly<Record<string, Curve>>;

/** Whether a thing of the set has a channel of this name. */
export function isPlacementChannel(channel: string): channel is PlacementChannel {
  return PLACEMENT_CHANNELS.includes(channel as PlacementChannel);
}

/**
 * Puts curves in place of a thing's. One without keys is taken away: the thing keeps the value that it has at `atFlicks`. Without any
 * it stands still.
 * @param curves by names of {@link PLACEMENT_CHANNELS}; metres and degrees, within what the thing is attached to.
 * @throws CoreError `out-of-range` for another name; `in-motion` when it walks along a path.
 */
export function setPlacementCurves(
  project: Project,
  placementId: string,
  what: string,
  curves: Curves,
  atFlicks: number,
): Edit {
  const placement = existing(project, 'placement', placementId);
  const all: Record<string, Curve> = { ...keyedCurves(placement), ...curves };
  const other = Object.keys(curves).find((channel) => !isPlacementChannel(channel));
  if (other !== undefined) throw new CoreError('out-of-range', `A thing of the set has no channel ${other}.`, other);
  const kept = Object.entries(all).filter(([, curve]) => curve.length > 0);
  const motion = keysOf(placement.motion, Object.fromEntries(kept));
  const rest = poseOf(placement, atFlicks);
  return setPlacement(project, placementId, what, {
    motion: kept.length > 0 ? motion : { kind: 'still' },
    ...(kept.length < Object.keys(all).length && rest),
  });
}

/** Keys one channel of a thing at a scene time as it is there. @throws CoreError `in-motion` when it walks along a path. */
export function keyPlacementChannel(
  project: Project,
  placementId: string,
  channel: PlacementChannel,
  atFlicks: number,
): Edit {
  const placement = existing(project, 'placement', placementId);
  const value = placementValuesAt(placement, atFlicks)[channel];
  const curve = withKey(keyedCurves(placement)[channel] ?? [], { atFlicks, value, shape: 'smooth' });
  return setPlacementCurves(
    project,
    placementId,
    `Key ${channelFace(channel, {}).name}`,
    { [channel]: curve },
    atFlicks,
  );
}

/** Says what a thing's curve does after its last key. */
export function setPlacementAfter(
  project: Project,
  placementId: string,
  channel: PlacementChannel,
  after: AfterLast,
): Edit {
  const { motion } = existing(project, 'placement', placementId);
  if (motion.kind !== 'keys') throw new CoreError('in-motion', 'It has no keys after which anything could go on.');
  const words = { stay: 'Stay', repeat: 'Repeat', onward: 'Go on' }[after];
  return setPlacement(project, placementId, `${words} after the last key`, {
    motion: { ...motion, after: { ...motion.after, [channel]: after } },
  });
}

function keyedCurves({ name, motion }: Placement): PlacementCurves {
  if (motion.kind === 'path') {
    throw new CoreError('in-motion', `${name} walks along a path. Take the path away to give it keys.`);
  }
  return motion.kind === 'keys' ? motion.curves : {};
}

/** What a thing has of itself where no key says otherwise: as it is seen at a time. */
function poseOf(placement: Placement, atFlicks: number): Required<LocalPose> {
  const { positionX, positionY, positionZ, pan, tilt, roll } = placementValuesAt(placement, atFlicks);
  return { positionM: [positionX, positionY, positionZ], panDeg: pan, tiltDeg: tilt, rollDeg: roll };
}
