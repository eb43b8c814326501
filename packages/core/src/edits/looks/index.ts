export * from './looks';
export * from './variations';
export * from './wearing';
