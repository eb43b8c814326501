export * from './exr';
export * from './png';
