import { Observable } from 'rxjs';

/** A lock that all tabs of the browser know by name: given once it is free, and held until nobody listens. */
export function holding(name: string): Observable<void> {
  return new Observable((listener) => {
    const wish = new AbortController();
    let letGo: () => void = () => undefined;
    navigator.locks
      .request(name, { signal: wish.signal }, () => {
        listener.next();
        return new Promise<void>((resolve) => (letGo = resolve));
      })
      .catch((error: unknown) => {
        if (!wish.signal.aborted) listener.error(error);
      });
    return () => {
      wish.abort();
      letGo();
    };
  });
}
