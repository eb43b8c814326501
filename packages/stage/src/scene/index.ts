export * from './daylight';
export * from './moving-bodies';
export * from './piece-batches';
export * from './practicals';
export * from './set-scene';
export * from './standing-parts';
export * from './finish';
