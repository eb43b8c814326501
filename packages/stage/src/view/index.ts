export * from './false-colours';
export * from './sample-pattern';
export * from './shutter';
export * from './view';
