import type { Migration } from './migration';

const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';
const ENTITY = `project_id ${ID} NOT NULL, id ${ID} NOT NULL, revision VARCHAR(64) CHARACTER SET ascii NOT NULL`;
const OWNED = `PRIMARY KEY (project_id, id), FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE`;

/** Form 4: looks, response curves that are kept, variations of cameras, and which of them a shot shows. */
export const theLooks: Migration = {
  name: '0010-looks',
  statements: [
    `CREATE TABLE IF NOT EXISTS looks (${ENTITY}, name VARCHAR(120) NOT NULL, compensation_stops DOUBLE NOT NULL,
       white JSON NOT NULL, cdl JSON NOT NULL, tone JSON NOT NULL, response JSON NOT NULL, edge_stops DOUBLE NOT NULL,
       glow JSON NOT NULL, streaks JSON NOT NULL, lut JSON NULL, ${OWNED})`,
    `CREATE TABLE IF NOT EXISTS kept_responses (${ENTITY}, response JSON NOT NULL, ${OWNED})`,
    `ALTER TABLE projects ADD COLUMN IF NOT EXISTS look_id ${ID} NULL`,
    `ALTER TABLE cameras ADD COLUMN IF NOT EXISTS look_id ${ID} NULL,
       ADD COLUMN IF NOT EXISTS variations JSON NOT NULL DEFAULT '{}',
       ADD COLUMN IF NOT EXISTS wears ${ID} NULL`,
    `ALTER TABLE cameras ADD CONSTRAINT cameras_look_id FOREIGN KEY IF NOT EXISTS (project_id, look_id)
       REFERENCES looks (project_id, id)`,
    `ALTER TABLE shots ADD COLUMN IF NOT EXISTS variation_id ${ID} NULL`,
    // Takes that wait are written within their shot.
    `UPDATE shots SET takes = REPLACE(takes, '"lostCamera":', '"variationId":null,"lostCamera":')
       WHERE takes NOT LIKE '%"variationId":%'`,
    `UPDATE projects SET form = 4`,
    `ALTER TABLE projects ALTER COLUMN form SET DEFAULT 4`,
  ],
};
