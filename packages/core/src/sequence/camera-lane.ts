import { sceneSpanOf } from '../camera';
import type { Project } from '../model';
import { moveOf } from '../model';
import { flicksPerFrame } from '../time';
import type { CutShot } from './cut';
import { cutOf } from './cut';
import { sceneStretchOf, sceneTimeOf, shotFrameAt } from './shot-time';
import { speedAfter } from './speed';

/** Frames of the cut, the last one not included. */
interface LaneSpan {
  readonly from: number;
  readonly to: number;
}

/** Where a camera is in a cut: the shots that look through it, and where its move goes on under the action, seen or not. */
export interface CameraLane {
  readonly used: readonly (LaneSpan & { readonly shotId: string })[];
  readonly moves: readonly LaneSpan[];
}

/** The lane of a camera. What was thrown away under a shot is left out there. */
export function cameraLane(project: Project, sequenceId: string, cameraId: string): CameraLane {
  const { shots } = cutOf(project, sequenceId);
  const span = sceneSpanOf(moveOf(project, cameraId));
  const used = shots
    .filter(({ shot }) => shot.cameraId === cameraId)
    .map(({ shot, startFrame: from, frameCount }) => ({ from, to: from + frameCount, shotId: shot.id }));
  if (!span) return { used, moves: [] };
  const moves = shots
    .filter(({ shot }) => shot.insideId === null && !shot.without.includes(cameraId))
    .flatMap((placed) => moveUnder(project, placed, span, placed.shot.cameraId === cameraId));
  return { used, moves: merged(moves) };
}

/** The frames of a shot at which a move goes on; beyond its ends too where the shot is of the camera that moves. */
function moveUnder(
  project: Project,
  placed: CutShot,
  [first, last]: readonly [number, number],
  own: boolean,
): LaneSpan[] {
  const { rate } = project.head;
  const [from, to] = sceneStretchOf(placed);
  const frame = flicksPerFrame(rate);
  if (last < from || first > to - frame) return [];
  const inside = [first, last].map((flicks) => shotFrameAt(placed, Math.max(from, Math.min(to - frame, flicks)), rate));
  const [a, b] = [inside[0] ?? 0, inside[1] ?? placed.frameCount - 1];
  let [begin, end] = [Math.min(a, b), Math.max(a, b) + 1];
  if (own) {
    const [before, after] = [-1, placed.frameCount].map((index) =>
      Math.abs(speedAfter(placed.shot.retime, index * frame)),
    );
    const isForward = sceneTimeOf(placed, placed.frameCount, rate) >= placed.sceneStartFlicks;
    const [early, late] = isForward ? [from - first, last - to] : [last - to, from - first];
    if (early > 0 && before) begin -= Math.floor(early / frame / before);
    if (late > 0 && after) end += Math.floor(late / frame / after);
  }
  return [{ from: Math.max(0, placed.startFrame + begin), to: placed.startFrame + end }];
}

/** Spans that meet or overlap as one. */
function merged(spans: readonly LaneSpan[]): LaneSpan[] {
  const rising = [...spans].sort((a, b) => a.from - b.from);
  const whole: LaneSpan[] = [];
  for (const span of rising) {
    const before = whole.at(-1);
    if (before && span.from <= before.to)
      whole[whole.length - 1] = { from: before.from, to: Math.max(before.to, span.to) };
    else whole.push(span);
  }
  return whole;
}
