import type { Sequelize } from 'sequelize';
import { parsed, select } from '../../database/select';
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
  constructor(
    private readonly sequelize: Sequelize,
    private readonly kind: NamedKind<T>,
  ) {}

  /** Things by name, `limit` after the first `offset`. */
  async list(offset: number, limit: number): Promise<{ items: T[]; total: number }> {
    const { table, column, thing } = this.kind;
    const rows = await select<Named & { kept: unknown }>(
      this.sequelize,
      `SELECT id, name, ${column} AS kept FROM ${table} ORDER BY name, id LIMIT :limit OFFSET :offset`,
      { limit, offset },
    );
    const [count] = await select<{ total: number }>(this.sequelize, `SELECT COUNT(*) AS total FROM ${table}`, {});
    const items = rows.map(({ id, name, kept }) => thing({ id, name }, parsed(kept)));
    return { items, total: Number(count?.total ?? 0) };
  }

  /** Saves a thing, over the one with its id if there is one. */
  async save(saved: T): Promise<void> {
    const { table, column, kept } = this.kind;
    await this.sequelize.query(
      `INSERT INTO ${table} (id, name, ${column}) VALUES (:id, :name, :kept)
         ON DUPLICATE KEY UPDATE name = VALUES(name), ${column} = VALUES(${column}), saved_at = CURRENT_TIMESTAMP(3)`,
      { replacements: { id: saved.id, name: saved.name, kept: JSON.stringify(kept(saved)) } },
    );
  }

  /** @throws Problem `not-found`. */
  async delete(id: string): Promise<void> {
    const { table, noun } = this.kind;
    const [row] = await select<Named>(this.sequelize, `SELECT id FROM ${table} WHERE id = :id`, { id });
    if (!row) throw new Problem('not-found', `There is no such ${noun}.`, { field: noun });
    await this.sequelize.query(`DELETE FROM ${table} WHERE id = :id`, { replacements: { id } });
  }
}
