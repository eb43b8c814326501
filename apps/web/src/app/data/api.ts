import { Injectable } from '@angular/core';
import type { ProblemDocument } from '@arvex/core';
import { problemSchema } from '@arvex/core';
import * as z from 'zod';

/** The server refused, and said why. */
export class ProblemError extends Error {
  override readonly name = 'ProblemError';
  constructor(readonly problem: ProblemDocument) {
    super(problem.detail);
  }
}

/** The server did not answer, answered in pieces, or says that it cannot just now: not yet, and to be tried again. */
export class AwayError extends Error {
  override readonly name = 'AwayError';
  constructor(readonly reason = 'The server does not answer.') {
    super(`${reason} Your work is kept in this browser and sent when it is back.`);
  }
}

const LIMIT_MS = 30_000;
/** Answers that are final: the request itself is wrong, and stays so. Everything else means "not yet". */
const REFUSALS: ReadonlySet<number> = new Set([400, 404, 409, 413, 415, 422]);

/** Speaks to the server. Every failure is a {@link ProblemError} or an {@link AwayError}. */
@Injectable({ providedIn: 'root' })
export class Api {
  get<T>(path: string, schema: z.ZodType<T>): Promise<T> {
    return this.request(path, {}, schema);
  }

  post<T>(path: string, body: unknown, schema: z.ZodType<T>): Promise<T> {
    return this.send('POST', path, body, schema);
  }

  put<T>(path: string, body: unknown, schema: z.ZodType<T>): Promise<T> {
    return this.send('PUT', path, body, schema);
  }

  delete<T>(path: string, schema: z.ZodType<T>): Promise<T> {
    return this.request(path, { method: 'DELETE' }, schema);
  }

  /** A picture that the server makes of what it is told. */
  async picture(path: string, body: unknown, signal: AbortSignal): Promise<Blob> {
    const headers = { 'content-type': 'application/json' };
    const request = { method: 'POST', headers, body: JSON.stringify(body), signal };
    const response = await fetch(`/api${path}`, request).catch((error: unknown) => {
      throw signal.aborted ? error : new AwayError();
    });
    if (response.ok) return response.blob();
    return answerOf(response.status, await response.json().catch(() => undefined), z.never());
  }

  private send<T>(method: string, path: string, body: unknown, schema: z.ZodType<T>): Promise<T> {
    const headers = { 'content-type': 'application/json' };
    return this.request(path, { method, headers, body: JSON.stringify(body) }, schema);
  }

  private async request<T>(path: string, init: RequestInit, schema: z.ZodType<T>): Promise<T> {
    const response = await fetch(`/api${path}`, { signal: AbortSignal.timeout(LIMIT_MS), ...init }).catch(() => {
      throw new AwayError();
    });
    const answer: unknown = await response.json().catch(() => undefined);
    return answerOf(response.status, answer, schema);
  }
}

/** What an answer says. @param answer its JSON; `undefined` when it had none or was cut off. @throws ProblemError, AwayError. */
export function answerOf<T>(status: number, answer: unknown, schema: z.ZodType<T>): T {
  const problem = problemSchema.safeParse(answer);
  if (REFUSALS.has(status) && problem.success) throw new ProblemError(problem.data);
  if (status < 200 || status >= 300) throw new AwayError(problem.data?.detail);
  const read = schema.safeParse(answer);
  if (!read.success) throw new AwayError('The server’s answer cannot be read.');
  return read.data;
}
