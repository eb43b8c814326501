import type { CameraPackage } from '@arvex/core';
import { cameraPackageSchema } from '@arvex/core';
import type { Sequelize } from 'sequelize';
import { parsed, select } from '../../database/select';
import { Problem } from '../../http/problem';

/** Camera settings saved by name, for every project. */
export class PackageStore {
  constructor(private readonly sequelize: Sequelize) {}

  /** Packages by name, `limit` after the first `offset`. */
  async list(offset: number, limit: number): Promise<{ items: CameraPackage[]; total: number }> {
    const rows = await select<{ id: string; name: string; settings: unknown }>(
      this.sequelize,
      'SELECT id, name, settings FROM packages ORDER BY name, id LIMIT :limit OFFSET :offset',
      { limit, offset },
    );
    const [count] = await select<{ total: number }>(this.sequelize, 'SELECT COUNT(*) AS total FROM packages', {});
    const items = rows.map((row) => {
      return cameraPackageSchema.parse({ ...row, settings: parsed(row.settings) });
    });
    return { items, total: Number(count?.total ?? 0) };
  }

  /** Saves a package, over the one with its id if there is one. */
  async save({ id, name, settings }: CameraPackage): Promise<void> {
    await this.sequelize.query(
      `INSERT INTO packages (id, name, settings) VALUES (:id, :name, :settings)
         ON DUPLICATE KEY UPDATE name = VALUES(name), settings = VALUES(settings), saved_at = CURRENT_TIMESTAMP(3)`,
      { replacements: { id, name, settings: JSON.stringify(settings) } },
    );
  }

  /** @throws Problem `not-found`. */
  async delete(id: string): Promise<void> {
    const [row] = await select<{ id: string }>(this.sequelize, 'SELECT id FROM packages WHERE id = :id', { id });
    if (!row) throw new Problem('not-found', 'There is no such package.', { field: 'package' });
    await this.sequelize.query('DELETE FROM packages WHERE id = :id', { replacements: { id } });
  }
}
