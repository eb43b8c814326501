export { ComfortReport } from './comfort-report';
export { Keys } from './keys';
export type { Track } from './tracks';
export { Tracks } from './tracks';
export { Marks } from './marks';
export type { DrawnPath } from './moves';
export { Moves } from './moves';
export { RigHandles } from './rig-handles';
export { provideMoves } from './provide-moves';
