import { isLoop, sceneAt, sceneSpanOf } from '../camera';
import type { Project } from '../model';
import { sequencesInOrder } from '../model';
import type { Rate } from '../time';
import { flicksAtFrame, flicksPerFrame } from '../time';
import type { CutShot } from './cut';
import { cutOf } from './cut';
import { reachOf, sceneGoneBy, whenGoneBy } from './speed';

/** Scene time that a frame of a shot shows, flicks. Frames are counted from 0 at its start; those before and past it are its handles. */
export function sceneTimeOf({ shot, sceneStartFlicks }: CutShot, shotFrame: number, rate: Rate): number {
  return sceneStartFlicks + Math.round(sceneGoneBy(shot.retime, flicksAtFrame(shotFrame, rate)));
}

/** The inverse of {@link sceneTimeOf}: the first frame of a shot that shows a scene time or is nearest before it; `undefined` where none is. */
export function shotFrameAt({ shot, sceneStartFlicks, frameCount }: CutShot, sceneFlicks: number, rate: Rate) {
  const last = flicksAtFrame(frameCount, rate) - 1;
  const after = whenGoneBy(shot.retime, sceneFlicks - sceneStartFlicks, last);
  // A time that is a rounded flick off its frame is still that frame's.
  return after === undefined ? undefined : Math.floor((after + 1) / flicksPerFrame(rate));
}

/** The stretch of scene time that a shot shows, from its earliest frame to a frame past its latest one, flicks. */
export function sceneStretchOf({ shot, sceneStartFlicks }: CutShot): readonly [fromFlicks: number, toFlicks: number] {
  const [least, most] = reachOf(shot.retime, shot.durationFlicks);
  return [sceneStartFlicks + Math.round(least), sceneStartFlicks + Math.round(most)];
}

/** A stretch of scene time in which a shot shows a camera, flicks. */
export interface Stretch {
  readonly placed: CutShot;
  readonly fromFlicks: number;
  readonly toFlicks: number;
}

interface KnownStretches {
  readonly rate: Rate;
  readonly sequences: Project['sequences'];
  readonly byCamera: ReadonlyMap<string, readonly Stretch[]>;
}

const stretches = new WeakMap<Project['shots'], KnownStretches>();

/** When a camera is seen, in all sequences, in the order of their shots. Found once for each state of shots and sequences. */
export function stretchesOf(project: Project, cameraId: string): readonly Stretch[] {
  let known = stretches.get(project.shots);
  if (known?.rate !== project.head.rate || known.sequences !== project.sequences) {
    const byCamera = new Map<string, Stretch[]>();
    for (const { id } of sequencesInOrder(project)) {
      for (const placed of cutOf(project, id).shots) {
        if (placed.shot.cameraId === null) continue;
        const [fromFlicks, toFlicks] = sceneStretchOf(placed);
        const own = byCamera.get(placed.shot.cameraId) ?? [];
        byCamera.set(placed.shot.cameraId, [...own, { placed, fromFlicks, toFlicks }]);
      }
    }
    known = { rate: project.head.rate, sequences: project.sequences, byCamera };
    stretches.set(project.shots, known);
  }
  return known.byCamera.get(cameraId) ?? [];
}

/** Frame of the cut (from 0) at which a camera is seen at a scene time; `undefined` when the cut never shows that. */
export function frameSeeing(
  project: Project,
  sequenceId: string,
  cameraId: string,
  sceneFlicks: number,
): number | undefined {
  for (const placed of cutOf(project, sequenceId).shots) {
    if (placed.shot.cameraId !== cameraId) continue;
    const inside = shotFrameAt(placed, sceneFlicks, project.head.rate);
    if (inside !== undefined) return placed.startFrame + inside;
  }
  return undefined;
}

/** End of what the project uses of scene time, flicks: a frame past the last key or mark of a camera, or the end of the last shot. */
export function sceneEndFlicks(project: Project): number {
  let end = 0;
  for (const sequence of Object.values(project.sequences)) {
    for (const placed of cutOf(project, sequence.id).shots) end = Math.max(end, sceneStretchOf(placed)[1]);
  }
  const frame = flicksPerFrame(project.head.rate);
  for (const move of Object.values(project.moves)) {
    const last = sceneSpanOf(move)?.[1];
    if (last !== undefined) end = Math.max(end, isLoop(move) ? last : last + frame);
    for (const mark of move.marks) end = Math.max(end, (sceneAt(move, mark.atFlicks) ?? 0) + frame);
  }
  return end;
}
