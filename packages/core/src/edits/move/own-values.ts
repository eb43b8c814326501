import { cameraAt, channelValuesAt, numbersFor, ownAngles } from '../../camera';
import type { Channel, ChannelValues, Project } from '../../model';
import { existing, moveOf, TURNING } from '../../model';
import type { Vector } from '../../space';
import { difference, rotationOf, turned, unwrappedNear } from '../../space';

/**
 * Places and turns of the world as the numbers of a camera's rig and the angles of its head, or as near as the rig goes. Other
 * channels pass through.
 */
export function ownValues(
  project: Project,
  cameraId: string,
  world: ChannelValues,
  atFlicks: number,
  trial: ChannelValues = {},
): ChannelValues {
  const camera = existing(project, 'camera', cameraId);
  const { rig } = camera;
  const offHead = camera.headOffsetMm.some((mm) => mm !== 0);
  if (rig.kind === 'sticks' && !offHead) return world;
  const { positionX, positionY, positionZ, pan, tilt, roll, ...rest } = world;
  const placed = positionX !== undefined || positionY !== undefined || positionZ !== undefined;
  const headed = pan !== undefined || tilt !== undefined || roll !== undefined;
  const state = cameraAt(project, cameraId, atFlicks, trial);
  const before = channelValuesAt(camera, moveOf(project, cameraId), atFlicks, trial);
  const values: Partial<Record<Channel, number>> = { ...rest };
  if (placed) {
    const [x, y, z] = state.positionM;
    const pupilM: Vector = [positionX ?? x, positionY ?? y, positionZ ?? z];
    const turn = { panDeg: pan ?? state.panDeg, tiltDeg: tilt ?? state.tiltDeg, rollDeg: roll ?? state.rollDeg };
    const [right, up, back] = camera.headOffsetMm;
    const offset = turned([right / 1000, up / 1000, back / 1000], rotationOf(turn));
    const axisM = offHead ? difference(pupilM, offset) : pupilM;
    const numbers = numbersFor(rig, axisM, before, project, atFlicks);
    for (const [channel, value] of Object.entries(numbers) as [Channel, number][]) {
      values[channel] = TURNING.has(channel) ? unwrappedNear(value, before[channel] ?? 0) : value;
    }
  }
  if (headed || (placed && rig.kind !== 'sticks' && rig.head === 'carried')) {
    const { carrier } = cameraAt(project, cameraId, atFlicks, { ...trial, ...values });
    const { panDeg, tiltDeg, rollDeg } = state;
    const own = ownAngles(rig, { panDeg: pan ?? panDeg, tiltDeg: tilt ?? tiltDeg, rollDeg: roll ?? rollDeg }, carrier);
    Object.assign(values, { pan: own.panDeg, tilt: own.tiltDeg, roll: own.rollDeg });
  }
  return values;
}
