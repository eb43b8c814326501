export * from './compose';
export * from './keep';
export * from './shot-size';
export * from './subject-framing';
export * from './subject-in-sight';
