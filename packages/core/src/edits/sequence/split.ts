import { CoreError } from '../../error';
import type { Project, Shot, Take } from '../../model';
import { CUT, existing } from '../../model';
import { cutOf, isTrueSpeed, retimeFrom, sceneGoneBy, shotAtFrame } from '../../sequence';
import { flicksAtFrame } from '../../time';
import type { Edit } from '../edit';
import type { LaidShot } from './laid-shot';
import { laidOut, relaid } from './layout';
import { nameAfter } from './names';
import { beginningLater } from './trim';

/** Divides the shot at a frame of the cut (from 0) in two; the second goes on with the action. @throws CoreError `out-of-range` at a joint. */
export function splitShot(project: Project, sequenceId: string, frame: number, newId: string): Edit {
  const placed = shotAtFrame(cutOf(project, sequenceId), frame);
  if (!placed || frame <= placed.startFrame) {
    throw new CoreError('out-of-range', 'There is no shot to split here: the playhead stands at a joint, or in a gap.');
  }
  const laid = dividedAt(project, laidOut(project, sequenceId), frame, () => newId);
  return relaid(project, sequenceId, `Split ${placed.shot.name}`, laid);
}

/** Where somebody cut to a camera, counted from 0 in the cut. */
export interface Stroke {
  readonly frame: number;
  readonly cameraId: string;
}

/**
 * Cuts to cameras at frames of the cut, the action going on: each holds until the next one, the last until its shot ends. Cuts that
 * were there between go. What shows the same camera on both sides of a joint and goes on is one shot again.
 * @param ids makes an id for each shot that is new.
 */
export function cutToCameras(
  project: Project,
  sequenceId: string,
  strokes: readonly Stroke[],
  ids: () => string,
): Edit {
  const rising = [...strokes].sort((a, b) => a.frame - b.frame);
  const cut = cutOf(project, sequenceId);
  let laid = laidOut(project, sequenceId);
  for (const { frame } of rising) laid = dividedAt(project, laid, frame, ids);
  const last = shotAtFrame(cut, rising.at(-1)?.frame ?? -1);
  const end = last ? last.startFrame + last.frameCount : 0;
  const unit = flicksAtFrame(1, project.head.rate);
  let frame = 0;
  laid = laid.map((one) => {
    const start = frame + Math.round(one.shot.gapFlicks / unit);
    frame = start + Math.round(one.shot.durationFlicks / unit);
    const stroke = rising.findLast((at) => at.frame <= start);
    if (!stroke || start >= end || one.shot.insideId !== null) return one;
    const variationId = one.shot.cameraId === stroke.cameraId ? one.shot.variationId : null;
    return { ...one, shot: { ...one.shot, cameraId: stroke.cameraId, variationId, lostCamera: '' } };
  });
  const names = [...new Set(rising.map(({ cameraId }) => existing(project, 'camera', cameraId).name))];
  const what = names.length === 1 ? (names[0] ?? '') : `${rising.length} times live`;
  return relaid(project, sequenceId, `Cut to ${what}`, joined(laid, rising[0]?.frame ?? 0, end, unit));
}

/** Makes one shot of each that goes on where the one before it ends, with the same camera, within some frames. */
function joined(laid: readonly LaidShot[], from: number, to: number, unit: number): LaidShot[] {
  const kept: LaidShot[] = [];
  let frame = 0;
  for (const one of laid) {
    const before = kept.at(-1);
    const start = frame + Math.round(one.shot.gapFlicks / unit);
    frame = start + Math.round(one.shot.durationFlicks / unit);
    if (before && start >= from && start <= to && isOneWith(before, one)) {
      const { durationFlicks, fadeOut, handleOutFlicks } = one.shot;
      const shot = { ...before.shot, durationFlicks: before.shot.durationFlicks + durationFlicks };
      kept[kept.length - 1] = { ...before, shot: { ...shot, fadeOut, handleOutFlicks } };
    } else kept.push(one);
  }
  return kept;
}

/** Whether the picture goes on unbroken from one shot to the next. Shots with other takes, or with a speed of their own, are never merged in passing. */
function isOneWith(before: LaidShot, after: LaidShot): boolean {
  const [a, b] = [before.shot, after.shot];
  const end = (before.sceneStartFlicks ?? 0) + a.durationFlicks;
  const plain = isTrueSpeed(a.retime) && isTrueSpeed(b.retime) && a.takes.length + b.takes.length === 0;
  const joint = b.gapFlicks === 0 && b.entry.kind === 'cut' && a.fadeOut === null;
  return (
    plain &&
    joint &&
    a.insideId === null &&
    a.cameraId === b.cameraId &&
    a.variationId === b.variationId &&
    after.sceneStartFlicks === end
  );
}

/** The row with the shot at a frame divided there; as it is at a joint, in a gap and outside. */
function dividedAt(project: Project, laid: readonly LaidShot[], frame: number, ids: () => string): LaidShot[] {
  const unit = flicksAtFrame(1, project.head.rate);
  let start = 0;
  for (const [i, one] of laid.entries()) {
    start += Math.round(one.shot.gapFlicks / unit);
    const frames = Math.round(one.shot.durationFlicks / unit);
    if (frame > start && frame < start + frames) {
      const taken = new Set(Object.values(project.shots).map(({ name }) => name));
      for (const { shot } of laid) taken.add(shot.name);
      return laid.toSpliced(i, 1, ...halves(one, (frame - start) * unit, ids(), taken));
    }
    start += frames;
  }
  return [...laid];
}

/** A shot as two: takes are divided too, as far as they reach. */
function halves(one: LaidShot, atFlicks: number, id: string, taken: ReadonlySet<string>): readonly LaidShot[] {
  const { shot } = one;
  const first: Shot = {
    ...shot,
    durationFlicks: atFlicks,
    fadeOut: null,
    handleOutFlicks: null,
    takes: shot.takes.map((take) => ({ ...take, durationFlicks: Math.min(take.durationFlicks, atFlicks) })),
  };
  const second = beginningLater(one, atFlicks);
  const rest: Shot = {
    ...second.shot,
    id,
    name: nameAfter(shot.name, taken),
    gapFlicks: 0,
    entry: CUT,
    handleInFlicks: null,
    continues: shot.insideId === null,
    meant: [],
    takes: shot.takes.flatMap((take) => takeFrom(take, atFlicks)),
  };
  return [
    { ...one, shot: first },
    { ...second, shot: rest },
  ];
}

function takeFrom(take: Take, afterFlicks: number): Take[] {
  if (take.durationFlicks <= afterFlicks) return [];
  const sceneStartFlicks = Math.max(0, take.sceneStartFlicks + Math.round(sceneGoneBy(take.retime, afterFlicks)));
  const durationFlicks = take.durationFlicks - afterFlicks;
  return [{ ...take, sceneStartFlicks, durationFlicks, retime: retimeFrom(take.retime, afterFlicks) }];
}
