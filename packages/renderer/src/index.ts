export { controlPicture, wrongInControl } from './control';
export * from './picture-maker';
export * from './render-frames';
export * from './stage-pictures';
export * from './transport';
