import { spanOf } from '../curve';
import type { Project } from '../model';
import { fingerprintOf, moveOf } from '../model';
import { isMoving } from '../set';
import { flicksPerFrame } from '../time';

/** Times at which automatic focus is measured over a move, at most. */
const MOST_MEASURES = 240;

/**
 * Fingerprint of everything that a camera's automatic focus depends on: the camera, its move, what stands in the set, and
 * the times at which it is measured. A revision stands for all of an entity.
 * @param untilFlicks where what is used of scene time ends.
 */
export function measuredFocusKey(project: Project, cameraId: string, untilFlicks: number): string {
  const revisions = (table: Readonly<Record<string, { readonly revision: string }>>) =>
    Object.values(table).map(({ revision }) => revision);
  return fingerprintOf([
    project.head.revision,
    project.cameras[cameraId]?.revision,
    moveOf(project, cameraId)?.revision,
    revisions(project.placements),
    revisions(project.assets),
    focusMeasuringTimes(project, cameraId, untilFlicks),
  ]);
}

/** Times at which automatic focus is measured, flicks: once where nothing moves, else evenly from the first to the last movement. */
export function focusMeasuringTimes(project: Project, cameraId: string, untilFlicks: number): number[] {
  const [first, last] = spanOf(moveOf(project, cameraId)?.curves ?? {}) ?? [0, 0];
  const subjects = Object.values(project.placements).some((one) => isMoving(project, one));
  const [from, to] = subjects ? [0, Math.max(last, untilFlicks)] : [first, last];
  if (to <= from) return [from];
  const perFrame = flicksPerFrame(project.head.rate);
  const step = perFrame * Math.max(1, Math.ceil((to - from) / perFrame / MOST_MEASURES));
  return Array.from({ length: Math.floor((to - from) / step) + 1 }, (_, i) => from + i * step);
}
