import { Injectable } from '@angular/core';
import * as z from 'zod';
import { recallHere, rememberHere } from './remembered';

const NAME = 'tab';

/** This tab of the browser, by a name that outlives its reloads. */
@Injectable({ providedIn: 'root' })
export class ThisTab {
  private named: Promise<string> | undefined;

  name(): Promise<string> {
    this.named ??= taken();
    return this.named;
  }
}

/** The name that the tab had before, unless it is the copy of a tab that still lives, which its lock says. */
async function taken(): Promise<string> {
  const before = recallHere(NAME, z.uuid());
  const free = before !== undefined && !(await livingTabs()).has(before);
  const name = free ? before : crypto.randomUUID();
  rememberHere(NAME, name);
  void navigator.locks.request(lockOf(name), () => new Promise<never>(() => undefined));
  return name;
}

/** Names of the tabs of this browser that are open. */
export async function livingTabs(): Promise<ReadonlySet<string>> {
  const { held } = await navigator.locks.query();
  const prefix = lockOf('');
  return new Set((held ?? []).flatMap(({ name }) => (name?.startsWith(prefix) ? [name.slice(prefix.length)] : [])));
}

const lockOf = (name: string): string => `arvex-named-${name}`;
