import type { Migration } from './migration';

const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';
const GUIDES = `JSON_OBJECT('mask', JSON_COMPACT(mask), 'aspects', JSON_ARRAY(), 'divisions', JSON_ARRAY(),
  'diagonals', FALSE, 'cross', FALSE, 'level', FALSE, 'safe', 'none', 'lines', JSON_ARRAY(), 'readOuts', TRUE)`;
const ABSORBERS = `JSON_ARRAY('iso', 'nd', 'shutter', 'stop')`;

/** Exposure and guides of the project, lens kits, packages, and all that a camera can be set to. */
export const theBench: Migration = {
  name: '0003-the-bench',
  statements: [
    `ALTER TABLE projects ADD COLUMN delivery_chosen BOOLEAN NOT NULL DEFAULT TRUE, ADD COLUMN exposure JSON NULL,
       ADD COLUMN guides JSON NULL`,
    `UPDATE projects SET guides = ${GUIDES}, exposure = JSON_OBJECT('shutterAngleDeg', 180, 'iso', 100, 'ndStops', 3,
       'hold', FALSE, 'absorbers', ${ABSORBERS})`,
    `ALTER TABLE projects DROP COLUMN mask, MODIFY COLUMN exposure JSON NOT NULL, MODIFY COLUMN guides JSON NOT NULL,
       ALTER COLUMN delivery_chosen DROP DEFAULT`,
    `CREATE TABLE lens_kits (id ${ID} PRIMARY KEY, revision VARCHAR(64) CHARACTER SET ascii NOT NULL,
       name VARCHAR(120) NOT NULL, lenses JSON NOT NULL, project_id ${ID} NOT NULL,
       FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE)`,
    `CREATE TABLE packages (id ${ID} PRIMARY KEY, name VARCHAR(120) NOT NULL, settings JSON NOT NULL,
       saved_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3))`,
    `ALTER TABLE cameras ADD COLUMN aim JSON NOT NULL DEFAULT '{"kind":"free"}', ADD COLUMN guides JSON NULL`,
    `UPDATE cameras c JOIN projects p ON p.id = c.project_id SET
       c.guides = p.guides,
       c.lens = JSON_SET(c.lens, '$.lensId', NULL, '$.breathing', FALSE, '$.distortionPercent', 0, '$.edgeStops', 0,
         '$.parallelWidthM', NULL, '$.blades', 9, '$.roundness', 0.6, '$.irisDeg', 0),
       c.focus = JSON_SET(c.focus, '$.mode', 'manual', '$.subjectId', NULL, '$.point', 'eyes',
         '$.criterion', JSON_OBJECT('kind', 'back'),
         '$.auto', JSON_OBJECT('x', 0.5, 'y', 0.5, 'measured', JSON_ARRAY(), 'measuredFor', '')),
       c.exposure = JSON_SET(c.exposure, '$.hold', FALSE, '$.absorbers', ${ABSORBERS}),
       c.framing = JSON_SET(c.framing, '$.subjectId', NULL),
       c.own = JSON_ARRAY_APPEND(c.own, '$', 'exposure')`,
    `ALTER TABLE cameras MODIFY COLUMN guides JSON NOT NULL, ALTER COLUMN aim DROP DEFAULT`,
    `UPDATE renders SET state = 'failed', error = 'Begun with an older form of the project. Render it again.'
       WHERE state IN ('rendering', 'encoding')`,
  ],
};
