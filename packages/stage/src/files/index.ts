export * from './body-library';
export * from './imported-body';
export * from './luminance';
