export * from './change-rate';
export * from './head';
