export { DaylightCard } from './daylight-card';
export { LightGroupsCard } from './light-groups-card';
export { UnitsCard } from './units-card';
