export * from './cameras';
export * from './exposure';
export * from './lens-kits';
export * from './match';
export * from './packages';
export * from './references';
