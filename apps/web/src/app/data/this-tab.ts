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
  const { held } = await navigator.locks.query();
  const free = before !== undefined && !(held ?? []).some(({ name }) => name === lockOf(before));
  const name = free ? before : crypto.randomUUID();
  rememberHere(NAME, name);
  void navigator.locks.request(lockOf(name), () => new Promise<never>(() => undefined));
  return name;
}

const lockOf = (name: string): string => `arvex-named-${name}`;
