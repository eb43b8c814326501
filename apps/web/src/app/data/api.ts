import { Injectable } from '@angular/core';

/** A problem document (RFC 9457) as the server sends it. */
export interface ProblemDocument {
  readonly type: string;
  readonly title: string;
  readonly status: number;
  readonly detail: string;
  readonly field?: string;
  readonly [more: string]: unknown;
}

/** The server refused, and said why. */
export class ProblemError extends Error {
  override readonly name = 'ProblemError';
  constructor(readonly problem: ProblemDocument) {
    super(problem.detail);
  }
}

/** The server did not answer at all, or answered that it cannot just now. */
export class AwayError extends Error {
  override readonly name = 'AwayError';
  constructor() {
    super('The server does not answer. Your work is kept in this browser and sent when it is back.');
  }
}

const LIMIT_MS = 30_000;
/** Answers that mean "later": bad gateway, away, timed out. */
const AWAY = new Set([502, 503, 504]);

/** Speaks to the server. Every failure is a {@link ProblemError} or an {@link AwayError}. */
@Injectable({ providedIn: 'root' })
export class Api {
  get<T>(path: string): Promise<T> {
    return this.request<T>(path, {});
  }

  post<T>(path: string, body: unknown): Promise<T> {
    const headers = { 'content-type': 'application/json' };
    return this.request<T>(path, { method: 'POST', headers, body: JSON.stringify(body) });
  }

  put<T>(path: string, body: unknown): Promise<T> {
    const headers = { 'content-type': 'application/json' };
    return this.request<T>(path, { method: 'PUT', headers, body: JSON.stringify(body) });
  }

  delete<T>(path: string): Promise<T> {
    return this.request<T>(path, { method: 'DELETE' });
  }

  private async request<T>(path: string, init: RequestInit): Promise<T> {
    let response: Response;
    try {
      response = await fetch(`/api${path}`, { signal: AbortSignal.timeout(LIMIT_MS), ...init });
    } catch {
      throw new AwayError();
    }
    if (response.ok) return (await response.json()) as T;
    if (AWAY.has(response.status)) throw new AwayError();
    throw new ProblemError(await problemIn(response));
  }
}

async function problemIn(response: Response): Promise<ProblemDocument> {
  const { status, statusText: title } = response;
  const fallback = { type: 'about:blank', title, status, detail: `The server answered ${status} ${title}.` };
  return response.json().catch(() => fallback) as Promise<ProblemDocument>;
}
