import type { CameraPackage } from '@arvex/core';
import { cameraPackageSchema } from '@arvex/core';
import type { Sequelize } from 'sequelize';
import { QueryTypes } from 'sequelize';
import { Problem } from '../../http/problem';

/** Camera settings saved by name, for every project. */
export class PackageStore {
  constructor(private readonly sequelize: Sequelize) {}

  /** Packages by name, `limit` after the first `offset`. */
  async list(offset: number, limit: number): Promise<{ items: CameraPackage[]; total: number }> {
    const rows = await this.sequelize.query<{ id: string; name: string; settings: unknown }>(
      'SELECT id, name, settings FROM packages ORDER BY name, id LIMIT :limit OFFSET :offset',
      { type: QueryTypes.SELECT, replacements: { limit, offset } },
    );
    const [count] = await this.sequelize.query<{ total: number }>('SELECT COUNT(*) AS total FROM packages', {
      type: QueryTypes.SELECT,
    });
    const items = rows.map((row) => {
      // MariaDB hands a JSON column over as text.
      const settings: unknown = typeof row.settings === 'string' ? JSON.parse(row.settings) : row.settings;
      return cameraPackageSchema.parse({ ...row, settings });
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
    const [row] = await this.sequelize.query<{ id: string }>('SELECT id FROM packages WHERE id = :id', {
      type: QueryTypes.SELECT,
      replacements: { id },
    });
    if (!row) throw new Problem('not-found', 'There is no such package.', { field: 'package' });
    await this.sequelize.query('DELETE FROM packages WHERE id = :id', { replacements: { id } });
  }
}
