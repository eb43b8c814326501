export * from './action-line';
export * from './advice';
export * from './continuity';
export * from './rig-room';
export * from './rigging';
