export * from './false-colours';
export * from './light-pattern';
export * from './sample-pattern';
export * from './shutter';
export * from './view';
