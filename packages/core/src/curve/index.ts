export * from './curve';
export * from './curve-tools';
export * from './eased-pair';
export * from './span';
export * from './thinned';
