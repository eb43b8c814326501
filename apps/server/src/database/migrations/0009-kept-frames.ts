import type { Migration } from './migration';

/** Frames say what they were made of, so that others that would come out the same are found; and who makes them, so that one who begins anew gives them up. */
export const keptFrames: Migration = {
  name: '0009-kept-frames',
  statements: [
    `ALTER TABLE frames ADD COLUMN IF NOT EXISTS made_as VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL`,
    `ALTER TABLE frames ADD INDEX IF NOT EXISTS frames_made_as (project_id, made_as)`,
    `ALTER TABLE frames ADD COLUMN IF NOT EXISTS leased_by VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL`,
    `ALTER TABLE frames ADD INDEX IF NOT EXISTS frames_leased_by (leased_by)`,
  ],
};
