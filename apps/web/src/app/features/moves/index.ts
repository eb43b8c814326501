export type { Track } from './keys';
export { KeyEditing } from './keys';
export { Marking } from './marks';
export type { DrawnPath } from './moves';
export { Moving } from './moves';
export { RigHandling } from './rig-handles';
