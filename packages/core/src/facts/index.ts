export * from './camera-facts';
export * from './frame-name';
export * from './frames-table';
export * from './shot-facts';
