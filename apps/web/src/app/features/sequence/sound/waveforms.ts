import { DestroyRef, inject, Injectable } from '@angular/core';
import type { SoundFile } from '@arvex/core';
import type { Remote } from 'comlink';
import { wrap } from 'comlink';
import type { Observable } from 'rxjs';
import { catchError, defer, shareReplay, throwError } from 'rxjs';
import { answerOf, WorkerLost } from '../../../data';
import type { WaveformWorker } from './waveform.worker';

/** Strokes of a waveform in a second, as the worker makes them. */
export const STROKES_PER_S = 50;

/** Waveforms of files of sound, made in a worker and kept in this browser. */
@Injectable({ providedIn: 'root' })
export class Waveforms {
  private worker: Worker | undefined;
  private remote: Remote<WaveformWorker> | undefined;
  private readonly known = new Map<string, Observable<Int8Array>>();

  constructor() {
    inject(DestroyRef).onDestroy(() => this.worker?.terminate());
  }

  /** Least and greatest value of each stroke, −128 to 127, side by side. */
  of({ hash, durationS }: SoundFile): Observable<Int8Array> {
    let waveform = this.known.get(hash);
    if (!waveform) {
      waveform = defer(() => {
        this.worker ??= new Worker(new URL('./waveform.worker', import.meta.url), { type: 'module' });
        this.remote ??= wrap<WaveformWorker>(this.worker);
        return answerOf(this.worker, this.remote.waveform(hash, durationS));
      }).pipe(
        catchError((error: unknown) => {
          this.known.delete(hash); // asked for anew by the next
          if (error instanceof WorkerLost) this.worker = this.remote = undefined;
          return throwError(() => error);
        }),
        shareReplay(1),
      );
      this.known.set(hash, waveform);
    }
    return waveform;
  }
}
