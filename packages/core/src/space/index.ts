export * from './frame';
export * from './outline';
export * from './ray';
export * from './rotation';
export * from './smooth-path';
export * from './vector';
