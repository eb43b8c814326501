export * from './cut';
