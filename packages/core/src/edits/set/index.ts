export * from './arrange';
export * from './light';
export * from './placement-curves';
export * from './placement-motion';
export * from './placements';
export * from './starting-places';
