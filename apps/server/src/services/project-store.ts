import type { AppliedChange, Change, Entity, EntityKind, Operation, Project } from '@arvex/core';
import { applyOperation, CoreError, ENTITY_KINDS, projectSchema } from '@arvex/core';
import type { Sequelize, Transaction } from 'sequelize';
import { ForeignKeyConstraintError, QueryTypes, UniqueConstraintError } from 'sequelize';
import { EntityTables } from '../database/entity-tables';
import { Problem, problemOf } from '../problem';

export interface ProjectSummary {
  readonly id: string;
  readonly name: string;
  readonly seq: number;
  readonly createdAt: string;
}

const NOT_HERE = 'There is no such project. Choose one from the list of projects.';

/** Projects in the database: read whole, changed only by changes. */
export class ProjectStore {
  private readonly tables: EntityTables;

  constructor(private readonly sequelize: Sequelize) {
    this.tables = new EntityTables(sequelize);
  }

  /** Projects from the newest, `limit` after the first `offset`. */
  async list(offset: number, limit: number): Promise<{ items: ProjectSummary[]; total: number }> {
    const [count] = await this.sequelize.query<{ total: number }>('SELECT COUNT(*) AS total FROM projects', {
      type: QueryTypes.SELECT,
    });
    const rows = await this.sequelize.query<{ id: string; name: string; seq: number; created_at: Date }>(
      'SELECT id, name, seq, created_at FROM projects ORDER BY created_at DESC, id LIMIT :limit OFFSET :offset',
      { type: QueryTypes.SELECT, replacements: { limit, offset } },
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
    return this.sequelize.transaction((transaction) => this.loadWithin(projectId, transaction));
  }

  private async loadWithin(projectId: string, transaction: Transaction): Promise<Project> {
    const [head] = await this.tables.all('project', projectId, transaction);
    if (!head) throw new Problem('not-found', NOT_HERE, { field: 'project' });
    const [row] = await this.sequelize.query<{ seq: number }>('SELECT seq FROM projects WHERE id = :projectId', {
      type: QueryTypes.SELECT,
      replacements: { projectId },
      transaction,
    });
    const project: Record<string, unknown> = { seq: Number(row?.seq ?? 0), head };
    for (const kind of Object.keys(ENTITY_KINDS) as EntityKind[]) {
      if (kind === 'project') continue;
      const entities = await this.tables.all(kind, projectId, transaction);
      project[ENTITY_KINDS[kind].table] = Object.fromEntries(entities.map((entity) => [entity.id, entity]));
    }
    return project as unknown as Project;
  }

  /** Stores a project that is not there yet, whole. @throws Problem `entity-exists`. */
  async create(project: Project): Promise<void> {
    const parsed = projectSchema.parse(project);
    await this.sequelize.transaction(async (transaction) => {
      const { head } = parsed;
      try {
        await this.tables.model('project').create({ ...head, seq: parsed.seq }, { transaction });
      } catch (error) {
        if (error instanceof UniqueConstraintError) throw new Problem('entity-exists', 'This project already exists.');
        throw error;
      }
      for (const kind of Object.keys(ENTITY_KINDS) as EntityKind[]) {
        if (kind === 'project') continue;
        for (const entity of inOrderOfNeed(Object.values(parsed[ENTITY_KINDS[kind].table]))) {
          await this.tables.write(kind, head.id, entity.id, undefined, entity, transaction);
        }
      }
    });
  }

  /**
   * Applies a change in one transaction, once however often it is sent.
   * @returns its place in the history, and whether it was new.
   * @throws Problem `stale-revision` with both versions, or what else is wrong; then nothing is changed.
   */
  async apply(projectId: string, change: Change): Promise<{ applied: AppliedChange; fresh: boolean }> {
    return this.sequelize.transaction(async (transaction) => {
      const [row] = await this.sequelize.query<{ seq: number }>(
        'SELECT seq FROM projects WHERE id = :projectId FOR UPDATE',
        {
          type: QueryTypes.SELECT,
          replacements: { projectId },
          transaction,
        },
      );
      if (!row) throw new Problem('not-found', NOT_HERE, { field: 'project' });
      const earlier = await this.appliedEarlier(projectId, change, transaction);
      if (earlier !== undefined) return { applied: { seq: earlier, change }, fresh: false };
      await this.applyOperations(projectId, change, transaction);
      const seq = Number(row.seq) + 1;
      await this.sequelize.query(
        'INSERT INTO changes (project_id, seq, id, name, operations) VALUES (:projectId, :seq, :id, :name, :operations)',
        {
          replacements: {
            projectId,
            seq,
            id: change.id,
            name: change.name,
            operations: JSON.stringify(change.operations),
          },
          transaction,
        },
      );
      await this.sequelize.query('UPDATE projects SET seq = :seq WHERE id = :projectId', {
        replacements: { seq, projectId },
        transaction,
      });
      return { applied: { seq, change }, fresh: true };
    });
  }

  private async appliedEarlier(
    projectId: string,
    change: Change,
    transaction: Transaction,
  ): Promise<number | undefined> {
    const [row] = await this.sequelize.query<{ seq: number; project_id: string }>(
      'SELECT seq, project_id FROM changes WHERE id = :id',
      { type: QueryTypes.SELECT, replacements: { id: change.id }, transaction },
    );
    if (row && row.project_id !== projectId) {
      throw new Problem('entity-exists', 'A change with this id belongs to another project.', { field: 'id' });
    }
    return row ? Number(row.seq) : undefined;
  }

  private async applyOperations(projectId: string, change: Change, transaction: Transaction): Promise<void> {
    for (const [index, operation] of change.operations.entries()) {
      const { kind, id } = operation;
      const was = await this.tables.find(kind, projectId, id, transaction);
      const more = { entity: { kind, id }, operation: index };
      if (kind === 'project' && operation.op !== 'patch') {
        throw new Problem('invalid-request', 'A change can neither make nor delete its project.', more);
      }
      try {
        const is = applyOperation(was, operation, change.id);
        await this.tables.write(kind, projectId, id, was, is, transaction);
      } catch (error) {
        throw asProblem(error, { ...more, ...(operation.op !== 'create' && { theirs: was ?? null }) });
      }
    }
  }

  /** Changes after `seq`, oldest first, at most `limit`. */
  async changesAfter(projectId: string, seq: number, limit: number): Promise<AppliedChange[]> {
    const rows = await this.sequelize.query<{ seq: number; id: string; name: string; operations: unknown }>(
      'SELECT seq, id, name, operations FROM changes WHERE project_id = :projectId AND seq > :seq ORDER BY seq LIMIT :limit',
      { type: QueryTypes.SELECT, replacements: { projectId, seq, limit } },
    );
    return rows.map(({ seq: at, id, name, operations }) => ({
      seq: Number(at),
      change: {
        id,
        name,
        operations: (typeof operations === 'string' ? JSON.parse(operations) : operations) as Operation[],
      },
    }));
  }
}

/** What carries others comes before what it carries, as the database wants it. */
function inOrderOfNeed(entities: readonly Entity[]): Entity[] {
  const byId = new Map(entities.map((entity) => [entity.id, entity]));
  const ordered = new Set<Entity>();
  const take = (entity: Entity, depth: number) => {
    const parent = 'parentId' in entity && entity.parentId !== null ? byId.get(entity.parentId) : undefined;
    if (parent && depth < byId.size) take(parent, depth + 1);
    ordered.add(entity);
  };
  entities.forEach((entity) => take(entity, 0));
  return [...ordered];
}

function asProblem(error: unknown, more: Record<string, unknown>): unknown {
  if (error instanceof CoreError) return problemOf(error, more);
  if (error instanceof UniqueConstraintError) {
    return new Problem('entity-exists', 'There already is such an entity; make a new one with another id.', more);
  }
  if (error instanceof ForeignKeyConstraintError) {
    const detail = 'It refers to something that is not in the project, or something in the project still refers to it.';
    return new Problem('entity-in-use', detail, more);
  }
  return error;
}
