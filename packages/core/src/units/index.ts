export * from './expression';
export * from './length';
