import type { Project, Shot } from '../model';
import { shotsInOrder } from '../model';
import { framesInFlicks } from '../time';
import { sceneGoneBy } from './speed';

/** A shot in its place in the cut: frames are counted from 0 at the sequence's start. */
export interface CutShot {
  readonly shot: Shot;
  readonly index: number;
  readonly startFrame: number;
  readonly frameCount: number;
  /** Frames before it at which nothing is seen. */
  readonly gapFrames: number;
  /** Scene time of its first frame: its own, or where the shot before it ends. */
  readonly sceneStartFlicks: number;
}

/** A sequence laid out: its shots one after another. */
export interface Cut {
  readonly shots: readonly CutShot[];
  readonly frameCount: number;
}

const cuts = new WeakMap<Project['shots'], Map<string, Cut>>();

/** The cut of a sequence at the project's rate. Computed once for each state of the shots. */
export function cutOf({ shots, head }: Pick<Project, 'shots' | 'head'>, sequenceId: string): Cut {
  const key = `${sequenceId} ${head.rate.frames}/${head.rate.seconds}`;
  let known = cuts.get(shots);
  if (!known) cuts.set(shots, (known = new Map<string, Cut>()));
  let cut = known.get(key);
  if (!cut) known.set(key, (cut = cutInOrder(shotsInOrder({ shots }, sequenceId), head.rate)));
  return cut;
}

function cutInOrder(shots: readonly Shot[], rate: Project['head']['rate']): Cut {
  const placed: CutShot[] = [];
  let frame = 0;
  for (const [index, shot] of shots.entries()) {
    const gapFrames = framesInFlicks(shot.gapFlicks, rate);
    const frameCount = Math.max(1, framesInFlicks(shot.durationFlicks, rate));
    const startFrame = frame + gapFrames;
    const before = placed.at(-1);
    const sceneStartFlicks = before && goesOn(before.shot, shot) ? sceneEndOf(before) : shot.sceneStartFlicks;
    placed.push({ shot, index, startFrame, frameCount, gapFrames, sceneStartFlicks });
    frame = startFrame + frameCount;
  }
  return { shots: placed, frameCount: frame };
}

/** Whether a shot goes on with the action of the one before it. What lies inside another sequence has that one's time. */
function goesOn(before: Shot, shot: Shot): boolean {
  return shot.continues && before.insideId === null && shot.insideId === null;
}

/** Scene time at which a shot ends: of the frame that would come next, flicks. */
export function sceneEndOf({ shot, sceneStartFlicks }: Pick<CutShot, 'shot' | 'sceneStartFlicks'>): number {
  return sceneStartFlicks + Math.round(sceneGoneBy(shot.retime, shot.durationFlicks));
}

/** The shot of a cut that has a frame, or the gap before which it is; `undefined` outside. O(log shots). */
export function shotAtFrame({ shots, frameCount }: Cut, frame: number): CutShot | undefined {
  if (!(frame >= 0 && frame < frameCount)) return undefined;
  let [low, high] = [0, shots.length - 1];
  while (low < high) {
    const middle = (low + high + 1) >>> 1;
    const { startFrame, gapFrames } = shots[middle] as CutShot;
    if (startFrame - gapFrames <= frame) low = middle;
    else high = middle - 1;
  }
  return shots[low];
}
