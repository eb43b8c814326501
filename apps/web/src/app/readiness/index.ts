export { Checks } from './checks';
export type { FindingSource } from './finding-sources';
export { FINDINGS, projectFindings } from './finding-sources';
export { Findings } from './findings-list';
