import { dequal } from 'dequal/lite';
import type { Curve, Key } from '../curve';
import { CoreError } from '../error';
import type { WrittenPart } from './change';
import { checked } from './checked';
import * as z from 'zod';

type Entries = Readonly<Record<string, unknown>>;

/**
 * A field that is a record, with one of its entries changed. Only that entry is looked at; of a long curve only the keys
 * that change.
 * @throws CoreError `invalid-entity` naming the place.
 */
export function patchedPart(schema: z.ZodType, value: unknown, part: WrittenPart, kind: string): Entries {
  const [field, name] = part.at;
  const where = [kind, field, name];
  const record = recordOf(schema);
  if (!record) {
    throw new CoreError('invalid-entity', `${kind}.${field} has no entries of their own.`, `${kind}.${field}`);
  }
  const entries = (value ?? {}) as Entries;
  if (part.how === 'gone') {
    const { [name]: _gone, ...rest } = entries;
    return rest;
  }
  checked(z.safeParse(record.keyType as z.ZodType, name), where);
  if (part.how === 'put')
    return { ...entries, [name]: checked(z.safeParse(record.valueType as z.ZodType, part.value), where) };
  const keys = withKeys((entries[name] ?? []) as Curve, part);
  // The keys themselves were read with the change; in order and each at its own time they are by being put so.
  return { ...entries, [name]: keys };
}

/** A curve with some keys put at their times, and those at other times taken away. One pass over keys that are in order anyway. */
function withKeys(curve: Curve, { put, gone }: Extract<WrittenPart, { how: 'keys' }>): Curve {
  const added = [...put].sort((a, b) => a.atFlicks - b.atFlicks);
  const away = [...gone, ...added.map(({ atFlicks }) => atFlicks)].sort((a, b) => a - b);
  const keys: Key[] = [];
  let [nextAdded, nextAway] = [0, 0];
  for (const key of curve) {
    for (let one = added[nextAdded]; one && one.atFlicks <= key.atFlicks; one = added[nextAdded]) {
      keys.push(one);
      nextAdded += 1;
    }
    while ((away[nextAway] ?? Infinity) < key.atFlicks) nextAway += 1;
    if (away[nextAway] !== key.atFlicks) keys.push(key);
  }
  return [...keys, ...added.slice(nextAdded)];
}

/** The part that takes another one back. @param value the field as it was before. */
export function partUndone(part: WrittenPart, value: unknown): WrittenPart {
  const { at } = part;
  const was = (value as Entries | undefined)?.[at[1]];
  if (was === undefined) return { how: 'gone', at };
  if (part.how !== 'keys') return { how: 'put', at, value: was };
  const times = [...new Set([...part.put.map(({ atFlicks }) => atFlicks), ...part.gone])];
  const stood = (time: number) => keyAtTime(was as Curve, time);
  const put = times.flatMap((time) => stood(time) ?? []);
  return { how: 'keys', at, put, gone: times.filter((time) => !stood(time)) };
}

/** Whether a field is a record, whose entries can be changed one by one. */
export function hasEntries(schema: z.ZodType): boolean {
  return recordOf(schema) !== undefined;
}

/** The record that a field is, with a default or without. */
function recordOf(schema: z.ZodType): z.ZodRecord | undefined {
  const inner = schema instanceof z.ZodDefault ? schema.unwrap() : schema;
  return inner instanceof z.ZodRecord ? inner : undefined;
}

/** Curves up to this many keys are sent whole. */
const LONG_CURVE = 64;

/**
 * Parts that make a record into another one: nothing for entries that stay, whole ones where they differ, and of long curves
 * only the keys that do.
 */
export function partsBetween(field: string, was: object, is: object): WrittenPart[] {
  const [before, after] = [was as Entries, is as Entries];
  return [...new Set([...Object.keys(before), ...Object.keys(after)])].flatMap((name): WrittenPart[] => {
    const at: [string, string] = [field, name];
    if (before[name] === after[name]) return [];
    if (after[name] === undefined) return [{ how: 'gone', at }];
    const whole: WrittenPart = { how: 'put', at, value: after[name] };
    if (!isCurve(before[name]) || !isCurve(after[name])) return dequal(before[name], after[name]) ? [] : [whole];
    const keys = keysBetween(before[name], after[name]);
    if (keys.put.length + keys.gone.length === 0) return [];
    return [isShorter(keys, after[name]) ? { how: 'keys', at, ...keys } : whole];
  });
}

/** Whether an entry is a curve: what else is in records is no list of things with times. */
function isCurve(entry: unknown): entry is Curve {
  const first: unknown = Array.isArray(entry) ? entry[0] : undefined;
  return typeof first === 'object' && first !== null && 'atFlicks' in first;
}

function isShorter({ put, gone }: { put: readonly Key[]; gone: readonly number[] }, curve: Curve): boolean {
  return curve.length > LONG_CURVE && put.length + gone.length < curve.length / 2;
}

/** Keys that differ, found by going along both curves at once. */
function keysBetween(before: Curve, after: Curve): { put: Key[]; gone: number[] } {
  const put: Key[] = [];
  const gone: number[] = [];
  let next = 0;
  for (const key of after) {
    let was = before[next];
    for (; was && was.atFlicks < key.atFlicks; was = before[next]) {
      gone.push(was.atFlicks);
      next += 1;
    }
    const stood = was?.atFlicks === key.atFlicks ? was : undefined;
    if (stood) next += 1;
    if (stood !== key && !dequal(stood, key)) put.push(key);
  }
  return { put, gone: [...gone, ...before.slice(next).map(({ atFlicks }) => atFlicks)] };
}

/** The key at exactly a time, found by halves. */
function keyAtTime(curve: Curve, atFlicks: number): Key | undefined {
  let [low, high] = [0, curve.length - 1];
  while (low < high) {
    const middle = (low + high) >>> 1;
    if ((curve[middle] as Key).atFlicks < atFlicks) low = middle + 1;
    else high = middle;
  }
  return curve[low]?.atFlicks === atFlicks ? curve[low] : undefined;
}
