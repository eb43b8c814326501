import type { Provider } from '@angular/core';
import type { Step } from '../../session';
import { STEPS } from '../../session';

const STEP: Step = {
  id: 'sequence',
  order: 4,
  name: 'Sequence',
  words: 'cut add shot trim order edit',
  icon: 'view_column',
  mends: ['sequence'],
  bench: () => import('./sequence-bench').then((file) => file.SequenceBench),
};

/** What the sequence brings: its step. */
export function provideSequence(): Provider[] {
  return [{ provide: STEPS, multi: true, useValue: STEP }];
}
