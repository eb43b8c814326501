import type { Migration } from './migration';

/**
 * Orders keep the day on which they were given where they were given, as their files are called by it; a project keeps its highest
 * version, so that a number never comes again; a sequence has the timecode of its first frame; renders know what drew their frames, and how
 * many were taken as they were kept; the list of projects is read in its order without a sort.
 */
export const inCompany: Migration = {
  name: '0011-in-company',
  statements: [
    `ALTER TABLE render_orders ADD COLUMN IF NOT EXISTS day CHAR(10) CHARACTER SET ascii COLLATE ascii_bin NULL`,
    `ALTER TABLE projects ADD COLUMN IF NOT EXISTS last_version INT UNSIGNED NOT NULL DEFAULT 0`,
    `UPDATE projects p SET last_version = GREATEST(last_version,
       COALESCE((SELECT MAX(CAST(SUBSTRING(o.version, 2) AS UNSIGNED)) FROM render_orders o WHERE o.project_id = p.id), 0))`,
    `ALTER TABLE sequences ADD COLUMN IF NOT EXISTS start_timecode VARCHAR(16) NOT NULL DEFAULT '00:00:00:00'`,
    `ALTER TABLE frames ADD COLUMN IF NOT EXISTS graphics VARCHAR(160) NULL`,
    `ALTER TABLE renders ADD COLUMN IF NOT EXISTS graphics VARCHAR(160) NULL`,
    `ALTER TABLE renders ADD COLUMN IF NOT EXISTS graphics_at DATETIME(3) NULL`,
    `ALTER TABLE renders ADD COLUMN IF NOT EXISTS frames_kept INT UNSIGNED NOT NULL DEFAULT 0`,
    `ALTER TABLE projects ADD INDEX IF NOT EXISTS projects_created (created_at DESC, id)`,
  ],
};
