import { cameraAt, isLoop, sceneSpanOf } from '../camera';
import { variationsOf } from '../edits/looks';
import type { Project } from '../model';
import { camerasInOrder, moveOf } from '../model';
import type { CutShot } from '../sequence';
import { cutOf, handlesOf, stretchesOf } from '../sequence';
import { flicksAtFrame, frameAtFlicks } from '../time';
import type { RenderOrder } from './order';
import type { OrderPart, PartRun } from './part';

type Pictures = Extract<PartRun, { kind: 'pictures' }>;
type Subject = OrderPart['subject'];

/** The runs of frames that an order asks for, in their order. What has no frames in its range is left out. */
export function partsOf(project: Project, order: RenderOrder): OrderPart[] {
  const { what } = order;
  if (what.kind === 'cut') return cutPart(project, order, what.sequenceId);
  if (what.kind === 'shots') return shotParts(project, order, what.sequenceId, what.shotIds);
  if (what.kind === 'still') {
    const subject = { kind: 'cut', sequenceId: what.sequenceId } as const;
    const title = project.sequences[what.sequenceId]?.name ?? '';
    return part(project, order, subject, title, [pictures(project, what.frame, 1)]);
  }
  if (what.kind === 'camera-still')
    return cameraPart(project, { ...order, frames: { ...order.frames, range: null } }, what.cameraId, [
      what.frame,
      what.frame,
    ]);
  const cameras = camerasInOrder(project).filter(({ disabled }) => !disabled || what.cameraIds !== null);
  const chosen = what.cameraIds;
  return cameras
    .filter(({ id }) => chosen === null || chosen.includes(id))
    .flatMap(({ id }) => cameraPart(project, order, id, ownRange(project, id)));
}

/**
 * A camera's own range: its move (of a loop one round, no frame twice), else where shots look through it, else its first frame. Frames of
 * scene time, both included.
 */
export function ownRange(project: Project, cameraId: string): readonly [first: number, last: number] {
  const { rate } = project.head;
  const move = moveOf(project, cameraId);
  const span = sceneSpanOf(move);
  // A time that is a rounded flick off its frame is still that frame's.
  const frame = (flicks: number) => Math.max(0, frameAtFlicks(flicks + 1, rate));
  if (move && span && span[1] > span[0]) {
    return [frame(span[0]), Math.max(frame(span[0]), frame(span[1]) - (isLoop(move) ? 1 : 0))];
  }
  const shown = stretchesOf(project, cameraId);
  if (shown.length === 0) return span ? [frame(span[0]), frame(span[0])] : [0, 0];
  const from = Math.min(...shown.map(({ fromFlicks }) => fromFlicks));
  const to = Math.max(...shown.map(({ toFlicks }) => toFlicks));
  return [frame(from), Math.max(frame(from), frame(to) - 1)];
}

function cutPart(project: Project, order: RenderOrder, sequenceId: string): OrderPart[] {
  const { shots, frameCount } = cutOf(project, sequenceId);
  const { firstFrame } = project.head;
  const { range } = order.frames;
  const first = Math.max(0, (range?.first ?? firstFrame) - firstFrame);
  const last = Math.min(frameCount - 1, (range?.last ?? Infinity) - firstFrame);
  const title = project.sequences[sequenceId]?.name ?? '';
  const subject = { kind: 'cut', sequenceId } as const;
  if (order.slateFrames === 0) return part(project, order, subject, title, stepped(project, order, first, last));
  if (order.slates === 'head') {
    const runs = stepped(project, order, first, last);
    return part(project, order, subject, title, runs.length === 0 ? [] : [slate(order, null, null), ...runs]);
  }
  // A slate stands before each shot: the cut is taken apart there.
  const runs = shots.flatMap(({ shot, startFrame, frameCount: length, gapFrames }): PartRun[] => {
    const [from, to] = [Math.max(first, startFrame - gapFrames), Math.min(last, startFrame + length - 1)];
    const own = stepped(project, order, from, to);
    return own.length === 0 ? [] : [slate(order, shot.id, shot.cameraId), ...own];
  });
  return part(project, order, subject, title, runs);
}

function shotParts(
  project: Project,
  order: RenderOrder,
  sequenceId: string,
  shotIds: readonly string[] | null,
): OrderPart[] {
  return cutOf(project, sequenceId)
    .shots.filter(({ shot }) => shotIds === null || shotIds.includes(shot.id))
    .flatMap((placed) => {
      const { shot, startFrame } = placed;
      const [from, to] = rangeOfShot(project, order, placed);
      const runs = stepped(project, order, from, to, startFrame);
      const all = order.slateFrames > 0 && runs.length > 0 ? [slate(order, shot.id, shot.cameraId), ...runs] : runs;
      return variationsAsked(project, order, shot.cameraId).flatMap(({ id: variationId, words }) => {
        const subject = { kind: 'shot', sequenceId, shotId: shot.id, variationId } as const;
        return part(project, order, subject, `${shot.name}${words}`, all);
      });
    });
}

/** First and last frame of a shot that is rendered by itself, from 0 at its start. */
function rangeOfShot(project: Project, { frames }: RenderOrder, { shot, startFrame, frameCount }: CutShot) {
  const { inFrames, outFrames } = frames.handles ? handlesOf(project, shot) : { inFrames: 0, outFrames: 0 };
  const offset = startFrame + project.head.firstFrame;
  const first = Math.max(-inFrames, (frames.range?.first ?? -Infinity) - offset);
  const last = Math.min(frameCount - 1 + outFrames, (frames.range?.last ?? Infinity) - offset);
  return [first, last] as const;
}

function cameraPart(project: Project, order: RenderOrder, cameraId: string, own: readonly [number, number]) {
  const camera = project.cameras[cameraId];
  if (!camera) return [];
  const { firstFrame } = project.head;
  const { range } = order.frames;
  const [first, last] = range ? [Math.max(0, range.first - firstFrame), range.last - firstFrame] : own;
  const runs = stepped(project, order, first, last);
  const all: PartRun[] = order.slateFrames > 0 && runs.length > 0 ? [slate(order, null, cameraId), ...runs] : runs;
  return variationsAsked(project, order, cameraId).flatMap(({ id: variationId, words }) =>
    part(project, order, { kind: 'camera', cameraId, variationId }, `${camera.name}${words}`, all),
  );
}

/** Which variations of a camera are rendered, and how they are told apart. A camera of which none is asked is rendered as it is worn. */
function variationsAsked({ cameras }: Project, { variations }: RenderOrder, cameraId: string | null) {
  const asWorn = [{ id: null, words: '' }];
  const camera = cameras[cameraId ?? ''];
  if (variations === 'worn' || !camera) return asWorn;
  const asked = variationsOf(camera).filter(({ id }) => variations === 'all' || variations.includes(id));
  return asked.length > 0 ? asked.map(({ id, name }) => ({ id, words: `, ${name}` })) : asWorn;
}

function slate({ slateFrames, frames }: RenderOrder, shotId: string | null, cameraId: string | null): PartRun {
  // Where every so many-th frame leaves, each lasts so much longer: a slate is as long as it was asked for.
  return { kind: 'slate', count: Math.ceil(slateFrames / frames.step), shotId, cameraId };
}

function pictures({ head }: Project, from: number, count: number, step = 1, offset = 0): Pictures {
  return { kind: 'pictures', count, from, step, number: head.firstFrame + from + offset };
}

/** Every so many-th frame from the first to the last one, both included. */
function stepped(project: Project, { frames }: RenderOrder, first: number, last: number, offset = 0): PartRun[] {
  if (last < first) return [];
  return [pictures(project, first, Math.floor((last - first) / frames.step) + 1, frames.step, offset)];
}

function part(project: Project, order: RenderOrder, subject: Subject, title: string, runs: readonly PartRun[]) {
  if (runs.length === 0) return [];
  const [frameWidthPx, frameHeightPx] = frameSize(project, order, subject);
  return [{ subject, title, runs: [...runs], frameWidthPx, frameHeightPx }];
}

/** Size of the delivered frame of what is shown, pixels: all of it as it is set, a share of it even, as movies want it. */
function frameSize(project: Project, { size }: RenderOrder, subject: Subject): readonly [number, number] {
  if (size.kind === 'typed') return [size.widthPx, size.heightPx];
  const { widthPx, heightPx } = deliveryOf(project, subject);
  if (size.share === 1) return [widthPx, heightPx];
  const even = (px: number) => Math.max(2, 2 * Math.round((px * size.share) / 2));
  return [even(widthPx), even(heightPx)];
}

function deliveryOf(project: Project, subject: Subject) {
  const cameraId =
    subject.kind === 'camera'
      ? subject.cameraId
      : subject.kind === 'shot'
        ? project.shots[subject.shotId]?.cameraId
        : null;
  if (cameraId == null || !project.cameras[cameraId]) return project.head.delivery;
  return cameraAt(project, cameraId, flicksAtFrame(0, project.head.rate)).framing.delivery;
}
