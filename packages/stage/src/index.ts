export type { GrowBoundsTree, StageFiles } from './files';
export type { SetPatch, StagedSet } from './patch';
export { NOTHING_STAGED, setPatch } from './patch';
export type { AskedPicture, Tile } from './asked-picture';
export type { PixelSize, QuickDrawing } from './painter';
export * from './reading';
export * from './sights';
export * from './stage';
export * from './view';
