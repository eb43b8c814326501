export * from './exposure-value';
export * from './hold';
export * from './meter';
export * from './usual-light';
