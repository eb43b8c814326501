import { setImmediate } from 'node:timers/promises';
import { Problem } from '../problem/problem';

/** Deepest nesting of a body: what is kept as JSON in the database has room for it (JSON_VALID takes 32 levels). */
const DEEPEST = 24;

/** Values of a body, at most: as many as are read without holding others up. 60 000 keys of a move have fewer. */
const MOST_VALUES = 250_000;

/** Of a body, so much is looked through before others get their turn, bytes. */
const TURN_BYTES = 1024 * 1024;

const [QUOTE, BACKSLASH, OPEN_LIST, CLOSE_LIST, OPEN, CLOSE, COMMA] = [34, 92, 91, 93, 123, 125, 44];

/**
 * JSON of a request, once its depth and its number of values are known to be within bounds.
 * @throws Problem `too-large` or `invalid-request`.
 */
export async function readJson(body: Buffer): Promise<unknown> {
  let [depth, values, inText] = [0, 0, false];
  for (let [i, turn] = [0, TURN_BYTES]; i < body.length; i++) {
    if (i >= turn) {
      await setImmediate();
      turn = i + TURN_BYTES;
    }
    const byte = body[i];
    if (inText) {
      if (byte === BACKSLASH) i += 1;
      else if (byte === QUOTE) inText = false;
    } else if (byte === QUOTE) inText = true;
    else if (byte === OPEN || byte === OPEN_LIST) {
      depth += 1;
      values += 1;
      if (depth > DEEPEST) throw new Problem('invalid-request', `The body is nested more than ${DEEPEST} deep.`);
    } else if (byte === CLOSE || byte === CLOSE_LIST) depth -= 1;
    else if (byte === COMMA) {
      values += 1;
      if (values > MOST_VALUES)
        throw new Problem('too-large', `The body has more than ${MOST_VALUES} values. Send less at once.`);
    }
  }
  const isLarge = body.length > TURN_BYTES / 4;
  if (isLarge) await setImmediate();
  const text = body.toString('utf8');
  if (text.includes('"__proto__"')) throw new Problem('invalid-request', 'A field cannot be called "__proto__".');
  if (isLarge) await setImmediate();
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new Problem('invalid-request', 'The body is not JSON.');
  }
  if (text.includes('\\u')) mustBeText(value);
  if (isLarge) await setImmediate();
  return value;
}

/** Half of a character that takes two. */
const HALF = /\p{Surrogate}/u;

/** Half of a character cannot be kept: JSON may write it as an escape. @throws Problem `invalid-request`. */
function mustBeText(value: unknown): void {
  if (typeof value === 'string') {
    if (HALF.test(value)) throw new Problem('invalid-request', 'A text of the body ends within a character.');
  } else if (typeof value === 'object' && value !== null) {
    for (const [key, inner] of Object.entries(value)) {
      mustBeText(key);
      mustBeText(inner);
    }
  }
}
