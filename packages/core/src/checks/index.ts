export * from './camera-findings';
export * from './findings';
