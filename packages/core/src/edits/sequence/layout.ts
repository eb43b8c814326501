import type { Operation, Project, Shot } from '../../model';
import { existing, orderBetween } from '../../model';
import { cutOf, sceneEndOf } from '../../sequence';
import type { Edit } from '../edit';
import { creation, deletion, patching } from '../edit';
import { soundGoingAlong } from './going-along';
import type { LaidShot } from './laid-shot';

/** The shots of a sequence as they are, each with the scene time that it shows now. */
export function laidOut(project: Project, sequenceId: string): LaidShot[] {
  return cutOf(project, sequenceId).shots.map(({ shot, sceneStartFlicks }) => ({ shot, sceneStartFlicks }));
}

/** Where a shot stands in a row of them. @throws CoreError `unknown-entity`. */
export function indexOf(project: Project, laid: readonly LaidShot[], shotId: string): number {
  existing(project, 'shot', shotId);
  return laid.findIndex(({ shot }) => shot.id === shotId);
}

/** The shot with some of its parts changed, at the scene time that it has. */
export function withParts({ shot, ...place }: LaidShot, parts: Partial<Shot>): LaidShot {
  return { ...place, shot: { ...shot, ...parts } };
}

/**
 * The edit that makes a sequence so. A shot that continues goes on doing so where the one before it ends just when it begins;
 * otherwise it gets a scene time of its own, so that nothing shows anything else than what the edit means. Sound and markers go along
 * with the shot in which they begin.
 */
export function relaid(project: Project, sequenceId: string, name: string, laid: readonly LaidShot[]): Edit {
  const was = cutOf(project, sequenceId).shots.map(({ shot }) => shot);
  const left = new Set(laid.map(({ shot }) => shot.id));
  const operations: Operation[] = was.filter(({ id }) => !left.has(id)).map(({ id }) => deletion(project, 'shot', id));
  const ordered = inOrder(
    laid.map(({ shot }) => shot),
    new Set(was.map(({ id }) => id)),
  );
  let before: { shot: Shot; sceneStartFlicks: number } | undefined;
  for (const [i, { sceneStartFlicks: wanted }] of laid.entries()) {
    const shot = ordered[i] as Shot;
    const isOpen = before?.shot.insideId === null && shot.insideId === null;
    const end = before && isOpen ? sceneEndOf(before) : undefined;
    const start = wanted ?? end ?? shot.sceneStartFlicks;
    const continues = shot.continues && (end === undefined ? before === undefined : start === end);
    // What it would begin with by itself is kept where it goes on with the action.
    const sceneStartFlicks = continues && end !== undefined ? shot.sceneStartFlicks : Math.max(0, start);
    const isAsItWas = continues === shot.continues && sceneStartFlicks === shot.sceneStartFlicks;
    const next = isAsItWas ? shot : { ...shot, continues, sceneStartFlicks };
    operations.push(...written(project, next));
    before = { shot: next, sceneStartFlicks: start };
  }
  return { name, operations: [...operations, ...soundGoingAlong(project, sequenceId, laid)] };
}

/** A shot that is new is made; of one that was there, what differs is written. */
function written(project: Project, next: Shot): Operation[] {
  const was = project.shots[next.id];
  if (was === next) return [];
  const { revision: _revision, ...own } = next;
  if (!was) return [creation('shot', own)];
  const { id, ...parts } = own;
  const patch = patching(project, 'shot', id, parts);
  return Object.keys(patch.fields).length + (patch.parts?.length ?? 0) > 0 ? [patch] : [];
}

/** The same shots with places in the order that sort as they stand here: those that are new or must change get another one. */
function inOrder(shots: readonly Shot[], known: ReadonlySet<string>): Shot[] {
  const kept = risingIds(shots.filter(({ id }) => known.has(id)));
  let before: string | undefined;
  return shots.map((shot, i) => {
    if (kept.has(shot.id)) {
      before = shot.order;
      return shot;
    }
    const after = shots.slice(i + 1).find(({ id }) => kept.has(id))?.order;
    before = orderBetween(before, after, shot.id);
    return { ...shot, order: before };
  });
}

/** Ids of the longest row of shots whose order rises already: a longest increasing subsequence, by patience sorting. */
function risingIds(shots: readonly Shot[]): ReadonlySet<string> {
  const tops: number[] = [];
  const previous: (number | undefined)[] = [];
  for (const [i, { order }] of shots.entries()) {
    let [low, high] = [0, tops.length];
    while (low < high) {
      const middle = (low + high) >>> 1;
      if ((shots[tops[middle] as number] as Shot).order < order) low = middle + 1;
      else high = middle;
    }
    previous[i] = tops[low - 1];
    tops[low] = i;
  }
  const ids = new Set<string>();
  for (let i = tops.at(-1); i !== undefined; i = previous[i]) ids.add((shots[i] as Shot).id);
  return ids;
}
