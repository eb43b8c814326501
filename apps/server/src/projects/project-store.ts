import type { Change, Entity, MeasuredFocus, Page, Project, ProjectSummary } from '@arvex/core';
import { emptyTables, FORM, KINDS, projectSchema, TABLE_KINDS, tableOf } from '@arvex/core';
import type { Sequelize, Transaction } from 'sequelize';
import { UniqueConstraintError } from 'sequelize';
import { EntityTables } from '../database/entity-tables';
import { rowOf, rowsOf, tablesOf } from '../database/tables';
import { Problem } from '../problem/problem';
import type { ApplyOutcome, ProjectAt } from './change-writer';
import { ChangeWriter, noSuchProject } from './change-writer';
import { History } from './history';
import { MeasuredFocusTable } from './measured-focus-table';
import type { ProjectCache } from './project-cache';
import type { Turns } from '../turns/turns';

interface ProjectStoreOptions {
  /** Whether a file of a content is kept, so that no change names one that is not. */
  readonly hasFile: (hash: string) => Promise<boolean>;
  readonly cache: ProjectCache;
  readonly turns: Turns;
}

/** Projects in the database: read whole, changed only by changes. */
export class ProjectStore {
  readonly history: History;
  private readonly tables: EntityTables;
  private readonly measured: MeasuredFocusTable;
  private readonly cache: ProjectCache;
  private readonly writers: Turns;
  private readonly changes: ChangeWriter;

  constructor(
    private readonly sequelize: Sequelize,
    { hasFile, cache, turns }: ProjectStoreOptions,
  ) {
    [this.cache, this.writers] = [cache, turns];
    this.history = new History(sequelize);
    this.tables = new EntityTables(sequelize);
    this.measured = new MeasuredFocusTable(sequelize);
    const { tables, history } = this;
    const at: ProjectAt = (projectId, seq, transaction) => this.at(projectId, seq, transaction);
    this.changes = new ChangeWriter(sequelize, { tables, history, cache, at, hasFile });
  }

  /** Projects from the newest, `limit` after the first `offset`. */
  async list(offset: number, limit: number): Promise<Page<ProjectSummary>> {
    const { projects } = tablesOf(this.sequelize);
    const total = await projects.count();
    const rows = await rowsOf(projects, { order: [['createdAt', 'DESC'], 'id'], limit, offset });
    const items = rows.map(({ id, name, seq, createdAt }) => ({
      id,
      name,
      seq: Number(seq),
      createdAt: new Date(createdAt).toISOString(),
    }));
    return { items, total };
  }

  /** The whole project as one consistent picture of the database. @throws Problem `not-found`. */
  async load(projectId: string): Promise<Project> {
    return this.sequelize.transaction(async (transaction) => {
      const row = await rowOf(tablesOf(this.sequelize).projects, { where: { id: projectId }, transaction });
      if (!row) throw noSuchProject();
      return this.at(projectId, Number(row.seq), transaction);
    });
  }

  /** How far a project is. @throws Problem `not-found`. */
  async seq(projectId: string): Promise<number> {
    const row = await rowOf(tablesOf(this.sequelize).projects, { where: { id: projectId } });
    if (!row) throw noSuchProject();
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
        const { projects, measuredFocus, changes, renders, orders } = tablesOf(this.sequelize);
        const row = await rowOf(projects, { where: { id: projectId }, lock: transaction.LOCK.UPDATE, transaction });
        if (!row) throw noSuchProject();
        // What refers to others goes before them.
        for (const kind of [...TABLE_KINDS].reverse()) await this.tables.deleteAll(kind, projectId, transaction);
        await measuredFocus.destroy({ where: { projectId }, transaction });
        await changes.destroy({ where: { projectId }, transaction });
        await renders.destroy({ where: { projectId }, transaction });
        await orders.destroy({ where: { projectId }, transaction });
        await projects.destroy({ where: { id: projectId }, transaction });
        transaction.afterCommit(() => this.cache.forget(projectId));
      }),
    );
  }

  /** Applies a change, once however often it is sent. @throws Problem as {@link ChangeWriter.apply}. */
  apply(projectId: string, change: Change, author: string): Promise<ApplyOutcome> {
    return this.writers.inTurn(projectId, () => this.changes.apply(projectId, change, author));
  }

  /** Keeps what was measured of a camera. @returns whether the project still has that camera. */
  async keepMeasured(projectId: string, cameraId: string, measured: MeasuredFocus): Promise<boolean> {
    const kept = await this.sequelize.transaction(async (transaction) => {
      const isThere = await this.tables.has('camera', projectId, cameraId, transaction);
      if (isThere) await this.measured.put(projectId, cameraId, measured, transaction);
      return isThere;
    });
    if (kept) this.cache.measure(projectId, cameraId, measured);
    return kept;
  }
}
