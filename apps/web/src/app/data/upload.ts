import type { ProblemDocument } from './api';
import { AwayError, ProblemError } from './api';

/** Sends a file as multipart and tells how far it is (0 to 1). @throws ProblemError, AwayError, or an abort. */
export function upload<T>(
  path: string,
  file: Blob,
  name: string,
  progress: (share: number) => void,
  signal: AbortSignal,
): Promise<T> {
  // fetch cannot tell how much of a body has been sent.
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    const body = new FormData();
    body.append('file', file, name);
    request.open('POST', `/api${path}`);
    request.responseType = 'json';
    request.upload.addEventListener('progress', ({ loaded, total }) => progress(total > 0 ? loaded / total : 0));
    request.addEventListener('load', () => {
      const answer = request.response as unknown;
      if (request.status < 300) resolve(answer as T);
      else if (request.status >= 502) reject(new AwayError());
      else reject(new ProblemError(answer as ProblemDocument));
    });
    request.addEventListener('error', () => reject(new AwayError()));
    request.addEventListener('abort', () => reject(new DOMException('Given up.', 'AbortError')));
    signal.addEventListener('abort', () => request.abort());
    request.send(body);
  });
}
