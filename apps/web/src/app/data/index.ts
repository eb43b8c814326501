export { Api, AwayError } from './api';
export { answerOf, fetchAhead, fetched, WorkerLost } from './fetched';
export { holding } from './holding';
export { Notices } from './notices';
export { retryWithPauses } from './pauses';
export type { Conflict, SaveState } from './project-store';
export { ProjectStore } from './project-store';
export { Projects } from './projects';
export { upload } from './upload';
