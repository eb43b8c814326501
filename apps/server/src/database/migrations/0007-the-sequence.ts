import type { Migration } from './migration';

const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';
const ENTITY = `project_id ${ID} NOT NULL, id ${ID} NOT NULL, revision VARCHAR(64) CHARACTER SET ascii NOT NULL`;
const OWNED = `PRIMARY KEY (project_id, id), FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE`;

/** A foreign key to another kind of entity of the same project. */
const refers = (table: string, column: string, to: string) =>
  `CONSTRAINT ${table}_${column} FOREIGN KEY (project_id, ${column}) REFERENCES ${to} (project_id, id)`;

const TRUE_SPEED = '{"speed":1,"ramp":[],"holds":[]}';
const CONTINUITY = '{"angleDeg":30,"sizeSteps":2,"pairLens":0.05,"pairHeightM":0.25,"pairDistance":0.2,"readS":2}';

/** Form 3: shots have takes, speeds, transitions and gaps, sequences handles and limits; there are markers and sound. */
export const theSequence: Migration = {
  name: '0007-the-sequence',
  statements: [
    `ALTER TABLE shots ADD COLUMN IF NOT EXISTS inside_id ${ID} NULL,
       ADD COLUMN IF NOT EXISTS lost_camera VARCHAR(120) NOT NULL DEFAULT '',
       ADD COLUMN IF NOT EXISTS continues BOOLEAN NOT NULL DEFAULT FALSE,
       ADD COLUMN IF NOT EXISTS retime JSON NOT NULL DEFAULT '${TRUE_SPEED}',
       ADD COLUMN IF NOT EXISTS gap_flicks BIGINT NOT NULL DEFAULT 0,
       ADD COLUMN IF NOT EXISTS entry JSON NOT NULL DEFAULT '{"kind":"cut"}',
       ADD COLUMN IF NOT EXISTS fade_out JSON NULL,
       ADD COLUMN IF NOT EXISTS handle_in_flicks BIGINT NULL,
       ADD COLUMN IF NOT EXISTS handle_out_flicks BIGINT NULL,
       ADD COLUMN IF NOT EXISTS take_name VARCHAR(120) NOT NULL DEFAULT 'a',
       ADD COLUMN IF NOT EXISTS takes JSON NOT NULL DEFAULT '[]',
       ADD COLUMN IF NOT EXISTS without JSON NOT NULL DEFAULT '[]',
       ADD COLUMN IF NOT EXISTS description TEXT NOT NULL DEFAULT '',
       ADD COLUMN IF NOT EXISTS spoken TEXT NOT NULL DEFAULT '',
       ADD COLUMN IF NOT EXISTS poster JSON NOT NULL DEFAULT '{"kind":"middle"}',
       ADD COLUMN IF NOT EXISTS action_line JSON NULL`,
    `ALTER TABLE shots ADD CONSTRAINT shots_inside_id FOREIGN KEY IF NOT EXISTS (project_id, inside_id)
       REFERENCES sequences (project_id, id)`,
    `ALTER TABLE sequences ADD COLUMN IF NOT EXISTS handle_in_flicks BIGINT NOT NULL DEFAULT 0,
       ADD COLUMN IF NOT EXISTS handle_out_flicks BIGINT NOT NULL DEFAULT 0,
       ADD COLUMN IF NOT EXISTS action_line JSON NULL,
       ADD COLUMN IF NOT EXISTS continuity JSON NOT NULL DEFAULT '${CONTINUITY}',
       ADD COLUMN IF NOT EXISTS muted_lanes JSON NOT NULL DEFAULT '[]'`,
    `ALTER TABLE cameras ADD COLUMN IF NOT EXISTS disabled BOOLEAN NOT NULL DEFAULT FALSE`,
    `CREATE TABLE IF NOT EXISTS markers (${ENTITY}, sequence_id ${ID} NOT NULL, at_flicks BIGINT NOT NULL,
       name VARCHAR(120) NOT NULL, ${OWNED}, ${refers('markers', 'sequence_id', 'sequences')})`,
    `CREATE TABLE IF NOT EXISTS sounds (${ENTITY}, sequence_id ${ID} NOT NULL, asset_id ${ID} NOT NULL,
       name VARCHAR(120) NOT NULL, lane INT NOT NULL, start_flicks BIGINT NOT NULL, trim_s DOUBLE NOT NULL,
       length_s DOUBLE NOT NULL, fade_in_s DOUBLE NOT NULL, fade_out_s DOUBLE NOT NULL, gain_db DOUBLE NOT NULL,
       muted BOOLEAN NOT NULL, ${OWNED}, ${refers('sounds', 'sequence_id', 'sequences')},
       ${refers('sounds', 'asset_id', 'assets')})`,
    `UPDATE projects SET form = 3`,
    `ALTER TABLE projects ALTER COLUMN form SET DEFAULT 3`,
  ],
};
