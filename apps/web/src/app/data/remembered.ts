import type { WritableSignal } from '@angular/core';
import { signal } from '@angular/core';
import type * as z from 'zod';

/**
 * A signal that this browser remembers. What was stored and no longer fits is forgotten.
 * A tab that is loaded anew has its own value again; a new tab begins with the last one of any.
 */
export function remembered<T>(key: string, schema: z.ZodType<T>, first: T): WritableSignal<T> {
  const value = signal(recall(key, schema) ?? first);
  remember(key, value()); // this tab's own from now on
  // At once: an effect would come too late where what is set goes with its component in the next moment.
  const { set } = value;
  value.set = (next) => {
    set(next);
    remember(key, next);
  };
  value.update = (change) => value.set(change(value()));
  return value;
}

/** Keeps a value for this tab, and for tabs to come. Where a browser keeps nothing, or is full, it is as new the next time. */
export function remember(key: string, value: unknown): void {
  for (const storage of [ofThisTab, ofAll]) write(storage, key, value);
}

/** What this tab, or else any, kept last. */
export function recall<T>(key: string, schema: z.ZodType<T>): T | undefined {
  return read(ofThisTab, key, schema) ?? read(ofAll, key, schema);
}

/** Keeps a value for this tab alone. */
export function rememberHere(key: string, value: unknown): void {
  write(ofThisTab, key, value);
}

/** What this tab kept last. */
export function recallHere<T>(key: string, schema: z.ZodType<T>): T | undefined {
  return read(ofThisTab, key, schema);
}

// A browser that forbids them does so when they are asked for.
const ofThisTab = (): Storage => sessionStorage;
const ofAll = (): Storage => localStorage;

const nameOf = (key: string): string => `arvex.${key}`;

function write(storage: () => Storage, key: string, value: unknown): void {
  try {
    storage().setItem(nameOf(key), JSON.stringify(value));
  } catch {
    // forbidden, or full: not kept
  }
}

function read<T>(storage: () => Storage, key: string, schema: z.ZodType<T>): T | undefined {
  try {
    return schema.safeParse(JSON.parse(storage().getItem(nameOf(key)) ?? 'null')).data;
  } catch {
    return undefined; // forbidden, or not JSON: somebody else's, or an older form
  }
}
