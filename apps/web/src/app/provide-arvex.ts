import type { Provider } from '@angular/core';
import { cardActions, helpActions } from './actions';
import { provideCameras } from './features/cameras';
import { interchangeActions } from './features/interchange';
import { provideLooks } from './features/looks';
import { provideMoves } from './features/moves';
import { provideReview } from './features/review';
import { provideSequence } from './features/sequence';
import { provideSet } from './features/set';
import { FINDINGS, projectFindings } from './readiness';
import { ACTIONS, transportActions, workspaceActions } from './session';
import { projectActions } from './shell/project-actions';
import { provideViews } from './views';

/** Everything that the parts of the application contribute: steps, views, cards, findings, actions. */
export function provideArvex(): Provider[] {
  return [
    { provide: ACTIONS, multi: true, useFactory: transportActions },
    { provide: ACTIONS, multi: true, useFactory: interchangeActions },
    provideSet(),
    provideMoves(),
    provideCameras(),
    provideSequence(),
    provideLooks(),
    provideReview(),
    provideViews(),
    { provide: FINDINGS, multi: true, useFactory: projectFindings },
    { provide: ACTIONS, multi: true, useFactory: workspaceActions },
    { provide: ACTIONS, multi: true, useFactory: projectActions },
    { provide: ACTIONS, multi: true, useFactory: cardActions },
    { provide: ACTIONS, multi: true, useFactory: helpActions },
  ];
}
