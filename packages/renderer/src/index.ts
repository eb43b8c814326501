export * from './picture-maker';
export * from './render-frames';
export type * from './transport';
