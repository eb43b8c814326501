export * from './camera-findings';
export * from './coverage';
export * from './finding';
export * from './findings';
export * from './meant';
