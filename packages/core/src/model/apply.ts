import { CoreError } from '../error';
import type { Change, Operation, PatchOperation } from './change';
import { checked } from './checked';
import { FIRST_REVISION } from './fields';
import { mustHold } from './invariants';
import type { Entity, EntityKind, TableKind } from './kinds';
import { fieldSchema, KINDS } from './kinds';
import { partUndone, patchedPart } from './part';
import { mustBePossible } from './possible';
import type { Project, Table } from './project';
import { entityIn, tableOf } from './project';

/** A change, or what there is of it before it is sent. */
type Applicable = Readonly<
  Pick<Change, 'id'> & { operations: readonly Operation[] } & Partial<Omit<Change, 'operations'>>
>;

/** What a change made of a project, and what takes it back. */
export interface Applied {
  readonly project: Project;
  /** Operations that take it back, made from the project as it is then. */
  readonly inverse: readonly Operation[];
}

/**
 * The project after a change, and the way back. All operations apply or none does.
 * @throws CoreError as {@link applyOperation}, and `broken-rule` when what a project always keeps would not hold any more.
 */
export function applied(project: Project, change: Applicable): Applied {
  return ended(applying(project, change));
}

/** {@link applied} operation by operation, for who has other things to do between them. @throws CoreError as it does. */
export function* applying(project: Project, { id, operations }: Applicable): Generator<void, Applied> {
  const inverse: Operation[] = [];
  const after = yield* run(project, operations, (operation, was) => {
    inverse.push(undoing(operation, was, id));
    return id;
  });
  return { project: after, inverse: inverse.reverse() };
}

/**
 * The project as operations would leave it, before they are a change: entities keep the revisions that they have, so that what
 * is made on it can be made on the project itself.
 * @throws CoreError as {@link applied}.
 */
export function withOperations(project: Project, operations: readonly Operation[]): Project {
  return ended(run(project, operations, (_operation, was) => was?.revision ?? FIRST_REVISION));
}

/** What steps come to, one right after the other. */
function ended<T>(steps: Generator<void, T>): T {
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}

function* run(
  project: Project,
  operations: readonly Operation[],
  revisionFor: (operation: Operation, was: Entity | undefined) => string,
): Generator<void, Project> {
  const copy = new WorkingCopy(project);
  for (const operation of operations) {
    const { kind, id } = operation;
    const was = copy.entity(kind, id);
    copy.put(kind, id, applyOperation(was, operation, revisionFor(operation, was)));
    yield;
  }
  const after = copy.project();
  mustHold(after, operations);
  mustBePossible(after, operations);
  return after;
}

/** The project after a change. @throws CoreError as {@link applied}. */
export function applyChange(project: Project, change: Applicable): Project {
  return applied(project, change).project;
}

/**
 * What an entity becomes by an operation that leaves it the revision `revision`; `undefined` when it is deleted. An entity that
 * has this revision already was written by the same change.
 * @throws CoreError `unknown-entity`, `entity-exists`, `stale-revision`, or `invalid-entity` naming the field.
 */
function applyOperation(entity: Entity | undefined, operation: Operation, revision: string): Entity | undefined {
  const { kind, id } = operation;
  if (operation.op === 'create') {
    if (entity) throw new CoreError('entity-exists', `There already is a ${kind} ${id}.`);
    return wholeEntity(kind, { ...operation.fields, id, revision });
  }
  if (!entity) throw new CoreError('unknown-entity', `There is no ${kind} ${id}; it may have been deleted meanwhile.`);
  if (entity.revision !== operation.baseRevision && entity.revision !== revision) {
    throw new CoreError('stale-revision', `The ${kind} "${nameOf(entity)}" was changed meanwhile.`);
  }
  return operation.op === 'delete' ? undefined : patched(entity, operation, revision);
}

/** An entity with some of its fields replaced. Only those are looked at: the others were good before. */
function patched(entity: Entity, { kind, fields, parts }: PatchOperation, revision: string): Entity {
  const next: Record<string, unknown> = { ...entity, revision };
  for (const [field, value] of Object.entries(fields)) {
    const schema = fieldSchema(kind, field);
    if (schema) next[field] = checked(schema.safeParse(value), [kind, field]);
  }
  for (const part of parts ?? []) {
    const [field] = part.at;
    const schema = fieldSchema(kind, field);
    if (!schema) throw new CoreError('invalid-entity', `${kind} has no field ${field}.`, `${kind}.${field}`);
    next[field] = patchedPart(schema, next[field], part, kind);
  }
  return next as unknown as Entity;
}

function wholeEntity(kind: EntityKind, candidate: unknown): Entity {
  return checked(KINDS[kind].schema.safeParse(candidate), [kind]) as Entity;
}

function nameOf(entity: Entity): string {
  return 'name' in entity ? entity.name : entity.id;
}

/** The operation that takes another one back. */
function undoing(operation: Operation, was: Entity | undefined, changeId: string): Operation {
  const { kind, id } = operation;
  if (operation.op === 'create') return { op: 'delete', kind, id, baseRevision: changeId };
  const own = ownFields(was);
  if (operation.op === 'delete') return { op: 'create', kind, id, fields: own };
  const fields = Object.fromEntries(Object.keys(operation.fields).map((key) => [key, own[key] ?? null]));
  const parts = (operation.parts ?? []).map((part) => partUndone(part, own[part.at[0]])).reverse();
  const patch: PatchOperation = { op: 'patch', kind, id, baseRevision: changeId, fields };
  return parts.length > 0 ? { ...patch, parts } : patch;
}

function ownFields(entity: Entity | undefined): Record<string, unknown> {
  const { id: _id, revision: _revision, ...own } = entity ?? { id: '', revision: '' };
  return own;
}

/** A project that is being changed: each table is copied once, when something in it is first put or taken. */
class WorkingCopy {
  private readonly copies = new Map<TableKind, Record<string, Entity>>();
  private head: Project['head'];

  constructor(private readonly before: Project) {
    this.head = before.head;
  }

  entity(kind: EntityKind, id: string): Entity | undefined {
    if (kind === 'project') return this.head.id === id ? this.head : undefined;
    const copy = this.copies.get(kind);
    if (!copy) return entityIn(this.before, kind, id);
    return Object.hasOwn(copy, id) ? copy[id] : undefined;
  }

  put(kind: EntityKind, id: string, entity: Entity | undefined): void {
    if (kind === 'project') {
      if (entity) this.head = entity as Project['head'];
      return;
    }
    let copy = this.copies.get(kind);
    if (!copy) {
      copy = { ...(tableOf(this.before, kind) as Table<Entity>) };
      this.copies.set(kind, copy);
    }
    if (entity) copy[id] = entity;
    else delete copy[id];
  }

  project(): Project {
    const tables = Object.fromEntries([...this.copies].map(([kind, copy]) => [KINDS[kind].table, copy]));
    return { ...this.before, head: this.head, ...(tables as Partial<Project>) };
  }
}
