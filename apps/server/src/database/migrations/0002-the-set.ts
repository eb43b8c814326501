import type { Migration } from './migration';

const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';
const HEAD_DELIVERY = `COALESCE(JSON_EXTRACT(c.framing, '$.delivery'), JSON_COMPACT(p.delivery))`;

/** Light groups; placements that are pieces, move and carry each other; pictures; what a camera has of its own. */
export const theSet: Migration = {
  name: '0002-the-set',
  statements: [
    `CREATE TABLE light_groups (id ${ID} PRIMARY KEY, revision VARCHAR(64) CHARACTER SET ascii NOT NULL,
       name VARCHAR(120) NOT NULL, level JSON NOT NULL, project_id ${ID} NOT NULL,
       FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE)`,
    `ALTER TABLE sets ADD COLUMN sun_from VARCHAR(8) NOT NULL DEFAULT 'typed',
       ADD COLUMN sun_place JSON NOT NULL DEFAULT
         '{"latitudeDeg":54,"longitudeDeg":8.5,"localTime":"2026-06-21T15:00","utcOffsetHours":2}',
       ADD COLUMN amounts VARCHAR(8) NOT NULL DEFAULT 'typed', ADD COLUMN daylight_group_id ${ID} NULL,
       ADD FOREIGN KEY (daylight_group_id) REFERENCES light_groups (id)`,
    `ALTER TABLE assets CHANGE COLUMN geometry file JSON NOT NULL`,
    `UPDATE assets SET file = JSON_SET(file, '$.kind', 'geometry', '$.clips', JSON_ARRAY(), '$.deforms', FALSE,
       '$.leftOut', JSON_ARRAY())`,
    `ALTER TABLE placements MODIFY COLUMN asset_id ${ID} NULL, ADD COLUMN parent_id ${ID} NULL,
       ADD COLUMN light_group_id ${ID} NULL, ADD COLUMN piece JSON NULL,
       ADD COLUMN tilt_deg DOUBLE NOT NULL DEFAULT 0, ADD COLUMN roll_deg DOUBLE NOT NULL DEFAULT 0,
       ADD COLUMN scale_axes JSON NULL,
       ADD COLUMN surface JSON NOT NULL DEFAULT '{"colour":null,"luminanceCdM2":null}',
       ADD COLUMN motion JSON NOT NULL DEFAULT '{"kind":"still"}', ADD COLUMN clip JSON NULL,
       ADD COLUMN subject BOOLEAN NOT NULL DEFAULT FALSE`,
    `UPDATE placements SET piece = JSON_OBJECT('kind', 'geometry', 'eyesM', eyes_m),
       scale_axes = JSON_ARRAY(scale, scale, scale), subject = eyes_m IS NOT NULL`,
    `ALTER TABLE placements DROP COLUMN eyes_m, DROP COLUMN scale, MODIFY COLUMN piece JSON NOT NULL,
       CHANGE COLUMN scale_axes scale JSON NOT NULL, ADD FOREIGN KEY (parent_id) REFERENCES placements (id),
       ADD FOREIGN KEY (light_group_id) REFERENCES light_groups (id)`,
    `ALTER TABLE cameras ADD COLUMN light_mix JSON NOT NULL DEFAULT '{}', ADD COLUMN own JSON NOT NULL DEFAULT '[]',
       ADD COLUMN camera_references JSON NOT NULL DEFAULT '[]'`,
    `UPDATE cameras SET own = '["delivery"]' WHERE JSON_TYPE(JSON_EXTRACT(framing, '$.delivery')) = 'OBJECT'`,
    `UPDATE cameras c JOIN projects p ON p.id = c.project_id
       SET c.framing = JSON_SET(c.framing, '$.delivery', ${HEAD_DELIVERY}) WHERE c.own = '[]'`,
    // A snapshot of the older form cannot be drawn any more.
    `UPDATE renders SET state = 'failed', error = 'Begun with an older form of the project. Render it again.'
       WHERE state IN ('rendering', 'encoding')`,
  ],
};
