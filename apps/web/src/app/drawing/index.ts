export { STAGE_FILES } from './stage-files';
export type { ShownView } from './stage-host';
export { StageHost } from './stage-host';
export { Thumbnails } from './thumbnails';
