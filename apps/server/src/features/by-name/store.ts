import type { Sequelize } from 'sequelize';
import { parsed } from '../../database/select';
import { namedTable, rowsOf } from '../../database/tables';
import { Problem } from '../../problem/problem';

/** A thing kept under a name, for every project. */
export interface Named {
  readonly id: string;
  readonly name: string;
}

/** How things of a kind lie in their table, which has an id, a name and one column of JSON. */
export interface NamedKind<T extends Named> {
  /** One of them, as people call it: `package`. */
  readonly noun: string;
  readonly table: string;
  readonly column: string;
  /** What of a thing the column holds, and the thing back from it. */
  readonly kept: (thing: T) => unknown;
  readonly thing: (named: Named, kept: unknown) => T;
}

/** Things kept under names in a table. */
export class NamedStore<T extends Named> {
  private readonly table: ReturnType<typeof namedTable>;

  constructor(
    sequelize: Sequelize,
    private readonly kind: NamedKind<T>,
  ) {
    this.table = namedTable(sequelize, kind.table, kind.column);
  }

  /** Things by name, `limit` after the first `offset`. */
  async list(offset: number, limit: number): Promise<{ items: T[]; total: number }> {
    const [rows, total] = await Promise.all([
      rowsOf(this.table, { order: ['name', 'id'], limit, offset }),
      this.table.count(),
    ]);
    return { items: rows.map(({ id, name, kept }) => this.kind.thing({ id, name }, parsed(kept))), total };
  }

  /** Saves a thing, over the one with its id if there is one. */
  async save(saved: T): Promise<void> {
    const kept = JSON.stringify(this.kind.kept(saved));
    await this.table.upsert({ id: saved.id, name: saved.name, kept, savedAt: new Date() });
  }

  /** @throws Problem `not-found`. */
  async delete(id: string): Promise<void> {
    if ((await this.table.destroy({ where: { id } })) > 0) return;
    const { noun } = this.kind;
    throw new Problem('not-found', `There is no such ${noun}.`, { field: noun });
  }
}
