import type { CoreError, ProblemDocument } from '@arvex/core';

/** Every problem the server can report: code, HTTP status, title. The detail says what to do. */
const PROBLEMS = {
  'invalid-request': [400, 'The request is not valid'],
  'foreign-page': [403, 'Another page asked for this'],
  'not-found': [404, 'There is no such thing'],
  'stale-revision': [409, 'Someone else changed this meanwhile'],
  'entity-exists': [409, 'It already exists'],
  'entity-in-use': [409, 'Something else still needs it'],
  'lease-lost': [409, 'The lease on this frame has run out'],
  'render-over': [409, 'This render is over'],
  'too-large': [413, 'The file is too large'],
  'wrong-type': [415, 'This kind of content is not taken here'],
  'no-such-range': [416, 'The file has no such part'],
  'wrong-host': [421, 'This is not the address of this application'],
  'file-missing': [409, 'A file that it names is not here'],
  'newer-form': [409, 'This was written by a newer Arvex'],
  'invalid-entity': [422, 'A value is out of range'],
  'broken-rule': [422, 'This would break what a project always keeps'],
  'invalid-geometry': [422, 'This is not usable geometry'],
  'invalid-picture': [422, 'This is not the picture asked for'],
  'invalid-lut': [422, 'This is not a table of colours'],
  'invalid-sound': [422, 'This is not usable sound'],
  'not-ready': [422, 'The cut is not ready for output'],
  'too-slow': [408, 'The request took too long to arrive'],
  internal: [500, 'The server met an error of its own'],
  busy: [503, 'Others are at work here'],
  'database-away': [503, 'The database does not answer'],
  'disk-full': [507, 'The disk is full'],
} as const satisfies Record<string, readonly [number, string]>;
export type ProblemCode = keyof typeof PROBLEMS;

/** An error that a client is told of. `more` goes into the problem document as it is. */
export class Problem extends Error {
  override readonly name = 'Problem';
  constructor(
    readonly code: ProblemCode,
    message: string,
    readonly more: Readonly<Record<string, unknown>> = {},
  ) {
    super(message);
  }

  get status(): number {
    return PROBLEMS[this.code][0];
  }

  document(): ProblemDocument {
    const [status, title] = PROBLEMS[this.code];
    return { type: `/problems/${this.code}`, title, status, detail: this.message, ...this.more };
  }
}

/** A core error as the problem it is for a client. */
export function problemOf(error: CoreError, more: Readonly<Record<string, unknown>> = {}): Problem {
  const field = error.path === '' ? more : { field: error.path, ...more };
  switch (error.code) {
    case 'stale-revision':
    case 'entity-exists':
    case 'entity-in-use':
    case 'broken-rule':
    case 'newer-form':
      return new Problem(error.code, error.message, field);
    case 'invalid-change':
      return new Problem('invalid-request', error.message, field);
    case 'unknown-entity':
      return new Problem('not-found', error.message, field);
    default:
      return new Problem('invalid-entity', error.message, field);
  }
}
