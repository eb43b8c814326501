export * from './comfort';
export * from './settle';
