import { sceneAt, sceneSpanOf } from '../camera';
import type { Project, Shot } from '../model';
import { shotsInOrder } from '../model';
import { flicksAtFrame, flicksPerFrame, framesInFlicks } from '../time';

/** A shot in its place in the cut: frames are counted from 0 at the sequence's start. */
export interface CutShot {
  readonly shot: Shot;
  readonly startFrame: number;
  readonly frameCount: number;
}

/** A sequence laid out: its shots one after another. */
export interface Cut {
  readonly shots: readonly CutShot[];
  readonly frameCount: number;
}

const cuts = new WeakMap<Project['shots'], Map<string, Cut>>();

/** The cut of a sequence at the project's rate. Computed once for each state of the shots. */
export function cutOf(project: Project, sequenceId: string): Cut {
  const key = `${sequenceId} ${project.head.rate.frames}/${project.head.rate.seconds}`;
  const known = cuts.get(project.shots) ?? new Map<string, Cut>();
  const found = known.get(key);
  if (found) return found;
  const shots: CutShot[] = [];
  let startFrame = 0;
  for (const shot of shotsInOrder(project, sequenceId)) {
    const frameCount = Math.max(1, framesInFlicks(shot.durationFlicks, project.head.rate));
    shots.push({ shot, startFrame, frameCount });
    startFrame += frameCount;
  }
  const cut = { shots, frameCount: startFrame };
  cuts.set(project.shots, known.set(key, cut));
  return cut;
}

/** What is seen at one frame of the cut. */
export interface SequencePicture {
  readonly shot: Shot;
  /** Counted from 0 within the shot. */
  readonly shotFrame: number;
  /** `null` when the shot has no camera. */
  readonly cameraId: string | null;
  /** Scene time at which the camera and the subjects are seen, flicks. */
  readonly sceneFlicks: number;
  readonly transition: 'cut';
  readonly transitionWeight: number;
}

/**
 * What is seen at a frame of the cut, counted from 0; `undefined` outside it. O(log shots).
 * The first frame of a shot is the first that shows its camera: nothing is interpolated across a cut.
 */
export function pictureAt(project: Project, sequenceId: string, frame: number): SequencePicture | undefined {
  const { shots, frameCount } = cutOf(project, sequenceId);
  if (!(frame >= 0 && frame < frameCount)) return undefined;
  let low = 0;
  let high = shots.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >>> 1;
    if ((shots[middle] as CutShot).startFrame <= frame) low = middle;
    else high = middle - 1;
  }
  const { shot, startFrame } = shots[low] as CutShot;
  const shotFrame = Math.floor(frame) - startFrame;
  return {
    shot,
    shotFrame,
    cameraId: shot.cameraId,
    sceneFlicks: shot.sceneStartFlicks + flicksAtFrame(shotFrame, project.head.rate),
    transition: 'cut',
    transitionWeight: 1,
  };
}

/** Frame of the cut (from 0) at which a camera is seen at a scene time; `undefined` when the cut never shows that. */
export function frameSeeing(
  project: Project,
  sequenceId: string,
  cameraId: string,
  sceneFlicks: number,
): number | undefined {
  const perFrame = flicksPerFrame(project.head.rate);
  for (const { shot, startFrame, frameCount } of cutOf(project, sequenceId).shots) {
    const inside = Math.floor((sceneFlicks - shot.sceneStartFlicks) / perFrame);
    if (shot.cameraId === cameraId && inside >= 0 && inside < frameCount) return startFrame + inside;
  }
  return undefined;
}

/** End of what the project uses of scene time, flicks: a frame past the last key or mark of a camera, or the end of the last shot. */
export function sceneEndFlicks(project: Project): number {
  let end = 0;
  for (const shot of Object.values(project.shots)) end = Math.max(end, shot.sceneStartFlicks + shot.durationFlicks);
  for (const move of Object.values(project.moves)) {
    const last = sceneSpanOf(move)?.[1];
    if (last !== undefined) end = Math.max(end, last + flicksPerFrame(project.head.rate));
    for (const mark of move.marks) {
      end = Math.max(end, (sceneAt(move, mark.atFlicks) ?? 0) + flicksPerFrame(project.head.rate));
    }
  }
  return end;
}
