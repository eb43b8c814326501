export * from './developing';
export * from './highlight-shoulder';
export * from './sample-accumulator';
