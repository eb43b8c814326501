export * from './exr';
export * from './png';
export type { ExrAttributes } from './exr-header';
