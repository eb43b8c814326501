export type { Track } from './keys';
export { Keys } from './keys';
export { Marks } from './marks';
export type { DrawnPath } from './moves';
export { Moves } from './moves';
export { RigHandles } from './rig-handles';
export { provideMoves } from './provide-moves';
