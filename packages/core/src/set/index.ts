export * from './asset-file';
export * from './piece';
export * from './piece-shape';
export * from './placement-at';
export * from './placement-motion';
export * from './subject';
export * from './subject-points';
export * from './unit-guess';
