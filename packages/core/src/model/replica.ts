import { CoreError } from '../error';
import { applied } from './apply';
import type { PlacedChange, Change, Operation } from './change';
import type { MeasuredFocus } from './measured-focus';
import type { Project } from './project';
import { broughtUp, isClash } from './rebase';

/**
 * A copy of a project that one writer works on: what the server has confirmed, the writer's own changes that still wait, and what
 * is shown, which is the first with the second on top.
 */
export interface Replica {
  readonly confirmed: Project;
  /** Own changes that the server has not confirmed, in the order in which they were made. */
  readonly waiting: readonly Change[];
  /** What was confirmed while something waited: waiting changes are brought up to it. Empty when nothing waits. */
  readonly since: readonly Change[];
  /** Whether others may have written since the first waiting change was made. Where not, a change that is confirmed is shown already. */
  readonly isMixed: boolean;
  readonly shown: Project;
}

/**
 * What happens to a replica.
 * - `made`: the writer made a change on top of what is shown.
 * - `confirmed`: the server has applied a change, own or another writer's; it has to be the next one, see {@link placeOf}.
 * - `read`: the project was read anew from the server.
 * - `dropped`: own changes are given up.
 * - `exchanged`: an own change is put in the place of the waiting one that has its id.
 * - `measured`: something was measured of a camera; that is no change.
 */
export type ReplicaEvent =
  | { readonly kind: 'made'; readonly change: Change }
  | { readonly kind: 'confirmed'; readonly applied: PlacedChange }
  | { readonly kind: 'read'; readonly project: Project }
  | { readonly kind: 'dropped'; readonly ids: ReadonlySet<string> }
  | { readonly kind: 'exchanged'; readonly change: Change }
  | { readonly kind: 'measured'; readonly cameraId: string; readonly measured: MeasuredFocus };

/** A replica after an event, and the operations that take a change back where one was `made` (none otherwise). */
export interface Replicated {
  readonly replica: Replica;
  readonly inverse: readonly Operation[];
}

/** A replica of a project as the server has it, with own changes that wait since an earlier visit. */
export function replicaOf(confirmed: Project, waiting: readonly Change[] = []): Replica {
  return shownAnew({ confirmed, waiting, since: [], isMixed: true });
}

/**
 * The replica after something happened to it.
 * @throws CoreError where a `made` change cannot be applied to what is shown, or a `confirmed` one to what is confirmed: the
 * replica stays as it was, and in the second case the project has to be read anew.
 */
export function replicated(replica: Replica, event: ReplicaEvent): Replicated {
  if (event.kind !== 'made') return { replica: after(replica, event), inverse: [] };
  const { project: shown, inverse } = applied(replica.shown, event.change);
  return { replica: { ...replica, waiting: [...replica.waiting, event.change], shown }, inverse };
}

/**
 * Where a place in the history stands to a replica: the `next` one, one that it has already (`known`), or one before which others
 * are `missing`.
 */
export function placeOf({ confirmed }: Replica, seq: number): 'next' | 'known' | 'missing' {
  if (seq <= confirmed.seq) return 'known';
  return seq === confirmed.seq + 1 ? 'next' : 'missing';
}

function after(replica: Replica, event: Exclude<ReplicaEvent, { kind: 'made' }>): Replica {
  switch (event.kind) {
    case 'confirmed':
      return confirmedBy(replica, event.applied);
    case 'read':
      return shownAnew({ ...replica, confirmed: event.project, isMixed: true });
    case 'dropped': {
      const waiting = replica.waiting.filter(({ id }) => !event.ids.has(id));
      return waiting.length < replica.waiting.length ? shownAnew({ ...replica, waiting }) : replica;
    }
    case 'exchanged': {
      const { change } = event;
      const waiting = replica.waiting.map((one) => (one.id === change.id ? change : one));
      return shownAnew({ ...replica, waiting, isMixed: true });
    }
    case 'measured': {
      const withIt = (project: Project): Project => {
        return { ...project, measured: { ...project.measured, [event.cameraId]: event.measured } };
      };
      return { ...replica, confirmed: withIt(replica.confirmed), shown: withIt(replica.shown) };
    }
  }
}

function confirmedBy(replica: Replica, { seq, change }: PlacedChange): Replica {
  const confirmed = { ...applied(replica.confirmed, change).project, seq };
  const isFirst = replica.waiting[0]?.id === change.id;
  const waiting = replica.waiting.filter(({ id }) => id !== change.id);
  const since = [...replica.since, change];
  // The first of one's own, with nothing of others in between, is shown already: what is shown keeps its identity.
  if (isFirst && !replica.isMixed) {
    const shown = { ...replica.shown, seq };
    return waiting.length > 0
      ? { confirmed, waiting, since, isMixed: false, shown }
      : { confirmed: shown, waiting, since: [], isMixed: false, shown };
  }
  return shownAnew({ confirmed, waiting, since, isMixed: true });
}

/**
 * Lays what waits over what is confirmed, brought up to what others did meanwhile just as the server will do it. What no longer
 * fits is left out of what is shown; it still waits, and the server will say what is wrong with it.
 */
function shownAnew(replica: Omit<Replica, 'shown'>): Replica {
  const { confirmed, waiting } = replica;
  if (waiting.length === 0) return { confirmed, waiting, since: [], isMixed: false, shown: confirmed };
  let shown = confirmed;
  const history = [...replica.since];
  for (const change of waiting) {
    const up = broughtUp(change, history);
    if (isClash(up)) continue;
    try {
      shown = applied(shown, up).project;
      history.push(up);
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
    }
  }
  return { ...replica, shown };
}
