export * from './action-line';
export * from './advice';
export * from './continuity';
export * from './rigging';
