import type { Migration } from './migration';

const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';

/** Whole renders are shared out like frames: a row for each that is to be finished. */
export const theJobs: Migration = {
  name: '0013-jobs',
  statements: [
    `CREATE TABLE IF NOT EXISTS jobs (
      id ${ID} NOT NULL PRIMARY KEY,
      kind VARCHAR(20) NOT NULL,
      project_id ${ID} NOT NULL,
      render_id ${ID} NOT NULL,
      state VARCHAR(10) NOT NULL,
      lease_id ${ID} NULL,
      leased_by VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL,
      leased_until DATETIME(3) NULL,
      not_before DATETIME(3) NULL,
      created_at TIMESTAMP(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
      UNIQUE KEY one_of_a_kind (kind, render_id),
      FOREIGN KEY (project_id, render_id) REFERENCES renders (project_id, id) ON DELETE CASCADE
    )`,
    `INSERT IGNORE INTO jobs (id, kind, project_id, render_id, state)
       SELECT UUID(), 'finish', project_id, id, 'waiting' FROM renders WHERE state = 'encoding'`,
  ],
};
