export { Api } from './api';
export { Notices } from './notices';
export type { Conflict } from './project-store';
export { ProjectStore } from './project-store';
export { upload } from './upload';
