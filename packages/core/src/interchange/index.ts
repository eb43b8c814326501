export * from './frame-name';
export * from './frames-table';
