import type { MeasuredFocus, Project } from '@arvex/core';
import { measuredFocusSchema } from '@arvex/core';
import type { Sequelize, Transaction } from 'sequelize';
import { parsed } from '../database/select';
import { rowsOf, tablesOf } from '../database/tables';

/** What automatic focus measured of each camera, kept beside the project: it is no change of it. */
export class MeasuredFocusTable {
  constructor(private readonly sequelize: Sequelize) {}

  async all(projectId: string, transaction: Transaction): Promise<Project['measured']> {
    const rows = await rowsOf(tablesOf(this.sequelize).measuredFocus, { where: { projectId }, transaction });
    return Object.fromEntries(
      rows.map(({ cameraId, madeFor, curve }) => [
        cameraId,
        measuredFocusSchema.parse({ for: madeFor, curve: parsed(curve) }),
      ]),
    );
  }

  async put(projectId: string, cameraId: string, measured: MeasuredFocus, transaction: Transaction): Promise<void> {
    const row = { projectId, cameraId, madeFor: measured.for, curve: JSON.stringify(measured.curve) };
    await tablesOf(this.sequelize).measuredFocus.upsert(row, { transaction });
  }
}
