export { interchangeActions } from './actions';
export type { FilesWhere, FileTaker, KnownFile } from './files-in';
export { FILE_TAKERS, FilesIn } from './files-in';
export { reading } from './reading';
