import type { CameraState } from '../camera';
import { cameraAt, sceneSpanOf } from '../camera';
import type { Camera, Project } from '../model';
import { moveOf } from '../model';
import { stretchesOf } from '../sequence';
import { flicksPerFrame } from '../time';

/** Moments of a camera that are looked at, at most: the ends of each shot, its keys, and evenly between. */
const MOST_MOMENTS = 48;

/** A camera at a moment at which somebody sees it. */
export interface Moment {
  readonly atFlicks: number;
  readonly state: CameraState;
}

/** A camera at moments over all that is seen of it: its shots, or its move where no shot shows it; in order of time. */
export function momentsOf(project: Project, camera: Camera): readonly Moment[] {
  return timesSeen(project, camera).map((atFlicks) => ({ atFlicks, state: cameraAt(project, camera.id, atFlicks) }));
}

function timesSeen(project: Project, camera: Camera): number[] {
  const frame = flicksPerFrame(project.head.rate);
  const shown = stretchesOf(project, camera.id);
  const span = sceneSpanOf(moveOf(project, camera.id));
  const stretches: (readonly [number, number])[] =
    shown.length > 0
      ? shown.map(({ fromFlicks, toFlicks }) => [fromFlicks, Math.max(fromFlicks, toFlicks - frame)])
      : [span ?? [0, 0]];
  const each = Math.max(2, Math.floor(MOST_MOMENTS / stretches.length));
  const times = stretches.slice(0, MOST_MOMENTS).flatMap(([from, to]) => {
    const count = Math.min(each, Math.round((to - from) / frame) + 1);
    return Array.from({ length: count }, (_, i) => {
      const at = count === 1 ? from : from + ((to - from) * i) / (count - 1);
      return from + Math.round((at - from) / frame) * frame;
    });
  });
  return [...new Set(times)].sort((a, b) => a - b);
}
