export * from './appearance';
export * from './blocked';
export * from './ground';
export * from './piece-shape';
export * from './placement-at';
export * from './subject';
export * from './unit-guess';
