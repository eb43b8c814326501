import { Injectable } from '@angular/core';
import type { EventName, EventOf } from '@arvex/core';
import { EVENTS } from '@arvex/core';
import { Observable, switchMap } from 'rxjs';
import { holding } from './holding';
import { retryWithPauses } from './pauses';

/** Something that the server told of a project. */
export type ProjectEvent = { [N in EventName]: { readonly kind: N; readonly data: EventOf[N] } }[EventName];

/** What tabs tell each other: an event, that there is no stream, or that one wants to know where things are. */
type Told = { readonly event: ProjectEvent } | { readonly lost: true } | { readonly asks: true };

/** The browser gave a stream up: it has to be opened anew. */
class StreamEnded extends Error {}

/** What happens to a project, as it happens. */
@Injectable({ providedIn: 'root' })
export class ProjectEvents {
  /**
   * The events of a project for as long as somebody listens. A browser opens few connections to one server, so of all its tabs one
   * has the stream and tells the others; when it is closed, another one opens it.
   * @param lost called whenever there is no stream.
   */
  of(projectId: string, lost: () => void): Observable<ProjectEvent> {
    const name = `arvex-events-${projectId}`;
    return new Observable<ProjectEvent>((listener) => {
      const tabs = new BroadcastChannel(name);
      const tell = (told: Told) => tabs.postMessage(told);
      let [leads, seq] = [false, -1];
      const take = (event: ProjectEvent) => {
        if (event.kind === 'hello' || event.kind === 'change') seq = Math.max(seq, event.data.seq);
        listener.next(event);
      };
      tabs.onmessage = ({ data }: MessageEvent<Told>) => {
        if ('event' in data) take(data.event);
        else if ('lost' in data) lost();
        else if (leads && seq >= 0) tell({ event: { kind: 'hello', data: { seq } } });
      };
      const lostForAll = () => {
        lost();
        tell({ lost: true });
      };
      const leading = holding(name)
        .pipe(
          switchMap(() => {
            leads = true;
            return streamOf(projectId, lostForAll).pipe(retryWithPauses(lostForAll));
          }),
        )
        .subscribe((event) => {
          take(event);
          tell({ event });
        });
      // Who comes later is told where the project is, and reads what is missing.
      tell({ asks: true });
      return () => {
        leading.unsubscribe();
        tabs.close();
      };
    });
  }
}

/** The server's own stream. One that breaks is opened again by the browser; one that it gives up is an error. */
function streamOf(projectId: string, lost: () => void): Observable<ProjectEvent> {
  return new Observable((listener) => {
    const source = new EventSource(`/api/projects/${projectId}/events`);
    for (const kind of Object.keys(EVENTS) as EventName[]) {
      source.addEventListener(kind, ({ data }: MessageEvent<string>) => {
        const read = EVENTS[kind].safeParse(jsonOf(data));
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
}

function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined; // cut off
  }
}
