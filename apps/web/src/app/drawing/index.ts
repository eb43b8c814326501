export { STAGE_FILES } from './stage-files';
export type { ShownView } from './pictures';
export { Pictures } from './pictures';
export { StageHost } from './stage-host';
export { Thumbnails } from './thumbnails';
