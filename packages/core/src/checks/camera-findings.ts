import type { CameraState } from '../camera';
import { cameraAt } from '../camera';
import type { Edit } from '../edits';
import { setCamera } from '../edits/camera';
import { farthestUsedMm, subjectFraming } from '../framing';
import type { Camera, Project } from '../model';
import { camerasInOrder, marksInOrder, moveOf } from '../model';
import type { LensExcess } from '../optics';
import { lensExcesses } from '../optics';
import { subjectsIn } from '../set';
import type { Finding } from './finding';

/** Names that a camera gets when nobody has named it. */
const UNNAMED = /^Camera \d+( copy)*$/;

/** What would spoil a camera's pictures, each with the way to its mend. */
export function cameraFindings(project: Project): Finding[] {
  const cameras = camerasInOrder(project);
  const delivery: Finding[] =
    project.head.deliveryChosen || cameras.length === 0
      ? []
      : [
          {
            code: 'delivery-unset',
            topic: 'camera',
            part: 'framing',
            message: 'Nobody has chosen the delivery size yet',
            mend: 'Choose it',
          },
        ];
  return [...delivery, ...cameras.flatMap((camera) => findingsOfCamera(project, camera))];
}

function findingsOfCamera(project: Project, camera: Camera): Finding[] {
  const shared = { topic: 'camera', cameraId: camera.id } as const;
  const found: Finding[] = [];
  if (UNNAMED.test(camera.name)) {
    found.push({
      ...shared,
      code: 'camera-unnamed',
      message: `${camera.name} has no name of its own`,
      mend: 'Name it',
    });
  }
  if (!moveOf(project, camera.id) && camera.pose.positionM.every((x) => x === 0)) {
    const message = `${camera.name} still stands at the origin`;
    found.push({ ...shared, code: 'camera-at-origin', part: 'place', message, mend: 'Give it a place' });
  }
  const atFlicks = firstSeen(project, camera);
  const state = cameraAt(project, camera.id, atFlicks);
  return [...found, ...lensFindings(project, camera, state), ...focusFindings(project, camera, state, atFlicks)];
}

/** When a camera is first seen: its earliest shot, else its first mark, else the beginning. */
function firstSeen(project: Project, camera: Camera): number {
  const shots = Object.values(project.shots).filter((shot) => shot.cameraId === camera.id);
  if (shots.length > 0) return Math.min(...shots.map((shot) => shot.sceneStartFlicks));
  return marksInOrder(moveOf(project, camera.id))[0]?.atFlicks ?? 0;
}

function lensFindings(project: Project, camera: Camera, state: CameraState): Finding[] {
  const { kitLens, focalLengthMm } = state.lens;
  if (!kitLens) return [];
  const { fStop, distanceM: focusM } = state.focus;
  return lensExcesses(kitLens, { focalLengthMm, fStop, focusM, cornerMm: farthestUsedMm(state) }).map(
    ({ what, message, mend }): Finding => ({
      code: 'lens-exceeded',
      topic: 'camera',
      cameraId: camera.id,
      part: what === 'focus' ? 'focus' : 'lens',
      message: `${camera.name}: ${message}`,
      ...mendOf(project, camera, what, mend),
    }),
  );
}

/** A value of the camera's own is mended at once; one that has keys is looked at. */
function mendOf(project: Project, camera: Camera, what: LensExcess['what'], mend: number | undefined) {
  const channel = what === 'stop' ? 'fStop' : 'focalLength';
  const keyed = (moveOf(project, camera.id)?.curves[channel]?.length ?? 0) > 0;
  if (mend === undefined || keyed || what === 'focus') return { mend: 'Look at it' };
  return { mend: `Use ${what === 'stop' ? `ƒ${mend}` : `${mend} mm`}`, fix: fixOf(camera, what, mend) };
}

function fixOf(camera: Camera, what: LensExcess['what'], mend: number): (project: Project) => Edit {
  return (project) =>
    what === 'stop'
      ? setCamera(project, camera.id, `ƒ${mend}`, { focus: { ...camera.focus, fStop: mend } })
      : setCamera(project, camera.id, `Lens ${mend} mm`, { lens: { ...camera.lens, focalLengthMm: mend } });
}

function focusFindings(project: Project, camera: Camera, state: CameraState, atFlicks: number): Finding[] {
  const shared = { topic: 'camera', cameraId: camera.id } as const;
  const found: Finding[] = [];
  if (camera.focus.mode === 'follow' && state.focus.drivenBy !== 'follow') {
    const message = `${camera.name} follows focus on something that is gone`;
    found.push({ ...shared, code: 'focus-on-nothing', part: 'focus', message, mend: 'Choose a subject' });
  }
  const framed = subjectsIn(project)
    .flatMap((placement) => subjectFraming(project, placement, state, atFlicks) ?? [])
    .filter((one) => one.inFrame);
  const sharp = framed.some(({ distanceM }) => distanceM >= state.focus.nearM && distanceM <= state.focus.farM);
  if (framed.length > 0 && !sharp) {
    const message = `${camera.name} is focused on none of the subjects it sees`;
    found.push({ ...shared, code: 'focus-on-nothing', part: 'focus', message, mend: 'Look at the focus' });
  }
  const chosen = state.framing.subjectId === null ? undefined : project.placements[state.framing.subjectId];
  if (chosen && !framed.some(({ placement }) => placement.id === chosen.id)) {
    const message = `${chosen.name} is out of frame where ${camera.name} is first seen`;
    found.push({ ...shared, code: 'subject-out-of-frame', part: 'place', message, mend: 'Look at it' });
  }
  return found;
}
