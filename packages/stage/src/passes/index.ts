export * from './adding';
export * from './developing';
export * from './highlight-shoulder';
export * from './panorama-map';
export * from './picture-mix';
export * from './sample-accumulator';
