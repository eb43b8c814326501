import type { Migration } from './migration';

const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';
const REVISION = 'revision VARCHAR(64) CHARACTER SET ascii NOT NULL';
const NAME = 'name VARCHAR(120) NOT NULL';
const OWNED = `project_id ${ID} NOT NULL, FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE`;

/** Projects and what changes can touch, the history of changes, and renders with their frames. */
export const firstTables: Migration = {
  name: '0001-first-tables',
  statements: [
    `CREATE TABLE projects (id ${ID} PRIMARY KEY, ${REVISION}, ${NAME}, seq BIGINT NOT NULL, rate JSON NOT NULL,
       first_frame INT NOT NULL, delivery JSON NOT NULL, display_unit VARCHAR(8) NOT NULL, mask JSON NOT NULL,
       created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3))`,
    `CREATE TABLE sets (id ${ID} PRIMARY KEY, ${REVISION}, ${NAME}, sun JSON NOT NULL, sky JSON NOT NULL, ${OWNED})`,
    `CREATE TABLE assets (id ${ID} PRIMARY KEY, ${REVISION}, ${NAME}, geometry JSON NOT NULL, ${OWNED})`,
    `CREATE TABLE placements (id ${ID} PRIMARY KEY, ${REVISION}, ${NAME}, set_id ${ID} NOT NULL, asset_id ${ID} NOT NULL,
       position_m JSON NOT NULL, pan_deg DOUBLE NOT NULL, scale DOUBLE NOT NULL, visible BOOLEAN NOT NULL,
       locked BOOLEAN NOT NULL, eyes_m DOUBLE NULL, ${OWNED},
       FOREIGN KEY (set_id) REFERENCES sets (id), FOREIGN KEY (asset_id) REFERENCES assets (id))`,
    `CREATE TABLE cameras (id ${ID} PRIMARY KEY, ${REVISION}, ${NAME}, number INT NOT NULL, pose JSON NOT NULL,
       film_back JSON NOT NULL, lens JSON NOT NULL, focus JSON NOT NULL, exposure JSON NOT NULL, framing JSON NOT NULL,
       clip JSON NOT NULL, ${OWNED})`,
    `CREATE TABLE moves (id ${ID} PRIMARY KEY, ${REVISION}, camera_id ${ID} NOT NULL UNIQUE, curves JSON NOT NULL,
       marks JSON NOT NULL, ${OWNED}, FOREIGN KEY (camera_id) REFERENCES cameras (id))`,
    `CREATE TABLE sequences (id ${ID} PRIMARY KEY, ${REVISION}, ${NAME}, ${OWNED})`,
    `CREATE TABLE shots (id ${ID} PRIMARY KEY, ${REVISION}, ${NAME}, sequence_id ${ID} NOT NULL, camera_id ${ID} NULL,
       sort_order DOUBLE NOT NULL, scene_start_flicks BIGINT NOT NULL, duration_flicks BIGINT NOT NULL, ${OWNED},
       FOREIGN KEY (sequence_id) REFERENCES sequences (id), FOREIGN KEY (camera_id) REFERENCES cameras (id))`,
    `CREATE TABLE changes (project_id ${ID} NOT NULL, seq BIGINT NOT NULL, id ${ID} NOT NULL UNIQUE,
       name VARCHAR(200) NOT NULL, operations JSON NOT NULL, made_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
       PRIMARY KEY (project_id, seq), FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE)`,
    `CREATE TABLE renders (id ${ID} PRIMARY KEY, ${OWNED}, sequence_id ${ID} NOT NULL, ${NAME}, snapshot JSON NOT NULL,
       width_px INT NOT NULL, height_px INT NOT NULL, rate JSON NOT NULL, first_frame INT NOT NULL,
       frame_count INT NOT NULL, state VARCHAR(12) NOT NULL, error TEXT NULL,
       movie_hash CHAR(64) CHARACTER SET ascii NULL, movie_bytes BIGINT NULL,
       created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3), KEY (project_id, created_at))`,
    `CREATE TABLE frames (render_id ${ID} NOT NULL, frame_index INT NOT NULL, file_name VARCHAR(160) NOT NULL,
       state VARCHAR(8) NOT NULL, lease_id ${ID} NULL, leased_until DATETIME(3) NULL,
       hash CHAR(64) CHARACTER SET ascii NULL, bytes BIGINT NULL, PRIMARY KEY (render_id, frame_index),
       KEY (render_id, state, leased_until), FOREIGN KEY (render_id) REFERENCES renders (id) ON DELETE CASCADE)`,
  ],
};
