export { STAGE_FILES } from './stage-files';
export type { ShownView } from './shown-view';
export { inSight } from './in-sight';
export { Pictures } from './pictures';
export { StageHost } from './stage-host';
export { Thumbnail } from './thumbnail';
export type { FrameName } from './played-frames';
export { PlayedFrames } from './played-frames';
