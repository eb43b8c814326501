import type { Migration } from './migration';

/** A hand as cameras had it when this was written. */
const HANDHELD =
  '{"on":false,"amount":1,"seed":1,"fromFlicks":null,"toFlicks":null,"fadeInS":0,"fadeOutS":0,"moveMm":[6,8,5],' +
  '"moveHz":[0.5,0.6,0.4],"turnDeg":[0.35,0.3,0.15],"turnHz":[0.7,0.8,0.5]}';

/** Rigs and hands of cameras, racks of focus, what curves do after their last key, and marks that are left out. */
export const theMoves: Migration = {
  name: '0004-the-moves',
  statements: [
    `ALTER TABLE cameras ADD COLUMN rig JSON NOT NULL DEFAULT '{"kind":"sticks"}',
       ADD COLUMN handheld JSON NOT NULL DEFAULT '${HANDHELD}'`,
    `UPDATE cameras SET focus = JSON_SET(focus, '$.racks', JSON_ARRAY())`,
    `ALTER TABLE cameras ALTER COLUMN rig DROP DEFAULT, ALTER COLUMN handheld DROP DEFAULT`,
    `ALTER TABLE moves ADD COLUMN after_last JSON NOT NULL DEFAULT '{}'`,
    `UPDATE moves SET marks = IFNULL((SELECT JSON_ARRAYAGG(JSON_OBJECT('id', mark.id, 'name', mark.name,
         'atFlicks', mark.at_flicks, 'leftOut', NULL))
       FROM JSON_TABLE(marks, '$[*]' COLUMNS (id VARCHAR(36) PATH '$.id', name VARCHAR(120) PATH '$.name',
         at_flicks BIGINT PATH '$.atFlicks')) AS mark), JSON_ARRAY())`,
    `ALTER TABLE moves ALTER COLUMN after_last DROP DEFAULT`,
    `UPDATE renders SET state = 'failed', error = 'Begun with an older form of the project. Render it again.'
       WHERE state IN ('rendering', 'encoding')`,
  ],
};
