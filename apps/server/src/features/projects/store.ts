import type {
  AppliedChange,
  Change,
  Entity,
  EntityKind,
  MeasuredFocus,
  Page,
  Project,
  ProjectSummary,
} from '@arvex/core';
import {
  ALL_KINDS,
  applying,
  broughtUp,
  CoreError,
  emptyTables,
  entityIn,
  FORM,
  historyOf,
  isClash,
  KINDS,
  projectSchema,
  TABLE_KINDS,
  tableOf,
} from '@arvex/core';
import type { Sequelize, Transaction } from 'sequelize';
import { ForeignKeyConstraintError, UniqueConstraintError } from 'sequelize';
import { databaseProblem } from '../../database/connection';
import { EntityTables } from '../../database/entity-tables';
import { OneWrite } from '../../database/one-write';
import { select } from '../../database/select';
import { Problem, problemOf } from '../../http/problem';
import { doneInTurns, jsonInTurns } from '../../in-turns';
import type { ProjectEvent } from '../events/project-events';
import { changeEvent } from '../events/project-events';
import { appliedText, History } from './history';
import { MeasuredFocusTable } from './measured-focus-table';
import { ProjectCache } from './project-cache';
import { Turns } from './turns';

/** A change of more operations than this is written row by row. */
const MOST_AT_ONCE = 50;

const NOT_HERE = 'There is no such project. Choose one from the list of projects.';

/** What became of a change: its place in the history, what others are told if it was new, and whether it was brought up to others first. */
export interface ApplyOutcome {
  readonly applied: AppliedChange;
  readonly event?: ProjectEvent;
  readonly broughtUp: boolean;
}

/** Projects in the database: read whole, changed only by changes. */
export class ProjectStore {
  readonly history: History;
  private readonly tables: EntityTables;
  private readonly measured: MeasuredFocusTable;
  private readonly cache = new ProjectCache();
  private readonly writers = new Turns();

  constructor(private readonly sequelize: Sequelize) {
    this.history = new History(sequelize);
    this.tables = new EntityTables(sequelize);
    this.measured = new MeasuredFocusTable(sequelize);
  }

  /** Projects from the newest, `limit` after the first `offset`. */
  async list(offset: number, limit: number): Promise<Page<ProjectSummary>> {
    const [count] = await select<{ total: number }>(this.sequelize, 'SELECT COUNT(*) AS total FROM projects', {});
    const rows = await select<{ id: string; name: string; seq: number; created_at: Date }>(
      this.sequelize,
      'SELECT id, name, seq, created_at FROM projects ORDER BY created_at DESC, id LIMIT :limit OFFSET :offset',
      { limit, offset },
    );
    const items = rows.map((row) => ({
      id: row.id,
      name: row.name,
      seq: Number(row.seq),
      createdAt: new Date(row.created_at).toISOString(),
    }));
    return { items, total: Number(count?.total ?? 0) };
  }

  /** The whole project as one consistent picture of the database. @throws Problem `not-found`. */
  async load(projectId: string): Promise<Project> {
    return this.sequelize.transaction(async (transaction) => {
      const [row] = await select<{ seq: number }>(
        this.sequelize,
        'SELECT seq FROM projects WHERE id = :projectId',
        { projectId },
        transaction,
      );
      if (!row) throw new Problem('not-found', NOT_HERE, { field: 'project' });
      return this.at(projectId, Number(row.seq), transaction);
    });
  }

  /** How far a project is. @throws Problem `not-found`. */
  async seq(projectId: string): Promise<number> {
    const [row] = await select<{ seq: number }>(this.sequelize, 'SELECT seq FROM projects WHERE id = :projectId', {
      projectId,
    });
    if (!row) throw new Problem('not-found', NOT_HERE, { field: 'project' });
    return Number(row.seq);
  }

  /** The project at the place in its history at which the database has it: as it is known, or read. */
  private async at(projectId: string, seq: number, transaction: Transaction): Promise<Project> {
    const known = this.cache.get(projectId, seq);
    if (known) return known;
    const project = await this.read(projectId, seq, transaction);
    this.cache.set(project);
    return project;
  }

  private async read(projectId: string, seq: number, transaction: Transaction): Promise<Project> {
    const [head] = await this.tables.all('project', projectId, transaction);
    const tables: Record<string, unknown> = emptyTables();
    for (const kind of TABLE_KINDS) {
      const entities = await this.tables.all(kind, projectId, transaction);
      tables[KINDS[kind].table] = Object.fromEntries(entities.map((entity) => [entity.id, entity]));
    }
    const measured = await this.measured.all(projectId, transaction);
    return { ...(tables as ReturnType<typeof emptyTables>), form: FORM, seq, head: head as Project['head'], measured };
  }

  /** Stores a project that is not there yet, whole. @throws Problem `entity-exists`. */
  async create(project: Project): Promise<void> {
    const whole = projectSchema.parse(project);
    const projectId = whole.head.id;
    await this.sequelize.transaction(async (transaction) => {
      try {
        await this.tables.insertProject(whole.head, whole.seq, transaction);
      } catch (error) {
        if (error instanceof UniqueConstraintError) throw new Problem('entity-exists', 'This project already exists.');
        throw error;
      }
      for (const kind of TABLE_KINDS) {
        await this.tables.insert(kind, projectId, Object.values<Entity>(tableOf(whole, kind)), transaction);
      }
      for (const [cameraId, measured] of Object.entries(whole.measured)) {
        await this.measured.put(projectId, cameraId, measured, transaction);
      }
    });
  }

  /** A copy of a project as it is now, under a name of its own; its history and its renders stay with the first. @throws Problem. */
  async copy(projectId: string, copyId: string, name: string): Promise<void> {
    const project = await this.load(projectId);
    await this.create({ ...project, seq: 0, head: { ...project.head, id: copyId, name } });
  }

  /** Takes a project away with its history and its renders, for good. @throws Problem `not-found`. */
  delete(projectId: string): Promise<void> {
    return this.writers.inTurn(projectId, () =>
      this.sequelize.transaction(async (transaction) => {
        const [row] = await select<{ id: string }>(
          this.sequelize,
          'SELECT id FROM projects WHERE id = :projectId FOR UPDATE',
          { projectId },
          transaction,
        );
        if (!row) throw new Problem('not-found', NOT_HERE, { field: 'project' });
        // What refers to others goes before them.
        for (const kind of [...TABLE_KINDS].reverse()) await this.tables.deleteAll(kind, projectId, transaction);
        for (const table of ['measured_focus', 'changes', 'renders']) {
          await this.sequelize.query(`DELETE FROM ${table} WHERE project_id = :projectId`, {
            replacements: { projectId },
            transaction,
          });
        }
        await this.sequelize.query('DELETE FROM projects WHERE id = :projectId', {
          replacements: { projectId },
          transaction,
        });
        transaction.afterCommit(() => this.cache.forget(projectId));
      }),
    );
  }

  /**
   * Applies a change in one transaction, once however often it is sent. One that was made without changes which came before it
   * here is brought up to them where they touched something else.
   * @throws Problem `stale-revision` with the other version where both touched the same; or what else is wrong. Then nothing is changed.
   */
  apply(projectId: string, change: Change): Promise<ApplyOutcome> {
    return this.writers.inTurn(
      projectId,
      async () => (await this.applyAtOnce(projectId, change)) ?? this.applyNow(projectId, change),
    );
  }

  /**
   * The short way of what is usual: the project is known, and the change is made from just that and takes nothing out. It is written
   * in one way there and back. Where anything is otherwise nothing is written, and the long way says what is so.
   */
  private async applyAtOnce(projectId: string, change: Change): Promise<ApplyOutcome | undefined> {
    const before = this.cache.latest(projectId);
    if (!before || change.operations.length > MOST_AT_ONCE || !isOf(before, change)) return undefined;
    const after = await this.applied(before, change);
    const [seq, write] = [before.seq + 1, new OneWrite()];
    const operations = await jsonInTurns(change.operations);
    this.history.addTo(write, projectId, seq, change, operations);
    const touched = new Map(change.operations.map((one) => [`${one.kind} ${one.id}`, one]));
    for (const kind of ALL_KINDS) {
      for (const one of touched.values()) {
        if (one.kind !== kind) continue;
        const [was, is] = [entityIn(before, kind, one.id), entityIn(after, kind, one.id)];
        if (was && is) await this.tables.addUpdate(write, kind, projectId, was, is);
        else if (is) await this.tables.addInsert(write, kind, projectId, is);
      }
    }
    try {
      await write.run(this.sequelize);
    } catch (error) {
      if (databaseProblem(error)) throw error; // it may have been written all the same: who asks again is told
      return undefined;
    }
    this.cache.set({ ...after, seq });
    const event = changeEvent(seq, appliedText(seq, change, operations));
    return { applied: { seq, change }, event, broughtUp: false };
  }

  private applyNow(projectId: string, change: Change): Promise<ApplyOutcome> {
    return this.sequelize.transaction(async (transaction) => {
      const [row] = await select<{ seq: number }>(
        this.sequelize,
        'SELECT seq FROM projects WHERE id = :projectId FOR UPDATE',
        { projectId },
        transaction,
      );
      if (!row) throw new Problem('not-found', NOT_HERE, { field: 'project' });
      const earlier = await this.history.byId(projectId, change.id, transaction);
      if (earlier) return { applied: earlier, broughtUp: true };
      const before = await this.at(projectId, Number(row.seq), transaction);
      const up = await this.broughtUp(before, change, transaction);
      const after = await this.applied(before, up);
      await this.write(before, after, up, transaction);
      const seq = before.seq + 1;
      const operations = await jsonInTurns(up.operations);
      await this.history.add(projectId, seq, up, operations, transaction);
      const done = { ...after, seq };
      transaction.afterCommit(() => this.cache.set(done));
      const event = changeEvent(seq, appliedText(seq, up, operations));
      return { applied: { seq, change: up }, event, broughtUp: up !== change };
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
    const history = historyOf(await this.history.since(project.head.id, bases, transaction));
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
          if (was && is) await this.tables.update(kind, projectId, was, is, transaction);
          else if (is) made.push(is);
          else if (was) ends.push(id);
        }
        if (made.length > 0) await this.tables.insert(kind, projectId, made, transaction);
        if (ends.length > 0) gone.unshift([kind, ends]);
      }
      for (const [kind, ids] of gone) await this.tables.delete(kind, projectId, ids, transaction);
    } catch (error) {
      if (error instanceof ForeignKeyConstraintError) {
        throw new Problem('entity-in-use', 'Something in the project still refers to what the change takes out.');
      }
      throw error;
    }
  }

  /** Keeps what was measured of a camera. @returns whether the project still has that camera. */
  async keepMeasured(projectId: string, cameraId: string, measured: MeasuredFocus): Promise<boolean> {
    const kept = await this.sequelize.transaction(async (transaction) => {
      const [camera] = await select<{ id: string }>(
        this.sequelize,
        'SELECT id FROM cameras WHERE project_id = :projectId AND id = :cameraId',
        { projectId, cameraId },
        transaction,
      );
      if (camera) await this.measured.put(projectId, cameraId, measured, transaction);
      return camera !== undefined;
    });
    if (kept) this.cache.measure(projectId, cameraId, measured);
    return kept;
  }
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
