import { CoreError } from '../error';
import { ev100, shutterSeconds } from '../exposure';
import type { Camera, ChannelValues, Project } from '../model';
import { kitLensOf, moveOf } from '../model';
import { fitDelivery } from '../optics';
import type { HeadAngles, Vector } from '../space';
import { rotationOf, turned } from '../space';
import type { CameraState } from './camera-state';
import type { CameraValues } from './channel-values';
import { channelValuesAt } from './channel-values';
import { aimed } from './resolve-aim';
import { exposed } from './resolve-exposure';
import { resolveFocus } from './resolve-focus';
import { resolveLens } from './resolve-lens';
import { mixAt } from './resolve-light';
import { carriedBy, headAngles } from './resolve-rig';
import { shakeAt } from './shake';

/** What of a project decides how its cameras are. */
export type CameraSurroundings = Pick<
  Project,
  'head' | 'lightGroups' | 'lensKits' | 'placements' | 'assets' | 'measured'
>;

/**
 * Where a camera is and how it is set at a time: the one function that says so.
 * @param atFlicks scene time in flicks; before the first and after the last key the camera rests there.
 * @param trial channel values tried out but not kept; they win over the move.
 * @throws CoreError `unknown-entity` when the project has no such camera.
 */
export function cameraAt(project: Project, cameraId: string, atFlicks: number, trial?: ChannelValues): CameraState {
  const camera = project.cameras[cameraId];
  if (!camera) throw new CoreError('unknown-entity', `There is no camera ${cameraId} in this project.`, 'cameraId');
  const values = channelValuesAt(camera, moveOf(project, cameraId), atFlicks, trial);
  return resolveCamera(camera, values, project, atFlicks);
}

/** A camera's settings and the values of its channels, resolved against its project at a scene time. */
export function resolveCamera(
  camera: Camera,
  values: CameraValues,
  project: CameraSurroundings,
  atFlicks: number,
): CameraState {
  const { filmBack, own } = camera;
  const { head } = project;
  const carried = carriedBy(camera.rig, values, project, atFlicks);
  const turnedTo = headAngles(
    camera.rig,
    { panDeg: values.pan, tiltDeg: values.tilt, rollDeg: values.roll },
    carried.turn,
  );
  const { angles: steady, aimM } = aimed(camera.aim, carried.positionM, turnedTo, values, project, atFlicks);
  const { positionM, angles, quaternion } = held(camera, carried.positionM, steady, values, atFlicks);
  const delivery = own.includes('delivery') ? camera.framing.delivery : head.delivery;
  const used = fitDelivery(filmBack, delivery, camera.framing.fit);
  const kitLens = kitLensOf(project, camera.lens.lensId);
  const pose = { positionM, quaternion };
  const pixelMm = used.widthMm / delivery.widthPx;
  const focus = resolveFocus(
    camera,
    values,
    { pose, kitLens, pixelMm },
    project,
    atFlicks,
    camera.focus.mode === 'auto' ? project.measured[camera.id]?.curve : undefined,
  );
  const exposure = own.includes('exposure') ? camera.exposure : head.exposure;
  const seconds = shutterSeconds(exposure.shutterAngleDeg, head.rate);
  const openEv100 = ev100({ stop: focus.tStop ?? focus.fStop, shutterSeconds: seconds, iso: exposure.iso });
  return {
    cameraId: camera.id,
    positionM,
    panDeg: angles.panDeg,
    tiltDeg: angles.tiltDeg,
    rollDeg: angles.rollDeg,
    quaternion,
    carrier: carried.turn,
    aimM,
    filmBack,
    lens: resolveLens(camera, values, focus.distanceM, kitLens),
    focus,
    exposure: exposed(exposure, openEv100, values.ev, seconds),
    framing: { delivery, fit: camera.framing.fit, used, subjectId: camera.framing.subjectId },
    guides: own.includes('guides') ? camera.guides : head.guides,
    clip: camera.clip,
    lightMix: mixAt(camera, values, project.lightGroups),
  };
}

/** The camera with the hand that holds it: it strays along its own axes, and its head turns. */
function held({ handheld }: Camera, positionM: Vector, steady: HeadAngles, values: CameraValues, atFlicks: number) {
  const hand = shakeAt(handheld, values.handheld, atFlicks);
  if (!hand) return { positionM, angles: steady, quaternion: rotationOf(steady) };
  const [dx, dy, dz] = turned(hand.moveM, rotationOf(steady));
  const angles: HeadAngles = {
    panDeg: steady.panDeg + hand.turn.panDeg,
    tiltDeg: steady.tiltDeg + hand.turn.tiltDeg,
    rollDeg: steady.rollDeg + hand.turn.rollDeg,
  };
  const at: Vector = [positionM[0] + dx, positionM[1] + dy, positionM[2] + dz];
  return { positionM: at, angles, quaternion: rotationOf(angles) };
}
