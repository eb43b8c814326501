import { generateKeyBetween } from 'fractional-indexing';

/** Digits by which two that take the same place at once are told apart. */
const TELLING_DIGITS = 3;
const DIGITS = '0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz';

/**
 * A place in an order between two others, as text that sorts there (fractional indexing). There is always one more. The id of
 * what is put there makes it its own, so that two who put something at the same place at once do not meet.
 * @param before the place before it; the beginning when not given.
 * @param after the place after it; the end when not given.
 */
export function orderBetween(before: string | undefined, after: string | undefined, id: string): string {
  let upper = after ?? null;
  for (;;) {
    const between = generateKeyBetween(before ?? null, upper);
    const own = between + telling(id);
    // Where the place after it begins with the same digits, there is room below them.
    if (upper === null || own < upper) return own;
    upper = between;
  }
}

interface Placed {
  readonly order: string;
  readonly id: string;
}

/** By character codes, as the database compares them too. */
export function compareOrder(a: Placed, b: Placed): number {
  return a.order < b.order ? -1 : a.order > b.order ? 1 : a.id < b.id ? -1 : a.id > b.id ? 1 : 0;
}

/** Some digits that follow from an id; the last one is never 0, which ends no such text. */
export function telling(id: string): string {
  let rest = parseInt(id.replaceAll('-', '').slice(-8), 16) || 1;
  let digits = '';
  for (let i = 0; i < TELLING_DIGITS; i++) {
    const last = i === TELLING_DIGITS - 1;
    digits += DIGITS[last ? 1 + (rest % (DIGITS.length - 1)) : rest % DIGITS.length] ?? '1';
    rest = Math.floor(rest / DIGITS.length);
  }
  return digits;
}
