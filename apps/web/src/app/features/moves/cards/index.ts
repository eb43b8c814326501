export { AddMoveCard } from './add-move-card';
export { ComfortCard } from './comfort-card';
export { HandCard } from './hand-card';
export { RackCard } from './rack-card';
export { RigCard } from './rig-card';
export { TimingCard } from './timing-card';
