export type { GrowBoundsTree, StageFiles } from './body-library';
export type { SetPatch, StagedSet } from './set-patch';
export { NOTHING_STAGED, patchedSet, setPatch } from './set-patch';
export { FALSE_COLOURS } from './false-colours';
export * from './scopes';
export * from './stage';
export * from './shutter';
export * from './view';
