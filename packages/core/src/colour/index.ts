export * from './black-body';
export * from './luminance';
export * from './srgb';
