import type { Migration } from './migration';

const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';
const HASH = 'CHAR(64) CHARACTER SET ascii COLLATE ascii_bin';
const PATH = 'VARCHAR(400) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin';

/** What renders before were ordered as: the cut as it is seen, as a movie and PNG. */
const BEFORE = JSON.stringify({
  frames: { range: null, step: 1, handles: false },
  size: { kind: 'share', share: 1 },
  oddSizes: 'pad',
  samples: 8,
  shutter: { blur: true, opens: 'as-set' },
  depthOfField: true,
  look: true,
  visible: {
    without: [],
    figures: true,
    lampBodies: true,
    cameras: false,
    rigs: false,
    paths: false,
    grid: false,
    guides: false,
    references: false,
  },
  shading: 'full',
  background: { kind: 'sky' },
  stereo: null,
  panorama: null,
  formats: {
    movies: [{ codec: 'h264', by: { kind: 'quality', quality: 65 }, shortGroups: false }],
    png: 8,
    jpeg: null,
    exr: null,
    layers: { depth: false, masks: false, lightGroups: false },
  },
  burnIns: null,
  slateFrames: 0,
  sound: false,
  names: { folder: '{version}', frames: '{shot}.{frame}', movie: '{version}' },
  places: { zip: true, folder: false },
});

/** Orders say everything about output and have a render for each of their parts; a frame has several files; recipes keep orders. */
export const output: Migration = {
  name: '0008-output',
  statements: [
    `CREATE TABLE IF NOT EXISTS render_orders (project_id ${ID} NOT NULL, id ${ID} NOT NULL UNIQUE,
       version VARCHAR(16) CHARACTER SET ascii NOT NULL, what JSON NOT NULL, snapshot JSON NOT NULL,
       created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3), PRIMARY KEY (project_id, id),
       UNIQUE KEY render_orders_version (project_id, version),
       FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE)`,
    `INSERT IGNORE INTO render_orders (project_id, id, version, what, snapshot, created_at)
       SELECT project_id, id, name, JSON_INSERT('${BEFORE}', '$.what', JSON_OBJECT('kind', 'cut', 'sequenceId', sequence_id)),
         snapshot, created_at FROM renders`,
    `ALTER TABLE renders ADD COLUMN IF NOT EXISTS order_id ${ID} NULL,
       ADD COLUMN IF NOT EXISTS place INT NOT NULL DEFAULT 0, ADD COLUMN IF NOT EXISTS title VARCHAR(120) NOT NULL DEFAULT '',
       ADD COLUMN IF NOT EXISTS part JSON NULL, ADD COLUMN IF NOT EXISTS folder VARCHAR(250) NOT NULL DEFAULT '',
       ADD COLUMN IF NOT EXISTS priority INT NOT NULL DEFAULT 0,
       ADD COLUMN IF NOT EXISTS frames_failed INT NOT NULL DEFAULT 0,
       ADD COLUMN IF NOT EXISTS delivered_to VARCHAR(1000) NULL, ADD COLUMN IF NOT EXISTS mix_of ${ID} NULL,
       ADD COLUMN IF NOT EXISTS mix JSON NULL`,
    `UPDATE renders r LEFT JOIN sequences s ON s.project_id = r.project_id AND s.id = r.sequence_id
       SET r.order_id = r.id, r.title = COALESCE(s.name, 'The cut'), r.folder = r.name,
         r.part = JSON_OBJECT('subject', JSON_OBJECT('kind', 'cut', 'sequenceId', r.sequence_id), 'title', COALESCE(s.name, 'The cut'),
           'runs', JSON_ARRAY(JSON_OBJECT('kind', 'pictures', 'count', r.frame_count, 'from', 0, 'step', 1, 'number', r.first_frame)),
           'frameWidthPx', r.width_px, 'frameHeightPx', r.height_px)
       WHERE r.order_id IS NULL`,
    `ALTER TABLE renders MODIFY COLUMN order_id ${ID} NOT NULL, MODIFY COLUMN part JSON NOT NULL`,
    `ALTER TABLE renders ADD CONSTRAINT renders_order FOREIGN KEY IF NOT EXISTS (project_id, order_id)
       REFERENCES render_orders (project_id, id) ON DELETE CASCADE`,
    `ALTER TABLE frames ADD COLUMN IF NOT EXISTS error VARCHAR(1000) NULL`,
    `CREATE TABLE IF NOT EXISTS frame_files (project_id ${ID} NOT NULL, render_id ${ID} NOT NULL, frame_index INT NOT NULL,
       role VARCHAR(200) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL, path ${PATH} NULL, hash ${HASH} NOT NULL,
       bytes BIGINT NOT NULL, PRIMARY KEY (project_id, render_id, frame_index, role), KEY frame_files_path (render_id, path),
       FOREIGN KEY (project_id, render_id) REFERENCES renders (project_id, id) ON DELETE CASCADE)`,
    `INSERT IGNORE INTO frame_files (project_id, render_id, frame_index, role, path, hash, bytes)
       SELECT f.project_id, f.render_id, f.frame_index, 'png', CONCAT(r.name, '/', f.file_name, '.png'), f.hash, f.bytes
       FROM frames f JOIN renders r ON r.id = f.render_id WHERE f.hash IS NOT NULL`,
    `CREATE TABLE IF NOT EXISTS render_files (project_id ${ID} NOT NULL, render_id ${ID} NOT NULL, path ${PATH} NOT NULL,
       kind VARCHAR(8) CHARACTER SET ascii NOT NULL, hash ${HASH} NOT NULL, bytes BIGINT NOT NULL,
       PRIMARY KEY (project_id, render_id, path),
       FOREIGN KEY (project_id, render_id) REFERENCES renders (project_id, id) ON DELETE CASCADE)`,
    `INSERT IGNORE INTO render_files (project_id, render_id, path, kind, hash, bytes)
       SELECT project_id, id, CONCAT(name, '/', name, '.mp4'), 'movie', movie_hash, movie_bytes FROM renders
       WHERE movie_hash IS NOT NULL`,
    `ALTER TABLE frames DROP COLUMN IF EXISTS hash, DROP COLUMN IF EXISTS bytes`,
    `ALTER TABLE renders DROP COLUMN IF EXISTS snapshot, DROP COLUMN IF EXISTS movie_hash, DROP COLUMN IF EXISTS movie_bytes,
       DROP COLUMN IF EXISTS sequence_id`,
    `CREATE TABLE IF NOT EXISTS recipes (id ${ID} PRIMARY KEY, name VARCHAR(120) NOT NULL, recipe JSON NOT NULL,
       saved_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3))`,
  ],
};
