import { CoreError } from '../error';
import { ev100, shutterSeconds } from '../exposure';
import type { Camera, ChannelValues, Project } from '../model';
import { kitLensOf, moveOf } from '../model';
import { fitDelivery } from '../optics';
import type { HeadAngles, Vector } from '../space';
import { rotationOf, sum, turned } from '../space';
import type { CameraState } from './camera-state';
import type { CameraValues } from './channel-values';
import { channelValuesAt } from './channel-values';
import { headingNear } from './heading';
import { aimed } from './resolve-aim';
import { exposed } from './resolve-exposure';
import { resolveFocus } from './resolve-focus';
import { resolveLens } from './resolve-lens';
import { mixAt } from './resolve-light';
import { lookAt, wornVariation } from './resolve-look';
import { carriedBy, headAngles } from './resolve-rig';
import { shakeAt } from './shake';

/** What of a project decides how its cameras are. */
export type CameraSurroundings = Pick<
  Project,
  'head' | 'lightGroups' | 'looks' | 'lensKits' | 'placements' | 'assets' | 'measured'
>;

/**
 * Where a camera is and how it is set at a time: the one function that says so.
 * @param atFlicks scene time in flicks; before the first and after the last key the camera rests there.
 * @param trial channel values tried out but not kept; they win over the move.
 * @param variationId the variation it is seen with; the one that it wears when left out, or not there.
 * @throws CoreError `unknown-entity` when the project has no such camera.
 */
export function cameraAt(
  project: Project,
  cameraId: string,
  atFlicks: number,
  trial?: ChannelValues,
  variationId?: string | null,
): CameraState {
  const camera = project.cameras[cameraId];
  if (!camera) throw new CoreError('unknown-entity', `There is no camera ${cameraId} in this project.`, 'cameraId');
  return stateOf(camera, project, atFlicks, trial, variationId);
}

function stateOf(
  camera: Camera,
  project: Project,
  atFlicks: number,
  trial?: ChannelValues,
  variationId?: string | null,
): CameraState {
  const move = moveOf(project, camera.id);
  const near = camera.aim.kind === 'free' ? undefined : headingNear(camera, move, project, atFlicks);
  return resolveCamera(camera, channelValuesAt(camera, move, atFlicks, trial), project, atFlicks, near, variationId);
}

/**
 * A camera as {@link cameraAt} has it, without the hand that holds it and without the offset of its head: where its rig and its keys
 * bring it. What edits begin from, as hand and head are laid over what they make.
 * @throws CoreError as {@link cameraAt}.
 */
export function steadyAt(project: Project, cameraId: string, atFlicks: number, trial?: ChannelValues): CameraState {
  const camera = project.cameras[cameraId];
  if (!camera || (!camera.handheld.on && camera.headOffsetMm.every((mm) => mm === 0))) {
    return cameraAt(project, cameraId, atFlicks, trial);
  }
  const state = stateOf(camera, project, atFlicks, trial);
  const move = moveOf(project, cameraId);
  const steady: Camera = { ...camera, handheld: { ...camera.handheld, on: false }, headOffsetMm: [0, 0, 0] };
  return resolveCamera(steady, channelValuesAt(camera, move, atFlicks, trial), project, atFlicks, state.panDeg);
}

/**
 * A camera's settings and the values of its channels, resolved against its project at a scene time.
 * @param nearDeg an aimed camera's pan goes on from there; from the head's own where it is left out.
 * @param variationId as {@link cameraAt} has it.
 */
export function resolveCamera(
  camera: Camera,
  values: CameraValues,
  project: CameraSurroundings,
  atFlicks: number,
  nearDeg?: number,
  variationId?: string | null,
): CameraState {
  const { filmBack, own } = camera;
  const worn = wornVariation(camera, variationId);
  const { head } = project;
  const carried = carriedBy(camera.rig, values, project, atFlicks);
  const turnedTo = headAngles(
    camera.rig,
    { panDeg: values.pan, tiltDeg: values.tilt, rollDeg: values.roll },
    carried.turn,
  );
  const aimFrom = (fromM: Vector) => aimed(camera.aim, fromM, turnedTo, values, project, atFlicks, nearDeg);
  const { angles: steady, aimM, pupilM } = onHead(camera, carried.positionM, aimFrom);
  const { positionM, angles, quaternion } = held(camera, pupilM, steady, values, atFlicks);
  const delivery = own.includes('delivery') ? camera.framing.delivery : head.delivery;
  const used = fitDelivery(filmBack, delivery, camera.framing.fit);
  const kitLens = kitLensOf(project, camera.lens.lensId);
  const pose = { positionM, quaternion };
  const pixelMm = used.heightMm / delivery.heightPx;
  const focus = resolveFocus(
    camera,
    values,
    { pose, kitLens, pixelMm },
    project,
    atFlicks,
    camera.focus.mode === 'auto' ? project.measured[camera.id]?.curve : undefined,
  );
  const exposure = worn?.exposure ?? (own.includes('exposure') ? camera.exposure : head.exposure);
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
    exposure: exposed(exposure, openEv100, worn?.exposure ? NaN : values.ev, seconds), // a variation's own wins over keys
    framing: { delivery, fit: camera.framing.fit, used, subjectId: camera.framing.subjectId },
    guides: own.includes('guides') ? camera.guides : head.guides,
    clip: camera.clip,
    look: lookAt(camera, worn, values, project),
    lightMix: mixAt(camera, worn, values, project.lightGroups),
  };
}

/** An aimed head with an offset turns its pupil, which changes where it has to look: so often, to a millimetre at a metre and less. */
const AIMINGS = 6;

/** A head that stands at its axis: how it is turned, and where it carries the entrance pupil. */
function onHead(
  { headOffsetMm: [right, up, back] }: Camera,
  axisM: Vector,
  aimFrom: (fromM: Vector) => { angles: HeadAngles; aimM: Vector | undefined },
) {
  let found = aimFrom(axisM);
  if (right === 0 && up === 0 && back === 0) return { ...found, pupilM: axisM };
  const offset: Vector = [right / 1000, up / 1000, back / 1000];
  const pupil = (): Vector => sum(axisM, turned(offset, rotationOf(found.angles)));
  for (let i = 0; i < AIMINGS && found.aimM; i++) found = aimFrom(pupil());
  return { ...found, pupilM: pupil() };
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
