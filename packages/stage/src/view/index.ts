export * from './false-colours';
export * from './frame-view';
export * from './light-pattern';
export * from './mixed-view';
export * from './sample-pattern';
export * from './shutter';
export * from './view';
