export type { Meeting, Pulled } from './cut-drag';
export { CutDrag, SHOT_DRAGS } from './cut-drag';
export { CutEdits } from './cut-edits';
export { JointSnap } from './joint-snap';
export { LiveSwitch } from './live-switch';
export { provideSequence } from './provide-sequence';
export { ShotSelection } from './shot-selection';
export { TakeComparison } from './take-comparison';
