import type { Migration } from './migration';

/** A surface says of which kind it is. */
export const surfaces: Migration = {
  name: '0015-surfaces',
  statements: [`UPDATE placements SET surface = JSON_INSERT(surface, '$.kind', 'colour')`],
};
