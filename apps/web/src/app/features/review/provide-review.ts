import type { Provider } from '@angular/core';
import type { Step } from '../../session';
import { ACTIONS, STEPS } from '../../session';
import { reviewActions } from './actions';

const STEP: Step = {
  id: 'review',
  order: 5,
  name: 'Review',
  words: 'render output movie export mp4 png frames',
  icon: 'rate_review',
  mends: ['output'],
  bench: () => import('./review-bench').then((file) => file.ReviewBench),
  lower: { name: 'Output', load: () => import('./output-list').then((file) => file.OutputList) },
};

/** What review brings: its step, and what is done in it. */
export function provideReview(): Provider[] {
  return [
    { provide: STEPS, multi: true, useValue: STEP },
    { provide: ACTIONS, multi: true, useFactory: reviewActions },
  ];
}
