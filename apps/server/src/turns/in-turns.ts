import { setImmediate } from 'node:timers/promises';

/** Work goes on for so long before others get their turn, milliseconds. */
const TURN_MS = 8;

/** Texts joined to pieces, none of which takes long to make: between two of them everybody else is served. */
export async function* piecesInTurns(texts: Iterable<string>): AsyncGenerator<string> {
  let [piece, since] = ['', performance.now()];
  for (const text of texts) {
    piece += text;
    if (performance.now() - since < TURN_MS) continue;
    yield piece;
    await setImmediate();
    [piece, since] = ['', performance.now()];
  }
  if (piece !== '') yield piece;
}

/** What steps that take a moment each come to; between them everybody else is served. */
export async function doneInTurns<T>(steps: Generator<unknown, T>): Promise<T> {
  for (let since = performance.now(); ;) {
    const step = steps.next();
    if (step.done) return step.value;
    if (performance.now() - since < TURN_MS) continue;
    await setImmediate();
    since = performance.now();
  }
}

/** Values that are made a text at once: a fraction of a millisecond. */
const VALUES_AT_ONCE = 1000;
/** Items of a list that are made a text at once where they are small. */
const ITEMS_AT_ONCE = 100;

/** JSON of a value in texts that do not take long to make: what is large is made piece by piece. */
export function* jsonTexts(value: unknown): Generator<string> {
  if (isSmall(value)) yield JSON.stringify(value);
  else if (Array.isArray(value)) yield* listTexts(value);
  else yield* objectTexts(value as object);
}

const isSmall = (value: unknown) => valuesIn(value, VALUES_AT_ONCE) <= VALUES_AT_ONCE;

/** Values within a value, itself counted: all of them, or more than `most`. */
function valuesIn(value: unknown, most: number): number {
  if (typeof value !== 'object' || value === null) return 1;
  let count = 1;
  for (const inner of Array.isArray(value) ? value : Object.values(value)) {
    count += valuesIn(inner, most - count);
    if (count > most) break;
  }
  return count;
}

function* objectTexts(object: object): Generator<string> {
  let before = '{';
  for (const [name, value] of Object.entries(object)) {
    if (value === undefined) continue;
    yield `${before}${JSON.stringify(name)}:`;
    yield* jsonTexts(value);
    before = ',';
  }
  yield before === '{' ? '{}' : '}';
}

function* listTexts(list: readonly unknown[]): Generator<string> {
  let before = '[';
  for (let i = 0; i < list.length; i += ITEMS_AT_ONCE) {
    const some = list.slice(i, i + ITEMS_AT_ONCE);
    const texts = isSmall(some) ? [JSON.stringify(some).slice(1, -1)] : some.map((item) => jsonTexts(item));
    for (const text of texts) {
      yield before;
      yield* typeof text === 'string' ? [text] : text;
      before = ',';
    }
  }
  yield ']';
}

/** The JSON of a value as {@link jsonTexts} makes it, whole. */
export async function jsonInTurns(value: unknown): Promise<string> {
  let json = '';
  for await (const piece of piecesInTurns(jsonTexts(value))) json += piece;
  return json;
}

/** A JSON list of what is JSON already. */
export function* jsonList(items: Iterable<string>, between = ','): Generator<string> {
  let before = '[';
  for (const item of items) {
    yield `${before}${item}`;
    before = between;
  }
  yield before === '[' ? '[]' : ']';
}
