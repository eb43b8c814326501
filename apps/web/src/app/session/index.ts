export { Playhead } from './playhead';
export { remembered } from './remembered';
export type { Seen } from './seen';
export { Selection } from './selection';
export { ANGLE_STEPS_DEG, GRID_STEPS_M, Snapping } from './snapping';
export { Units } from './units';
export type { BenchCard, ViewKind } from './viewing';
export { Viewing, poseOf, worldValues } from './viewing';
