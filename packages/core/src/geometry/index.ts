export * from './outline-from-above';
export * from './smooth-path';
export * from './ray';
