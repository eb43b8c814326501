export * from './camera-findings';
export * from './finding';
export * from './findings';
