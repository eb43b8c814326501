import type { Migration } from './migration';

const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';
const ORDER = 'VARCHAR(120) CHARACTER SET ascii COLLATE ascii_bin';

/** Foreign keys between tables before keys began with the project, by the names that the database gave them. */
const OLD_KEYS: Readonly<Record<string, readonly number[]>> = {
  moves: [2],
  placements: [2, 3, 4, 5],
  sets: [2],
  shots: [2, 3],
};
const ENTITY_TABLES = [
  'assets',
  'cameras',
  'lens_kits',
  'light_groups',
  'moves',
  'placements',
  'sequences',
  'sets',
  'shots',
];
/** What refers to what. What carries what within a table is held by core's rules alone. */
const REFERENCES: readonly (readonly [table: string, column: string, to: string])[] = [
  ['moves', 'camera_id', 'cameras'],
  ['placements', 'set_id', 'sets'],
  ['placements', 'asset_id', 'assets'],
  ['placements', 'light_group_id', 'light_groups'],
  ['sets', 'daylight_group_id', 'light_groups'],
  ['shots', 'sequence_id', 'sequences'],
  ['shots', 'camera_id', 'cameras'],
];

/** A number as text that sorts as it does, as core's `upgrade.ts` makes it too; those that stood at one place get their own. */
const WHOLE = `LPAD(CAST(FLOOR(s.sort_order) + 500000 AS SIGNED), 6, '0')`;
const SHARE = `TRIM(TRAILING '0' FROM SUBSTRING_INDEX(CAST(s.sort_order - FLOOR(s.sort_order) AS DECIMAL(20, 15)), '.', -1))`;
const SAME = `ROW_NUMBER() OVER (PARTITION BY project_id, sequence_id, sort_order ORDER BY id)`;

/** A column of JSON with the speed curve's channel under its new name. A quote within a text would have a backslash before it. */
const renamed = (column: string) => `${column} = REPLACE(${column}, '"moveTime":', '"timeWarp":')`;

/**
 * Form 2: what automatic focus measured stands beside the cameras, the order of shots is text, keys begin with the project, and
 * projects and changes say of which form they are.
 */
export const formTwo: Migration = {
  name: '0005-form-two',
  statements: [
    `ALTER TABLE projects ADD COLUMN IF NOT EXISTS form SMALLINT NOT NULL DEFAULT 2`,
    `ALTER TABLE changes ADD COLUMN IF NOT EXISTS form SMALLINT NOT NULL DEFAULT 1`,
    ...Object.entries(OLD_KEYS).map(
      ([table, numbers]) =>
        `ALTER TABLE ${table} ${numbers.map((n) => `DROP FOREIGN KEY IF EXISTS ${table}_ibfk_${n}`).join(', ')}`,
    ),
    `ALTER TABLE moves DROP INDEX IF EXISTS camera_id`,
    ...ENTITY_TABLES.map((table) => `ALTER TABLE ${table} DROP PRIMARY KEY, ADD PRIMARY KEY (project_id, id)`),
    `ALTER TABLE renders ADD UNIQUE INDEX IF NOT EXISTS renders_id (id)`,
    `ALTER TABLE frames DROP FOREIGN KEY IF EXISTS frames_ibfk_1`,
    `ALTER TABLE renders DROP PRIMARY KEY, ADD PRIMARY KEY (project_id, id)`,
    `ALTER TABLE frames ADD COLUMN IF NOT EXISTS project_id ${ID} NULL FIRST`,
    `UPDATE frames f JOIN renders r ON r.id = f.render_id SET f.project_id = r.project_id`,
    `ALTER TABLE frames ADD UNIQUE INDEX IF NOT EXISTS frames_index (render_id, frame_index)`,
    `ALTER TABLE frames MODIFY COLUMN project_id ${ID} NOT NULL, DROP PRIMARY KEY,
       ADD PRIMARY KEY (project_id, render_id, frame_index)`,
    `ALTER TABLE frames ADD CONSTRAINT frames_render FOREIGN KEY IF NOT EXISTS (project_id, render_id)
       REFERENCES renders (project_id, id) ON DELETE CASCADE`,
    `ALTER TABLE moves ADD UNIQUE INDEX IF NOT EXISTS moves_camera (project_id, camera_id)`,
    ...REFERENCES.map(
      ([table, column, to]) =>
        `ALTER TABLE ${table} ADD CONSTRAINT ${table}_${column} FOREIGN KEY IF NOT EXISTS (project_id, ${column})
           REFERENCES ${to} (project_id, id)`,
    ),
    `CREATE TABLE IF NOT EXISTS measured_focus (project_id ${ID} NOT NULL, camera_id ${ID} NOT NULL,
       made_for VARCHAR(64) CHARACTER SET ascii NOT NULL, curve JSON NOT NULL, PRIMARY KEY (project_id, camera_id),
       FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE,
       FOREIGN KEY (project_id, camera_id) REFERENCES cameras (project_id, id) ON DELETE CASCADE)`,
    `INSERT IGNORE INTO measured_focus (project_id, camera_id, made_for, curve)
       SELECT project_id, id, '', JSON_EXTRACT(focus, '$.auto.measured') FROM cameras
       WHERE JSON_LENGTH(focus, '$.auto.measured') > 0`,
    `UPDATE cameras SET focus = JSON_REMOVE(focus, '$.auto.measured', '$.auto.measuredFor')
       WHERE JSON_EXISTS(focus, '$.auto.measured')`,
    `UPDATE moves SET ${['curves', 'after_last', 'marks'].map(renamed).join(', ')}`,
    `ALTER TABLE shots ADD COLUMN IF NOT EXISTS shot_order ${ORDER} NULL`,
    `UPDATE shots s JOIN (SELECT project_id, id, ${SAME} AS n FROM shots) AS same
         ON same.project_id = s.project_id AND same.id = s.id
       SET s.shot_order = CONCAT('f', ${WHOLE}, ${SHARE}, IF(same.n > 1, CONCAT('0', LPAD(same.n, 6, '0'), '1'), ''))`,
    `ALTER TABLE shots DROP COLUMN IF EXISTS sort_order, MODIFY COLUMN shot_order ${ORDER} NOT NULL`,
  ],
};
