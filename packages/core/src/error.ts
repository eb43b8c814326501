/** What can be wrong with values given to the core. The code is stable; the message is for people. */
export type CoreErrorCode =
  | 'timecode-form'
  | 'timecode-dropped'
  | 'expression'
  | 'out-of-range'
  | 'unknown-entity'
  | 'entity-exists'
  | 'entity-in-use'
  | 'stale-revision'
  | 'invalid-entity'
  | 'broken-rule'
  | 'newer-form'
  | 'invalid-change'
  | 'too-short'
  | 'circle'
  | 'in-motion'
  | 'locked';

/** An error of the core: `code` for programs, `message` with the way out for people, `path` to the field. */
export class CoreError extends Error {
  override readonly name = 'CoreError';
  constructor(
    readonly code: CoreErrorCode,
    message: string,
    readonly path = '',
  ) {
    super(message);
  }
}
