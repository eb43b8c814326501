export * from './check-obj';
export * from './pack-obj';
