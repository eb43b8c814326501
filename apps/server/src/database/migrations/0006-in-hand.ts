import type { Migration } from './migration';

/**
 * How often each frame of a render was tried and how many are done; when the shutter opens, how a head carries its camera; files by
 * content that the history still names.
 */
export const inHand: Migration = {
  name: '0006-in-hand',
  statements: [
    `ALTER TABLE renders ADD COLUMN IF NOT EXISTS frames_done INT NOT NULL DEFAULT 0`,
    `UPDATE renders r SET frames_done = (SELECT COUNT(*) FROM frames f WHERE f.render_id = r.id AND f.state = 'done')`,
    `ALTER TABLE frames ADD COLUMN IF NOT EXISTS attempts INT NOT NULL DEFAULT 0`,
    `ALTER TABLE projects ADD COLUMN IF NOT EXISTS shutter_opens VARCHAR(12) NOT NULL DEFAULT 'at-frame'`,
    `ALTER TABLE cameras ADD COLUMN IF NOT EXISTS head_offset_mm JSON NOT NULL DEFAULT '[0,0,0]'`,
  ],
};
