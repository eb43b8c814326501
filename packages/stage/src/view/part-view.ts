import type { CameraState, OrderPart, Project, RenderOrder } from '@arvex/core';
import { cameraAt, partPicture, sceneTimeAround } from '@arvex/core';
import { mixedView } from './mixed-view';
import type { Rendering } from './rendering';
import { renderingOf } from './rendering';
import { withShutter } from './shutter';
import type { StageView } from './view';
import { viewOf } from './view';

/**
 * What a frame of a part of an order shows: through the lens and the shutter as the order has them, mixed where the cut dissolves or
 * fades; black in a gap. `source` counts as the part's runs do.
 * @param project as the order shows it: see `orderedProject`.
 * @throws Error where there is no such frame, or its shot has no camera.
 */
export function partView(project: Project, order: RenderOrder, part: OrderPart, source: number): StageView {
  const seen = partPicture(project, part, source);
  const rendering = renderingOf(order);
  const through = (state: CameraState, atFlicks: number, timeAround?: (offset: number) => number) =>
    cameraView(project, order, { state, atFlicks, rendering }, timeAround);
  if (seen.kind === 'camera') {
    const { cameraId, variationId, sceneFlicks } = seen;
    return through(cameraAt(project, cameraId, sceneFlicks, undefined, variationId), sceneFlicks);
  }
  const view = mixedView(seen.layers, seen.shot?.id, (layer) =>
    through(
      cameraAt(project, layer.cameraId, layer.sceneFlicks, undefined, layer.variationId),
      layer.sceneFlicks,
      (offset) => sceneTimeAround(layer, offset),
    ),
  );
  return view.rendering ? view : { ...view, rendering };
}

interface PartSeen {
  readonly state: CameraState;
  readonly atFlicks: number;
  readonly rendering: Rendering;
}

function cameraView(
  project: Project,
  order: RenderOrder,
  { state, atFlicks, rendering }: PartSeen,
  timeAround?: (offset: number) => number,
): StageView {
  const how = { sky: order.background.kind === 'sky', ...(!order.depthOfField && { aperture: undefined }) };
  const view = { ...viewOf(state, atFlicks, undefined, how), rendering };
  return order.shutter.blur ? withShutter(view, project, state, timeAround) : view;
}
