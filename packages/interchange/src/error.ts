/** A file that cannot be taken: the message names the place and the way out, `field` is the place for programs. */
export class InterchangeError extends Error {
  override readonly name = 'InterchangeError';
  constructor(
    message: string,
    readonly field = '',
    options?: ErrorOptions,
  ) {
    super(message, options);
  }
}
