import type { Vector } from '@arvex/core';
import { onPlane, sightThrough } from '@arvex/core';
import type { StageView } from '@arvex/stage';

/** Farther than this the plan's own ground is taken for the horizon, metres. */
const HORIZON_M = 200;

/** Where the sight under the pointer meets the plan's own ground, for a set that has none there; nothing above the horizon. */
export function groundUnder(
  { clientX, clientY }: MouseEvent,
  pane: HTMLElement,
  view: StageView | undefined,
): { readonly pointM: Vector; readonly normal: Vector } | undefined {
  if (!view) return undefined;
  const box = pane.getBoundingClientRect();
  const [x, y] = [(clientX - box.left) / box.width, (clientY - box.top) / box.height];
  const ray = sightThrough(x, y, view.pose, view.lens, view.window);
  const pointM = onPlane(ray, [0, 0, 0], [0, 1, 0]);
  if (!pointM || Math.hypot(pointM[0] - ray.fromM[0], pointM[2] - ray.fromM[2]) > HORIZON_M) return undefined;
  return { pointM, normal: [0, 1, 0] };
}
