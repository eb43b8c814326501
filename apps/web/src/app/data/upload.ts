import { Observable } from 'rxjs';
import type { z } from 'zod';
import { answerOf, AwayError } from './api';

/** How far a file on its way is (0 to 1), and at the end what the server says of it. */
export type Upload<T> =
  { readonly kind: 'sent'; readonly share: number } | { readonly kind: 'taken'; readonly answer: T };

/**
 * Sends a file as multipart while somebody listens; who stops listening gives it up.
 * @throws ProblemError or AwayError, as an error of the observable.
 */
export function upload<T>(path: string, file: Blob, name: string, schema: z.ZodType<T>): Observable<Upload<T>> {
  // fetch cannot tell how much of a body has been sent.
  return new Observable((listener) => {
    const request = new XMLHttpRequest();
    const body = new FormData();
    body.append('file', file, name);
    request.open('POST', `/api${path}`);
    request.upload.addEventListener('progress', ({ loaded, total }) =>
      listener.next({ kind: 'sent', share: total > 0 ? loaded / total : 0 }),
    );
    request.addEventListener('load', () => {
      try {
        listener.next({ kind: 'taken', answer: answerOf(request.status, jsonOf(request.responseText), schema) });
        listener.complete();
      } catch (error) {
        listener.error(error);
      }
    });
    request.addEventListener('error', () => listener.error(new AwayError()));
    request.send(body);
    return () => request.abort();
  });
}

function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined; // cut off, or no JSON at all: it says nothing
  }
}
