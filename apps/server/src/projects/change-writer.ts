import type { AppliedChange, AssetFile, Change, Entity, EntityKind, Project } from '@arvex/core';
import { ALL_KINDS, applying, broughtUp, CoreError, entityIn, historyOf, isClash } from '@arvex/core';
import type { Sequelize, Transaction } from 'sequelize';
import { ForeignKeyConstraintError } from 'sequelize';
import { databaseProblem } from '../database/connection';
import type { EntityTables } from '../database/entity-tables';
import { OneWrite } from '../database/one-write';
import { rowOf, tablesOf } from '../database/tables';
import { Problem, problemOf } from '../problem/problem';
import { doneInTurns, jsonInTurns } from '../turns/in-turns';
import type { ProjectEvent } from '../events/project-events';
import { changeEvent } from '../events/project-events';
import type { History, Stamp } from './history';
import { appliedText } from './history';
import type { ProjectCache } from './project-cache';

/** A change of more operations than this is written row by row. */
const MOST_AT_ONCE = 50;

/** What became of a change: its place in the history, what others are told if it was new, and whether it was brought up to others first. */
export interface ApplyOutcome {
  readonly applied: AppliedChange;
  readonly event?: ProjectEvent;
  readonly broughtUp: boolean;
}

/** The project at a place in its history: as it is known, or read in a transaction. */
export type ProjectAt = (projectId: string, seq: number, transaction: Transaction) => Promise<Project>;

interface Parts {
  readonly tables: EntityTables;
  readonly history: History;
  readonly cache: ProjectCache;
  readonly at: ProjectAt;
  /** Whether a file of this content is kept. */
  readonly hasFile: (hash: string) => Promise<boolean>;
}

/** The only way in which a project in the database is changed. One change of a project at a time. */
export class ChangeWriter {
  constructor(
    private readonly sequelize: Sequelize,
    private readonly parts: Parts,
  ) {}

  /**
   * Applies a change in one transaction, once however often it is sent. One that was made without changes which came before it
   * here is brought up to them where they touched something else.
   * @throws Problem `stale-revision` with the other version where both touched the same; or what else is wrong. Then nothing is changed.
   */
  async apply(projectId: string, change: Change, author: string): Promise<ApplyOutcome> {
    await this.mustHaveFiles(change);
    return (await this.applyAtOnce(projectId, change, author)) ?? this.applyNow(projectId, change, author);
  }

  /** A change that waited for days may name a file that was collected meanwhile. @throws Problem `file-missing`. */
  private async mustHaveFiles({ operations }: Change): Promise<void> {
    for (const [index, one] of operations.entries()) {
      if (one.kind !== 'asset' || one.op === 'delete') continue;
      const file = (one.fields as { file?: AssetFile }).file;
      if (!file || (await this.parts.hasFile(file.hash))) continue;
      throw new Problem('file-missing', 'The file that this names is not here any more. Send it again.', {
        ...placeOf(one, index),
        field: 'file',
        file: { kind: file.kind, hash: file.hash },
      });
    }
  }

  /**
   * The short way of what is usual: the project is known, and the change is made from just that and takes nothing out. It is written
   * in one way there and back. Where anything is otherwise nothing is written, and the long way says what is so.
   */
  private async applyAtOnce(projectId: string, change: Change, author: string): Promise<ApplyOutcome | undefined> {
    const before = this.parts.cache.latest(projectId);
    if (!before || change.operations.length > MOST_AT_ONCE || !isOf(before, change)) return undefined;
    const after = await this.applied(before, change);
    const [seq, write] = [before.seq + 1, new OneWrite()];
    const operations = await jsonInTurns(change.operations);
    const stamp = stampedBy(author);
    this.parts.history.addTo(write, projectId, seq, change, operations, stamp);
    const touched = new Map(change.operations.map((one) => [`${one.kind} ${one.id}`, one]));
    for (const kind of ALL_KINDS) {
      for (const one of touched.values()) {
        if (one.kind !== kind) continue;
        const [was, is] = [entityIn(before, kind, one.id), entityIn(after, kind, one.id)];
        if (was && is) await this.parts.tables.addUpdate(write, kind, projectId, was, is);
        else if (is) await this.parts.tables.addInsert(write, kind, projectId, is);
      }
    }
    try {
      await write.run(this.sequelize);
    } catch (error) {
      if (databaseProblem(error)) throw error; // it may have been written all the same: who asks again is told
      return undefined;
    }
    this.parts.cache.set({ ...after, seq });
    const event = changeEvent(seq, appliedText(seq, stamp, change, operations));
    return { applied: { seq, ...stamp, change }, event, broughtUp: false };
  }

  private applyNow(projectId: string, change: Change, author: string): Promise<ApplyOutcome> {
    return this.sequelize.transaction(async (transaction) => {
      const { projects } = tablesOf(this.sequelize);
      const row = await rowOf(projects, {
        where: { id: projectId },
        attributes: ['seq'],
        lock: transaction.LOCK.UPDATE,
        transaction,
      });
      if (!row) throw noSuchProject();
      const earlier = await this.parts.history.byId(projectId, change.id, transaction);
      if (earlier) return { applied: earlier, broughtUp: true };
      const before = await this.parts.at(projectId, Number(row.seq), transaction);
      const up = await this.broughtUp(before, change, transaction);
      const after = await this.applied(before, up);
      await this.write(before, after, up, transaction);
      const seq = before.seq + 1;
      const operations = await jsonInTurns(up.operations);
      const stamp = stampedBy(author);
      await this.parts.history.add(projectId, seq, up, operations, stamp, transaction);
      const done = { ...after, seq };
      transaction.afterCommit(() => this.parts.cache.set(done));
      const event = changeEvent(seq, appliedText(seq, stamp, up, operations));
      return { applied: { seq, ...stamp, change: up }, event, broughtUp: up !== change };
    });
  }

  /** A change made from the present state, or brought up to it. @throws Problem `stale-revision` with what it clashes with. */
  private async broughtUp(project: Project, change: Change, transaction: Transaction): Promise<Change> {
    const made = new Set<string>();
    const bases = change.operations.flatMap((one) => {
      if (one.op === 'create') made.add(one.id);
      const stale = one.op !== 'create' && entityIn(project, one.kind, one.id)?.revision !== one.baseRevision;
      return stale && !made.has(one.id) ? [one.baseRevision] : [];
    });
    if (bases.length === 0) return change;
    const history = historyOf(await this.parts.history.since(project.head.id, bases, transaction));
    const up = broughtUp(change, history);
    if (!isClash(up)) return up;
    const operation = change.operations[up.operation];
    const theirs = operation && entityIn(project, operation.kind, operation.id);
    const name = theirs && 'name' in theirs ? `"${theirs.name}" ` : '';
    throw new Problem(
      theirs ? 'stale-revision' : 'not-found',
      theirs ? `The ${operation.kind} ${name}was changed meanwhile.` : 'It was deleted meanwhile.',
      { ...placeOf(operation, up.operation), theirs: theirs ?? null },
    );
  }

  private async applied(before: Project, change: Change): Promise<Project> {
    const first = change.operations.findIndex(({ kind, op }) => kind === 'project' && op !== 'patch');
    if (first >= 0) {
      throw new Problem('invalid-request', 'A change can neither make nor delete its project.', {
        ...placeOf(change.operations[first], first),
      });
    }
    try {
      return (await doneInTurns(applying(before, change))).project;
    } catch (error) {
      throw error instanceof CoreError ? asProblem(error, before, change) : error;
    }
  }

  /** Writes what a change made of a project: first what comes and differs, what is referred to before what refers to it; then what goes. */
  private async write(before: Project, after: Project, change: Change, transaction: Transaction): Promise<void> {
    const projectId = before.head.id;
    const touched = new Map<EntityKind, Set<string>>();
    for (const { kind, id } of change.operations) touched.set(kind, (touched.get(kind) ?? new Set()).add(id));
    const gone: [EntityKind, string[]][] = [];
    try {
      for (const kind of ALL_KINDS) {
        const made: Entity[] = [];
        const ends: string[] = [];
        for (const id of touched.get(kind) ?? []) {
          const [was, is] = [entityIn(before, kind, id), entityIn(after, kind, id)];
          if (was && is) await this.parts.tables.update(kind, projectId, was, is, transaction);
          else if (is) made.push(is);
          else if (was) ends.push(id);
        }
        if (made.length > 0) await this.parts.tables.insert(kind, projectId, made, transaction);
        if (ends.length > 0) gone.unshift([kind, ends]);
      }
      for (const [kind, ids] of gone) await this.parts.tables.delete(kind, projectId, ids, transaction);
    } catch (error) {
      if (error instanceof ForeignKeyConstraintError) {
        throw new Problem('entity-in-use', 'Something in the project still refers to what the change takes out.');
      }
      throw error;
    }
  }
}

/** The problem of a project that there is not. */
export function noSuchProject(): Problem {
  return new Problem('not-found', 'There is no such project. Choose one from the list of projects.', {
    field: 'project',
  });
}

/** Whether a change was made from just this state of its project, and takes nothing out. */
function isOf(project: Project, { operations }: Change): boolean {
  return operations.every((one) => {
    if (one.op === 'delete') return false;
    const revision = entityIn(project, one.kind, one.id)?.revision;
    return one.op === 'create' ? revision === undefined : revision === one.baseRevision;
  });
}

function placeOf(operation: (Pick<Entity, 'id'> & { kind: EntityKind }) | undefined, index: number) {
  return { ...(operation && { entity: { kind: operation.kind, id: operation.id } }), operation: index };
}

/** What is wrong with a change as a problem, with the entity that it is about as the database has it. */
function asProblem(error: CoreError, before: Project, change: Change): Problem {
  const index = change.operations.findIndex((one) => {
    const there = entityIn(before, one.kind, one.id);
    if (error.code === 'entity-exists') return one.op === 'create' && there !== undefined;
    if (error.code === 'unknown-entity') return one.op !== 'create' && there === undefined;
    return error.message.includes(one.id) || error.path.startsWith(one.kind);
  });
  const at = Math.max(0, index);
  const operation = change.operations[at];
  const theirs = operation && entityIn(before, operation.kind, operation.id);
  return problemOf(error, { ...placeOf(operation, at), theirs: theirs ?? null });
}

const stampedBy = (author: string): Stamp => ({ author, at: new Date().toISOString() });
