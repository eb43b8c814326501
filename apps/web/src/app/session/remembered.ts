import type { WritableSignal } from '@angular/core';
import { effect, signal } from '@angular/core';
import type { z } from 'zod';

/** A signal that this browser remembers. What was stored and no longer fits is forgotten. Needs an injection context. */
export function remembered<T>(key: string, schema: z.ZodType<T>, first: T): WritableSignal<T> {
  const name = `arvex.${key}`;
  const value = signal(readStored(name, schema) ?? first);
  effect(() => localStorage.setItem(name, JSON.stringify(value())));
  return value;
}

function readStored<T>(name: string, schema: z.ZodType<T>): T | undefined {
  try {
    return schema.safeParse(JSON.parse(localStorage.getItem(name) ?? 'null')).data;
  } catch {
    return undefined; // not JSON: somebody else's, or an older form
  }
}
