import type { CameraState } from '../../camera';
import { cameraAt, deviation, rigChannels, statesOf } from '../../camera';
import type { Curve, Key } from '../../curve';
import { spanOf, thinned } from '../../curve';
import type { Camera, Channel, ChannelValues, Project } from '../../model';
import { AIM_CHANNELS, CHANNEL_FACES, existing, moveOf, RIG_PLACE_CHANNELS, TURNING } from '../../model';
import type { Vector } from '../../space';
import { unwrappedNear } from '../../space';
import { flicksPerFrame } from '../../time';
import type { Edit } from '../edit';
import { patching, previewed } from '../edit';
import type { CloseEdit } from './change-rig';
import { moveOperations } from './curves';

/** Tolerances of baking: a key is left out where the curve without it stays this near. */
const BAKED: Readonly<Record<'m' | '°' | 'mm' | 'other', number>> = { m: 0.001, '°': 0.01, mm: 0.01, other: 0.001 };

/**
 * Turns any rig, its aim and its hand into keys of a camera on sticks: one for each frame first, thinned so that each
 * channel stays within a millimetre or a hundredth of a degree of it. Says how closely; over the three axes of a place that is 1.7 mm at most.
 */
export function bakeRig(
  project: Project,
  cameraId: string,
  atFlicks: number,
  span?: readonly [number, number],
): CloseEdit {
  const camera = existing(project, 'camera', cameraId);
  const move = moveOf(project, cameraId);
  const [from, to] = span ?? spanOf(move?.curves ?? {}) ?? [atFlicks, atFlicks];
  const frame = flicksPerFrame(project.head.rate);
  const dense: Record<string, Key[]> = {};
  statesOf(project, cameraId, from, to).forEach((state, i) => {
    for (const [channel, value] of Object.entries(poseValues(state)) as [Channel, number][]) {
      const keys = (dense[channel] ??= []);
      const before = keys.at(-1)?.value ?? value;
      const near = TURNING.has(channel) ? unwrappedNear(value, before) : value;
      keys.push({ atFlicks: Math.round(from + i * frame), value: near, shape: 'smooth' });
    }
  });
  const curves: Record<string, Curve> = { ...move?.curves };
  for (const channel of [...rigChannels(camera), ...RIG_PLACE_CHANNELS, ...BAKED_IN]) curves[channel] = [];
  for (const [channel, keys] of Object.entries(dense))
    curves[channel] = thinned(keys, toleranceOf(channel as Channel)).curve;
  const pose = cameraAt(project, cameraId, atFlicks);
  const { positionM, panDeg, tiltDeg, rollDeg } = pose;
  const parts: Partial<Camera> = {
    rig: { kind: 'sticks' },
    aim: { kind: 'free' },
    handheld: { ...camera.handheld, on: false },
    pose: { positionM: [...positionM] as Vector, panDeg, tiltDeg, rollDeg },
  };
  const edit: Edit = {
    name: `Bake the move of ${camera.name} to keys`,
    operations: [
      patching(project, 'camera', cameraId, parts),
      ...moveOperations(project, cameraId, { curves, after: {} }),
    ],
  };
  const after = previewed(project, edit);
  return { edit, deviation: deviation(project, after, cameraId, from, to) };
}

/** What baked keys no longer need: they say where the camera is and looks at every time. */
const BAKED_IN: readonly Channel[] = [...AIM_CHANNELS, 'handheld', 'timeWarp'];

function poseValues({ positionM: [x, y, z], panDeg, tiltDeg, rollDeg }: CameraState): ChannelValues {
  return { positionX: x, positionY: y, positionZ: z, pan: panDeg, tilt: tiltDeg, roll: rollDeg };
}

/** How near a thinned curve of a channel stays, in its unit. */
export function toleranceOf(channel: Channel): number {
  const unit = channel in CHANNEL_FACES ? CHANNEL_FACES[channel as keyof typeof CHANNEL_FACES].unit : 'stops';
  return unit === 'm' || unit === '°' || unit === 'mm' ? BAKED[unit] : BAKED.other;
}
