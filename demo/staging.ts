import type { Camera, ChannelValues, Edit, Pose, Project, Rig, Vector } from '@arvex/core';
import {
  anglesToward,
  CAMERA_DEFAULTS,
  changeRig,
  flicksAtFrame,
  HEAD_DEFAULTS,
  lensFromKit,
  setMark,
  STANDARD_LENSES,
} from '@arvex/core';

export const RATE = { frames: 24, seconds: 1 };
export const frame = (index: number) => flicksAtFrame(index, RATE);

/** What an edit of a demo camera needs to know. */
interface DemoEdit {
  readonly project: Project;
  readonly cameraId: string;
  readonly ids: (words: string) => string;
  readonly placementId: (name: string) => string;
  readonly groupId: (name: string) => string;
}

export interface DemoCamera {
  readonly name: string;
  readonly pose: Pose;
  readonly parts: Partial<Camera>;
  /** What makes its move, one after another. */
  readonly moves: readonly ((given: DemoEdit) => Edit)[];
}

/** Exposure of the evening, for cameras that follow the project. */
// Evening: ISO takes light up before the lens is stopped.
export const exposed: Camera['exposure'] = {
  ...HEAD_DEFAULTS.exposure,
  iso: 500,
  ndStops: 0,
  absorbers: ['iso', 'nd', 'shutter', 'stop'],
};

/** A prime of the standard kit. */
export function lens(focalLengthMm: number): Camera['lens'] {
  const found = STANDARD_LENSES.find(({ minMm, maxMm }) => minMm === focalLengthMm && maxMm === focalLengthMm);
  return found ? lensFromKit(CAMERA_DEFAULTS.lens, found) : { ...CAMERA_DEFAULTS.lens, focalLengthMm };
}

/** The shorter zoom of the standard kit at a focal length. */
export function zoom(focalLengthMm: number): Camera['lens'] {
  const found = STANDARD_LENSES.find(({ minMm, maxMm }) => minMm < focalLengthMm && maxMm > focalLengthMm);
  return { ...(found ? lensFromKit(CAMERA_DEFAULTS.lens, found) : CAMERA_DEFAULTS.lens), focalLengthMm };
}
export const focus = (distanceM: number, fStop: number): Camera['focus'] => ({
  ...CAMERA_DEFAULTS.focus,
  distanceM,
  fStop,
});

export function poseAt(at: Vector, aim: Vector): Pose {
  return { positionM: [...at], ...anglesToward(at, aim) };
}

/** Marks a pose at a frame. */
export function mark(index: number, at: Vector, aim: Vector, values: ChannelValues = {}): (given: DemoEdit) => Edit {
  return ({ project, cameraId, ids }) => {
    const { positionM, panDeg: pan, tiltDeg: tilt } = poseAt(at, aim);
    const [positionX, positionY, positionZ] = positionM;
    return setMark(project, cameraId, frame(index), ids(`mark ${index}`), {
      positionX,
      positionY,
      positionZ,
      pan,
      tilt,
      ...values,
    });
  };
}

/** Puts a camera on a rig that goes through its marks. */
export function on(rig: Rig, index: number): (given: DemoEdit) => Edit {
  return ({ project, cameraId }) => changeRig(project, cameraId, rig, frame(index), 'as-the-rig').edit;
}

/** Lets the focus follow somebody. */
export function focusOn(name: string): (given: DemoEdit) => Edit {
  return ({ project, cameraId, placementId }) => ({
    name: `Focus follows ${name}`,
    operations: followed(project, cameraId, placementId(name)),
  });
}

/** The operation that lets a camera's focus follow somebody's eyes. */
export function followed(project: Project, cameraId: string, subjectId: string): Edit['operations'] {
  const { id, revision, focus: before } = project.cameras[cameraId] as Camera;
  const fields = { focus: { ...before, mode: 'follow', subjectId, point: 'eyes' } } as never;
  return [{ op: 'patch', kind: 'camera', id, baseRevision: revision, fields }];
}
