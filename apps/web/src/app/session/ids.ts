/** Ids of the steps of the work. */
export type StepId = 'set' | 'cameras' | 'moves' | 'sequence' | 'review';

/** Ids of what a view can show. */
export type ViewId = 'picture' | 'plan' | 'free' | 'cameras' | 'graph' | 'table' | 'lanes' | 'board' | 'variations';
