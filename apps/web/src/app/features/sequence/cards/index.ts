export { JoinsCard } from './joins-card';
export { ShotCard } from './shot-card';
export { SpeedCard } from './speed-card';
export { TakesCard } from './takes-card';
