import { sceneSpanOf } from '../camera';
import type { Project } from '../model';
import { moveOf } from '../model';
import type { Rate } from '../time';
import { flicksAtFrame, flicksPerFrame } from '../time';
import type { CutShot } from './cut';
import { cutOf } from './cut';
import { sceneStretchOf, sceneTimeOf, shotFrameAt } from './shot-time';
import { speedAfter } from './speed';

/** So little before the end of a stretch is still its last frame, at any speed, flicks. */
const ROUNDED = 1000;

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

/** The lane of a camera. A shot that shows another sequence uses the cameras that are seen in that. What was thrown away under a shot is left out there. */
export function cameraLane(project: Project, sequenceId: string, cameraId: string): CameraLane {
  const { shots } = cutOf(project, sequenceId);
  const span = sceneSpanOf(moveOf(project, cameraId));
  const used = shots.flatMap((placed) => usedIn(project, placed, cameraId));
  if (!span) return { used, moves: [] };
  const moves = shots
    .filter(({ shot }) => shot.insideId === null && !shot.without.includes(cameraId))
    .flatMap((placed) => moveUnder(project, placed, span, placed.shot.cameraId === cameraId));
  return { used, moves: merged(moves) };
}

/** The cameras that are seen in a sequence, and in those inside it. */
export function camerasSeenIn(project: Project, sequenceId: string): ReadonlySet<string> {
  const seen = new Set<string>();
  for (const { shot } of cutOf(project, sequenceId).shots) {
    if (shot.insideId !== null) camerasSeenIn(project, shot.insideId).forEach((id) => seen.add(id));
    else if (shot.cameraId !== null) seen.add(shot.cameraId);
  }
  return seen;
}

/** The frames of a shot at which a camera is seen. */
function usedIn(project: Project, placed: CutShot, cameraId: string): CameraLane['used'][number][] {
  const { shot, startFrame, frameCount } = placed;
  if (shot.insideId !== null) {
    const { rate } = project.head;
    const spans = cameraLane(project, shot.insideId, cameraId).used.flatMap(({ from, to }) =>
      framesShowing(placed, [flicksAtFrame(from, rate), flicksAtFrame(to, rate) - ROUNDED], rate),
    );
    return merged(spans).map((span) => ({ ...span, shotId: shot.id }));
  }
  return shot.cameraId === cameraId ? [{ from: startFrame, to: startFrame + frameCount, shotId: shot.id }] : [];
}

/** The frames of the cut at which a shot shows a stretch of its scene time, from the first to the last flick of it. */
function framesShowing(placed: CutShot, [first, last]: readonly [number, number], rate: Rate): LaneSpan[] {
  const [from, to] = sceneStretchOf(placed);
  const frame = flicksPerFrame(rate);
  if (last < from || first > to - frame) return [];
  const [a = 0, b = placed.frameCount - 1] = [first, last].map((flicks) =>
    shotFrameAt(placed, Math.max(from, Math.min(to - ROUNDED, flicks)), rate),
  );
  return [{ from: placed.startFrame + Math.min(a, b), to: placed.startFrame + Math.max(a, b) + 1 }];
}

/** The frames of a shot at which a move goes on; beyond its ends too where the shot is of the camera that moves. */
function moveUnder(
  project: Project,
  placed: CutShot,
  [first, last]: readonly [number, number],
  own: boolean,
): LaneSpan[] {
  const { rate } = project.head;
  const [inside] = framesShowing(placed, [first, last], rate);
  if (!inside) return [];
  let { from: begin, to: end } = inside;
  if (own) {
    const frame = flicksPerFrame(rate);
    const [from, to] = sceneStretchOf(placed);
    const [before, after] = [-1, placed.frameCount].map((index) =>
      Math.abs(speedAfter(placed.shot.retime, index * frame)),
    );
    const isForward = sceneTimeOf(placed, placed.frameCount, rate) >= placed.sceneStartFlicks;
    const [early, late] = isForward ? [from - first, last - to] : [last - to, from - first];
    if (early > 0 && before) begin -= Math.floor(early / frame / before);
    if (late > 0 && after) end += Math.floor(late / frame / after);
  }
  return [{ from: Math.max(0, begin), to: end }];
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
