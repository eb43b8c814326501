export * from './angle-of-view';
export * from './delivery-fit';
export * from './distortion';
export * from './film-back';
export * from './focus';
export * from './lens-kit';
export * from './projection';
