import { DestroyRef, inject, Injectable } from '@angular/core';
import type { Advice, Project, RigTrouble } from '@arvex/core';
import type { Remote } from 'comlink';
import { wrap } from 'comlink';
import type { Observable } from 'rxjs';
import { catchError, defer } from 'rxjs';
import { answerOf, WorkerLost } from '../../data';
import type { ContinuityWorker } from './continuity.worker';

/** Asks the worker that judges cuts; it is made when it is first asked, and anew when it was lost. */
@Injectable({ providedIn: 'root' })
export class CutJudge {
  private worker: Worker | undefined;
  private remote: Remote<ContinuityWorker> | undefined;

  constructor() {
    inject(DestroyRef).onDestroy(() => this.worker?.terminate());
  }

  continuity(project: Project, sequenceId: string): Observable<readonly Advice[]> {
    return this.ask((remote) => remote.continuityOf(project, sequenceId));
  }

  rigging(project: Project, shotId: string): Observable<readonly RigTrouble[]> {
    return this.ask((remote) => remote.riggingOf(project, shotId));
  }

  private ask<T>(question: (remote: Remote<ContinuityWorker>) => Promise<T>): Observable<T> {
    return defer(() => {
      this.worker ??= new Worker(new URL('./continuity.worker', import.meta.url), { type: 'module' });
      this.remote ??= wrap<ContinuityWorker>(this.worker);
      return answerOf(this.worker, question(this.remote));
    }).pipe(
      catchError((error: unknown) => {
        // Made anew at the next try.
        if (error instanceof WorkerLost) this.worker = this.remote = undefined;
        throw error;
      }),
    );
  }
}
