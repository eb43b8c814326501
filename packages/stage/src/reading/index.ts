export * from './scopes';
