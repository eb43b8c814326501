export * from './keep';
export * from './shot-size';
export * from './subject-framing';
