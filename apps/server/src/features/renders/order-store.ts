import type { LightMix, OrderPart, Project, RenderJob, RenderOrder } from '@arvex/core';
import {
  anyOrderSchema,
  dayOf,
  folderOf,
  frameFileName,
  framesOfPart,
  lightMixSchema,
  movieRate,
  orderPartSchema,
  outputSize,
  projectFrom,
} from '@arvex/core';
import { randomUUID } from 'node:crypto';
import type { Sequelize, Transaction } from 'sequelize';
import { parsed, select } from '../../database/select';
import { rowOf, rowsOf, tablesOf } from '../../database/tables';
import { Problem } from '../../problem/problem';
import type { WorkQueue } from '../../queue/work-queue';

/** Orders of renders: what was asked for, of which state of the project, and the parts that it has. */
export class OrderStore {
  constructor(
    private readonly sequelize: Sequelize,
    private readonly queue: WorkQueue,
  ) {}

  /**
   * Keeps an order with a render for each of its parts, as the next version of its project. Later edits to the project do not
   * touch it. One that was given before under the same id is not given again. @returns its id.
   */
  async give(project: Project, order: RenderOrder, parts: readonly OrderPart[], options: GiveOptions): Promise<string> {
    const { head } = project;
    const { id = randomUUID(), author, mixed } = options;
    await this.sequelize.transaction(async (transaction) => {
      const version = await this.nextVersion(head.id, transaction);
      const { orders, projects } = tablesOf(this.sequelize);
      const given = await rowOf(orders, { where: { id }, attributes: ['projectId'], transaction });
      if (given) return mustBeOf(head.id, given.projectId);
      const date = dayOf(new Date());
      const [what, snapshot] = [JSON.stringify(order), JSON.stringify(project)];
      await orders.create({ projectId: head.id, id, author, version, day: date, what, snapshot }, { transaction });
      await projects.update({ lastVersion: Number(version.slice(1)) }, { where: { id: head.id }, transaction });
      const number = { version, date };
      for (const [place, part] of parts.entries()) {
        await this.insertPart(project, order, { id, place, part, number, mixed }, transaction);
      }
    });
    this.queue.tell();
    return id;
  }

  /** Whether an order was given under an id. @throws Problem where it was in another project. */
  async isGiven(projectId: string, id: string): Promise<boolean> {
    const { orders } = tablesOf(this.sequelize);
    const given = await rowOf(orders, { where: { id }, attributes: ['projectId'] });
    if (given) mustBeOf(projectId, given.projectId);
    return given !== undefined;
  }

  /** The version that the next order will have: one more than any that was given, whether its order is still there or not. */
  async comingVersion(projectId: string, transaction?: Transaction): Promise<string> {
    const { projects } = tablesOf(this.sequelize);
    const options = { where: { id: projectId }, attributes: ['lastVersion'] };
    const row = await rowOf(projects, transaction ? { ...options, transaction } : options);
    return `v${String(Number(row?.lastVersion ?? 0) + 1).padStart(3, '0')}`;
  }

  /** The project as it was when the order was given, in the present form. @throws Problem `not-found`. */
  async projectOf(orderId: string): Promise<Project> {
    const row = await rowOf(tablesOf(this.sequelize).orders, { where: { id: orderId }, attributes: ['snapshot'] });
    if (!row) throw new Problem('not-found', 'There is no such order.', { field: 'order' });
    return projectFrom(parsed(row.snapshot));
  }

  /** What a renderer has to know of a render beside its project. @throws Problem `not-found`. */
  async job(renderId: string): Promise<StoredJob> {
    // Two tables in one question, and a day that older orders have from when they were given.
    const [row] = await select<Record<string, unknown>>(
      this.sequelize,
      `SELECT r.project_id AS projectId, r.order_id AS orderId, r.state, r.part, r.folder, o.what, o.version, COALESCE(o.day, DATE_FORMAT(o.created_at, '%Y-%m-%d')) AS date
         FROM renders r JOIN render_orders o ON o.id = r.order_id WHERE r.id = :renderId`,
      { renderId },
    );
    if (!row) throw new Problem('not-found', 'There is no such render.', { field: 'render' });
    return {
      renderId,
      orderId: row['orderId'] as string,
      projectId: row['projectId'] as string,
      state: row['state'] as RenderJob['state'],
      order: anyOrderSchema.parse(parsed(row['what'])),
      part: orderPartSchema.parse(parsed(row['part'])),
      version: row['version'] as string,
      date: row['date'] as string,
      folder: row['folder'] as string,
    };
  }

  /** The render whose light another one mixes anew, and how. @throws Problem `not-found` where it is no mix. */
  async mixOf(renderId: string): Promise<{ readonly of: string; readonly mix: LightMix }> {
    const row = await rowOf(tablesOf(this.sequelize).renders, { where: { id: renderId } });
    if (row?.mixOf == null) throw new Problem('not-found', 'There is no such mix.', { field: 'render' });
    return { of: row.mixOf, mix: lightMixSchema.parse(parsed(row.mix)) };
  }

  /** Ids of the renders of an order, in the order of its parts. @throws Problem `not-found`. */
  async rendersOf(orderId: string): Promise<string[]> {
    const rows = await rowsOf(tablesOf(this.sequelize).renders, {
      where: { orderId },
      attributes: ['id'],
      order: ['place'],
    });
    if (rows.length === 0) throw new Problem('not-found', 'There is no such order.', { field: 'order' });
    return rows.map(({ id }) => id);
  }

  /** One more than the highest version that there is; whoever asks meanwhile waits, and gets another. */
  private async nextVersion(projectId: string, transaction: Transaction): Promise<string> {
    const { projects } = tablesOf(this.sequelize);
    await rowOf(projects, { where: { id: projectId }, attributes: ['id'], lock: transaction.LOCK.UPDATE, transaction });
    return this.comingVersion(projectId, transaction);
  }

  private async insertPart(
    project: Project,
    order: RenderOrder,
    { id: orderId, place, part, number, mixed }: PlacedPart,
    transaction: Transaction,
  ): Promise<void> {
    const { head } = project;
    const { widthPx, heightPx } = outputSize(order, part);
    const id = randomUUID();
    const first = part.runs.find((run) => run.kind === 'pictures');
    const count = framesOfPart(part);
    const row = {
      id,
      projectId: head.id,
      orderId,
      place,
      name: number.version,
      title: part.title,
      part: JSON.stringify(part),
      folder: folderOf(project, order, part, number),
      widthPx,
      heightPx,
      rate: JSON.stringify(movieRate(order, head.rate)),
      firstFrame: first?.kind === 'pictures' ? first.number : head.firstFrame,
      frameCount: count,
      state: 'rendering' as const,
      mixOf: mixed?.of ?? null,
      mix: mixed ? JSON.stringify(mixed.mix) : null,
    };
    await tablesOf(this.sequelize).renders.create(row, { transaction });
    const names = Array.from({ length: count }, (_, i) => frameFileName(project, order, part, number, i));
    await this.queue.give({ projectId: head.id, renderId: id, names }, transaction);
  }
}

/** What a renderer has to know, and the folder in which the files of the render leave, as it was named when the order was given. */
export interface StoredJob extends RenderJob {
  readonly folder: string;
}

/** What of an order is not the order itself. */
interface GiveOptions {
  /** Its id, where whoever orders has made one: sent twice, it is given once. */
  readonly id?: string | undefined;
  readonly author: string;
  /** The render whose light it mixes anew, and how: nobody draws it. */
  readonly mixed?: { readonly of: string; readonly mix: LightMix } | undefined;
}

function mustBeOf(projectId: string, given: string): void {
  if (given !== projectId)
    throw new Problem('entity-exists', 'An order with this id belongs to another project.', { field: 'id' });
}

interface PlacedPart {
  readonly mixed: GiveOptions['mixed'];
  readonly id: string;
  readonly place: number;
  readonly part: OrderPart;
  readonly number: { readonly version: string; readonly date: string };
}
