import type { MeasuredFocus, Project } from '@arvex/core';
import { measuredFocusSchema } from '@arvex/core';
import type { Sequelize, Transaction } from 'sequelize';
import { parsed, select } from '../database/select';

/** What automatic focus measured of each camera, kept beside the project: it is no change of it. */
export class MeasuredFocusTable {
  constructor(private readonly sequelize: Sequelize) {}

  async all(projectId: string, transaction: Transaction): Promise<Project['measured']> {
    const rows = await select<{ camera_id: string; made_for: string; curve: unknown }>(
      this.sequelize,
      'SELECT camera_id, made_for, curve FROM measured_focus WHERE project_id = :projectId',
      { projectId },
      transaction,
    );
    return Object.fromEntries(
      rows.map((row) => [row.camera_id, measuredFocusSchema.parse({ for: row.made_for, curve: parsed(row.curve) })]),
    );
  }

  async put(projectId: string, cameraId: string, measured: MeasuredFocus, transaction: Transaction): Promise<void> {
    await this.sequelize.query(
      `INSERT INTO measured_focus (project_id, camera_id, made_for, curve) VALUES (:projectId, :cameraId, :for, :curve)
         ON DUPLICATE KEY UPDATE made_for = VALUES(made_for), curve = VALUES(curve)`,
      {
        replacements: { projectId, cameraId, for: measured.for, curve: JSON.stringify(measured.curve) },
        transaction,
      },
    );
  }
}
