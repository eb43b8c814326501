export * from './change';
export * from './edits';
export * from './entities';
export * from './new-project';
export * from './project';
export * from './camera-facts';
export * from './package';
