export * from './set-patch';
