export * from './edit';
