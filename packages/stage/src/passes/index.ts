export * from './developing';
export * from './highlight-shoulder';
export * from './picture-mix';
export { SampleAccumulator } from './sample-accumulator';
