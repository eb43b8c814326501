export { ContinuityCard } from './continuity-card';
export { CoverageCard } from './coverage-card';
export { JoinsCard } from './joins-card';
export { RiggingCard } from './rigging-card';
export { ShotCard } from './shot-card';
export { SpeedCard } from './speed-card';
export { TakesCard } from './takes-card';
