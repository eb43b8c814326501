export { Checks } from './checks';
export { Findings } from './findings-list';
