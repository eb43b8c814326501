export { DecisionCard } from './decision-card';
export { GlowCard } from './glow-card';
export { LightMixCard } from './light-mix-card';
export { LookCard } from './look-card';
export { ResponseCard } from './response-card';
export { VariationsCard } from './variations-card';
