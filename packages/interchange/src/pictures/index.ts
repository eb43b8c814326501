export * from './exr';
export * from './png';
export * from './tiff';
export type { ExrAttributes } from './exr-header';
