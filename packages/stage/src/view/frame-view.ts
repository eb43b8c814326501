import type { Project } from '@arvex/core';
import { cameraAt, pictureAt, sceneTimeAround } from '@arvex/core';
import { mixedView } from './mixed-view';
import { withShutter } from './shutter';
import type { StageView } from './view';
import { viewOf } from './view';

/**
 * What a frame of a cut (from 0) shows as output makes it: through the whole lens, with the shutter open as long as it is, mixed where it
 * dissolves or fades; black in a gap. @throws Error where there is no such frame, or its shot has no camera.
 */
export function frameView(project: Project, sequenceId: string, index: number): StageView {
  const picture = pictureAt(project, sequenceId, index);
  if (!picture) throw new Error(`There is no frame ${index + 1} in this cut.`);
  const { shot, cameraId, layers } = picture;
  if (shot && cameraId === null && shot.insideId === null) throw new Error(`${shot.name} has no camera.`);
  return mixedView(layers, shot?.id, (layer) => {
    const state = cameraAt(project, layer.cameraId, layer.sceneFlicks);
    return withShutter(viewOf(state, layer.sceneFlicks), project, state, (offset) => sceneTimeAround(layer, offset));
  });
}
