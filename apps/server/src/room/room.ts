import type { RoomTaken } from '@arvex/core';
import type { Sequelize } from 'sequelize';
import { select } from '../database/select';
import type { FileStore } from '../files/file-store';

/** Names of files by content, wherever JSON mentions them. */
const HASHES = /"([0-9a-f]{64})"/g;

/** Rows of the history that are looked through at once. */
const ROWS_AT_ONCE = 20;

/** A collection begins so long after it was asked for, so that several become one, milliseconds. */
const SOON_MS = 2000;

/**
 * The room that files take, and the collection of those that nothing refers to any more. What refers to them stands within JSON, and the
 * history is gone through by its key of two columns: questions that no model asks.
 */
export class DiskRoom {
  private timer: NodeJS.Timeout | undefined;
  private collecting: Promise<unknown> = Promise.resolve();
  private closed = false;

  constructor(
    private readonly sequelize: Sequelize,
    private readonly files: FileStore,
    private readonly outputFolder: string,
    private readonly warn: (error: unknown) => void,
  ) {}

  /** Bytes of all files that a project refers to, in its history too, and what the disk still takes. */
  async taken(projectId: string): Promise<RoomTaken> {
    const used = new Set<string>();
    await this.ofHistory(used, projectId);
    await this.ofRenders(used, projectId);
    const projectBytes = await this.files.sizeOf(used);
    return { projectBytes, freeBytes: await this.files.room(), outputFolder: this.outputFolder };
  }

  /** Collects what nothing refers to, after a pause. */
  collectSoon(): void {
    if (this.closed) return;
    this.timer ??= setTimeout(() => {
      this.timer = undefined;
      this.collecting = this.collect().catch((error: unknown) => this.warn(error));
    }, SOON_MS).unref();
  }

  /**
   * Takes away files that neither a project, nor an undo of its history, nor a render refers to.
   * @returns how many bytes that freed.
   */
  async collect(): Promise<number> {
    const used = new Set<string>();
    await this.ofHistory(used);
    await this.ofRenders(used);
    return this.files.collect((hash) => used.has(hash));
  }

  async close(): Promise<void> {
    this.closed = true;
    clearTimeout(this.timer);
    await this.collecting;
  }

  /** What stands in projects, or stood in them: an undo may want it. */
  private async ofHistory(used: Set<string>, projectId?: string): Promise<void> {
    const where = projectId === undefined ? '' : 'WHERE project_id = :projectId';
    const assets = await select<{ file: unknown }>(this.sequelize, `SELECT file FROM assets ${where}`, { projectId });
    for (const { file } of assets) take(used, file);
    // From row to row by its key: pages by number would read all that came before, and slip when rows go meanwhile.
    let last = { project_id: projectId ?? '', seq: -1 };
    for (;;) {
      const rows = await select<{ project_id: string; seq: number; operations: unknown }>(
        this.sequelize,
        `SELECT project_id, seq, operations FROM changes
           WHERE (${projectId === undefined ? '(project_id, seq) > (:after, :seq)' : 'project_id = :after AND seq > :seq'})
           AND operations LIKE '%"hash"%' ORDER BY project_id, seq LIMIT ${ROWS_AT_ONCE}`,
        { after: last.project_id, seq: last.seq },
      );
      for (const { operations } of rows) take(used, operations);
      const end = rows.at(-1);
      if (!end || rows.length < ROWS_AT_ONCE) return;
      last = { project_id: end.project_id, seq: Number(end.seq) };
    }
  }

  /** Frames and movies of renders that are not cancelled, and the files of the projects that they are made from. */
  private async ofRenders(used: Set<string>, projectId?: string): Promise<void> {
    const own = projectId === undefined ? '' : 'AND r.project_id = :projectId';
    for (const table of ['frame_files', 'render_files']) {
      const files = await select<{ hash: string }>(
        this.sequelize,
        `SELECT f.hash FROM ${table} f JOIN renders r ON r.project_id = f.project_id AND r.id = f.render_id
           WHERE r.state <> 'cancelled' ${own}`,
        { projectId },
      );
      for (const { hash } of files) used.add(hash);
    }
    const orders = await select<{ id: string }>(
      this.sequelize,
      `SELECT DISTINCT r.order_id AS id FROM renders r WHERE r.state <> 'cancelled' ${own}`,
      { projectId },
    );
    for (const { id } of orders) {
      const [row] = await select<{ assets: unknown }>(
        this.sequelize,
        `SELECT JSON_EXTRACT(snapshot, '$.assets') AS assets FROM render_orders WHERE id = :id`,
        { id },
      );
      take(used, row?.assets);
    }
  }
}

function take(used: Set<string>, json: unknown): void {
  const text = typeof json === 'string' ? json : JSON.stringify(json ?? null);
  for (const [, hash] of text.matchAll(HASHES)) if (hash !== undefined) used.add(hash);
}
