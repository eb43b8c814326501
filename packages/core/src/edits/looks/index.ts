export * from './looks';
export * from './mix';
export * from './variations';
export * from './wearing';
