export * from './comfort';
export type { ComfortEvent, ComfortFrame, ComfortLimits } from './felt';
export { COMFORT_LIMITS } from './felt';
