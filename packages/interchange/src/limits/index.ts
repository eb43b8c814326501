export * from './geometry-limit';
