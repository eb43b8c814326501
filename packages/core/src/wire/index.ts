export * from './event';
export * from './page';
export * from './problem';
export * from './project';
export * from './render';
