export * from './daylight';
export * from './light-mix';
export * from './sun-position';
