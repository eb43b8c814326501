import type { Provider } from '@angular/core';
import type { Step } from '../../session';
import { STEPS } from '../../session';

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

/** What review brings: its step. */
export function provideReview(): Provider[] {
  return [{ provide: STEPS, multi: true, useValue: STEP }];
}
