export * from './picture-maker';
export * from './render-frames';
export * from './transport';
