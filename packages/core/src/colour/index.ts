export * from './black-body';
export * from './luminance';
export * from './shoulder';
export * from './srgb';
