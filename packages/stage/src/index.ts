export type { GrowBoundsTree, StageFiles } from './files';
export type { SetPatch, StagedSet } from './patch';
export { NOTHING_STAGED, setPatch } from './patch';
export * from './reading';
export * from './sights';
export * from './stage';
export * from './view';
