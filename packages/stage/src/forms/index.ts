export * from './form';
export * from './form-part';
export * from './piece-form';
export * from './stand-in-forms';
