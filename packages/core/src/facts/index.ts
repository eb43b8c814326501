export * from './camera-facts';
export * from './found-shots';
export * from './frame-name';
export * from './frames-table';
export * from './shot-facts';
