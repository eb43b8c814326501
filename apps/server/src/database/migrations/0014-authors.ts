import type { Migration } from './migration';

const AUTHOR = "author VARCHAR(60) NOT NULL DEFAULT 'you'";

/** Who made a change, and who gave an order: what is there already was done by whoever worked alone. */
export const theAuthors: Migration = {
  name: '0014-authors',
  statements: [
    `ALTER TABLE changes ADD COLUMN IF NOT EXISTS ${AUTHOR}`,
    `ALTER TABLE render_orders ADD COLUMN IF NOT EXISTS ${AUTHOR}`,
  ],
};
