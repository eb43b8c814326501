export * from './comfort';
