import type { Migration } from './migration';

/** A shot knows its scene, and which findings about it are meant. */
export const largeCuts: Migration = {
  name: '0012-large-cuts',
  statements: [
    `ALTER TABLE shots ADD COLUMN IF NOT EXISTS scene VARCHAR(120) NOT NULL DEFAULT ''`,
    `ALTER TABLE shots ADD COLUMN IF NOT EXISTS meant JSON NOT NULL DEFAULT '[]'`,
  ],
};
