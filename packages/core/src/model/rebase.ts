import type { PlacedChange, Change, Operation } from './change';
import type { Project } from './project';
import { entityIn } from './project';

/** Paths of an entity that an operation touches: fields, entries of fields as `curves.pan`, or `*` for all of it. */
export function touchedBy(operation: Operation): readonly string[] {
  if (operation.op !== 'patch') return ['*'];
  return [...Object.keys(operation.fields), ...(operation.parts ?? []).map(({ at }) => at.join('.'))];
}

/** Whether an operation changes nothing. */
export function isEmptyPatch(operation: Operation): boolean {
  return operation.op === 'patch' && touchedBy(operation).length === 0;
}

/** Whether two operations on one entity touch the same thing. */
export function touchSame(a: Operation, b: Operation): boolean {
  if (a.kind !== b.kind || a.id !== b.id) return false;
  const [one, other] = [touchedBy(a), touchedBy(b)];
  const covers = (path: string, by: string) => path === by || by === '*' || path.startsWith(`${by}.`);
  return one.some((path) => other.some((by) => covers(path, by) || covers(by, path)));
}

/** The first operation of a change that something written since it was made stands against. */
export interface Clash {
  readonly operation: number;
}

/**
 * A change as it applies after others that it was made without: operations on entities that the others left alone, or of which
 * they touched other fields, are brought up to the present revision.
 * @param history what was applied since the oldest revision that the change was made from, in its order.
 * @returns the change, or where it clashes with one of them.
 */
export function broughtUp<C extends Pick<Change, 'operations'>>(
  change: C,
  history: readonly { readonly id: string; readonly operations: readonly Operation[] }[],
): C | Clash {
  const operations: Operation[] = [];
  for (const [index, operation] of change.operations.entries()) {
    const up = upToDate(operation, history);
    if (!up) return { operation: index };
    operations.push(up);
  }
  const same = operations.every((operation, i) => operation === change.operations[i]);
  return same ? change : { ...change, operations };
}

export function isClash(outcome: object): outcome is Clash {
  return 'operation' in outcome;
}

type History = Parameters<typeof broughtUp>[1];

function upToDate(operation: Operation, history: History): Operation | undefined {
  if (operation.op === 'create') return operation;
  const { base, ownIds } = madeFrom(operation, history);
  const from = history.findIndex(({ id }) => id === base) + 1;
  let revision = operation.baseRevision;
  for (const { id, operations } of history.slice(from)) {
    for (const other of operations) {
      if (other.kind !== operation.kind || other.id !== operation.id) continue;
      if (!ownIds.has(id) && (operation.op === 'delete' || touchSame(operation, other))) return undefined;
      revision = id;
    }
  }
  if (revision === operation.baseRevision) return operation;
  return operation.op === 'patch'
    ? { ...operation, baseRevision: revision, madeFrom: operation.madeFrom ?? operation.baseRevision }
    : { ...operation, baseRevision: revision };
}

/**
 * The revision that the maker of an operation really saw. Where it was made on top of another change of the same maker that
 * was brought up on its way, that is the one that the other was made from: what came between was not seen.
 */
function madeFrom(operation: Exclude<Operation, { op: 'create' }>, history: History) {
  const ownIds = new Set<string>();
  let base = 'madeFrom' in operation && operation.madeFrom !== undefined ? operation.madeFrom : operation.baseRevision;
  for (;;) {
    const change = history.find(({ id }) => id === base);
    const before = change?.operations.find((one) => one.kind === operation.kind && one.id === operation.id);
    if (!change || before?.op !== 'patch' || before.madeFrom === undefined) return { base, ownIds };
    ownIds.add(change.id);
    base = before.madeFrom;
  }
}

/** The same operations made from the entities' present revisions: what is there already is overwritten. */
export function rebased(project: Project, operations: readonly Operation[]): Operation[] {
  return operations.map((operation): Operation => {
    const { kind, id } = operation;
    const entity = entityIn(project, kind, id);
    if (!entity) return operation;
    const { revision: baseRevision } = entity;
    if (operation.op === 'delete') return { ...operation, baseRevision };
    if (operation.op === 'create') return { op: 'patch', kind, id, baseRevision, fields: operation.fields };
    const { madeFrom: _madeFrom, ...patch } = operation;
    return { ...patch, baseRevision };
  });
}

/** What a list of applied changes is to {@link broughtUp}. */
export function historyOf(changes: readonly PlacedChange[]): History {
  return changes.map(({ change }) => change);
}
