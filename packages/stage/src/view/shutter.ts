import type { CameraState, Project } from '@arvex/core';
import { cameraAt, FLICKS_PER_SECOND, isMoving, projectedLens, shutterOpensS } from '@arvex/core';
import { dequal } from 'dequal/lite';
import type { ShutterMoment, StageView } from './view';

/** Moments of an open shutter that are told apart: more samples than this share them. */
const MOMENTS = 16;

/**
 * The view with the motion blur of its shutter: open from the frame's own time on for as long as its angle says, so it ends before the
 * next frame and never reaches over a cut; or about the frame's time, where the project says so. Nothing changes where neither the
 * camera nor the set moves.
 * @param sceneTimeAt scene time so many flicks from the frame's: of a shot that is retimed, another than its own time. As it happens when
 *   not given.
 */
export function withShutter(
  view: StageView,
  project: Project,
  state: CameraState,
  sceneTimeAt: (offsetFlicks: number) => number = (offset) => view.atFlicks + Math.round(offset),
): StageView {
  const open = state.exposure.shutterSeconds * FLICKS_PER_SECOND;
  const opens = shutterOpensS(state.exposure.shutterSeconds, project.head.shutterOpens) * FLICKS_PER_SECOND;
  const shutter = Array.from({ length: MOMENTS }, (_, i): ShutterMoment => {
    const atFlicks = sceneTimeAt(opens + (open * (i + 0.5)) / MOMENTS);
    const { positionM, quaternion, ...then } = cameraAt(project, state.cameraId, atFlicks);
    return { pose: { positionM, quaternion }, lens: projectedLens({ ...then, positionM, quaternion }), atFlicks };
  });
  const [first, last] = [shutter[0], shutter.at(-1)];
  const same = dequal([first?.pose, first?.lens], [last?.pose, last?.lens]);
  const moving = Object.values(project.placements).some((placement) => isMoving(project, placement));
  return same && !moving ? view : { ...view, shutter };
}
