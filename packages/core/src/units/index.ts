export * from './duration';
export * from './expression';
export * from './length';
