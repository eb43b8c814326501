import { Injectable } from '@angular/core';
import type { EventName, EventOf } from '@arvex/core';
import { EVENTS } from '@arvex/core';
import { Observable } from 'rxjs';
import { retryWithPauses } from './pauses';

/** Something that the server told of a project. */
export type ProjectEvent = { [N in EventName]: { readonly kind: N; readonly data: EventOf[N] } }[EventName];

/** The browser gave a stream up: it has to be opened anew. */
class StreamEnded extends Error {}

/** What happens to a project, as it happens. */
@Injectable({ providedIn: 'root' })
export class ProjectEvents {
  /**
   * The events of a project for as long as somebody listens. A stream that breaks is opened again, by the browser itself or, where
   * it has given up, by us after a pause.
   * @param lost called whenever there is no stream.
   */
  of(projectId: string, lost: () => void): Observable<ProjectEvent> {
    const stream = new Observable<ProjectEvent>((listener) => {
      const source = new EventSource(`/api/projects/${projectId}/events`);
      for (const kind of Object.keys(EVENTS) as EventName[]) {
        source.addEventListener(kind, ({ data }: MessageEvent<string>) => {
          const read = EVENTS[kind].safeParse(JSON.parse(data));
          // One that cannot be read is made up for by what comes next: its place in the history shows that one is missing.
          if (read.success) listener.next({ kind, data: read.data } as ProjectEvent);
        });
      }
      source.addEventListener('error', () => {
        lost();
        if (source.readyState === EventSource.CLOSED) listener.error(new StreamEnded());
      });
      return () => source.close();
    });
    return stream.pipe(retryWithPauses(() => lost()));
  }
}
