import { computed, inject, Injectable, InjectionToken } from '@angular/core';
import type { StepId } from './ids';
import { Workspace } from './workspace';

/** Something that can be done, by name and perhaps by a key. */
export interface Action {
  /** By which buttons name it. */
  readonly id?: string;
  readonly name: string;
  /** Other words by which people look for it. */
  readonly words?: string;
  /** Keys as they are shown; `Ctrl` is also the command key of other keyboards. */
  readonly keys?: string;
  /** Steps in which its key works; all when not given. */
  readonly steps?: readonly StepId[];
  /** Whether there is anything to do now; an action that has nothing to do leaves its key to the next one. */
  readonly when?: () => boolean;
  /** Whether its key, while it has something to do, is its own whatever else it stands for: of what takes over the screen. */
  readonly takesOver?: boolean;
  readonly run: () => void;
}

/** A feature's actions, in the order in which they are listed. Called again when a signal that it read has changed. */
export type ActionSource = () => readonly Action[];

/** All actions; each feature contributes its own. */
export const ACTIONS = new InjectionToken<readonly ActionSource[]>('ACTIONS');

/** Every action with its key: the one list that keys, tooltips, the command search and the key help come from. */
@Injectable({ providedIn: 'root' })
export class Actions {
  private readonly sources = inject(ACTIONS);
  private readonly workspace = inject(Workspace);

  /** All actions as they are now. */
  readonly all = computed<readonly Action[]>(() => this.sources.flatMap((source) => source()));
  private readonly named = computed(
    () => new Map(this.all().flatMap((action) => (action.id === undefined ? [] : [[action.id, action] as const]))),
  );

  /** All actions that have something to do now. */
  able(): readonly Action[] {
    return this.all().filter(({ when }) => !when || when());
  }

  /** The action with this id. */
  byId(id: string): Action | undefined {
    return this.named().get(id);
  }

  /** Actions that have a key in the present step. */
  here(): readonly Action[] {
    const step = this.workspace.step();
    return this.all().filter(({ keys, steps }) => keys !== undefined && (!steps || steps.includes(step)));
  }

  /**
   * Runs what a key stands for in the present step, after `first`.
   * @returns whether it stands for anything that can be done now.
   */
  press(event: KeyboardEvent, first?: () => void): boolean {
    const keys = keysOf(event);
    const able = this.here().filter((one) => one.keys === keys && (!one.when || one.when()));
    // What a mode gives a key goes before what it does else.
    const action = able.find(({ takesOver }) => takesOver) ?? able.find(({ when }) => when) ?? able[0];
    if (!action) return false;
    first?.();
    action.run();
    return true;
  }
}

/** Letters that have to be typed before they are looked for inside words of a name. */
const INSIDE_FROM = 3;

/**
 * Actions with all these words in their names or among their other words. Those that have them as whole words come first, then
 * those with words that begin with them; what stands in the name comes before other words.
 */
export function foundActions(actions: readonly Action[], typed: string): readonly Action[] {
  const words = wordsOf(typed);
  const ranked = actions.map((action) => {
    const [name, others] = [wordsOf(action.name), wordsOf(action.words ?? '')];
    const ranks = words.map((word) => rankOf(word, name, others));
    return { action, fits: !ranks.includes(0), rank: ranks.reduce((sum, rank) => sum + rank, 0) };
  });
  return ranked
    .filter(({ fits }) => fits)
    .sort((a, b) => b.rank - a.rank)
    .map(({ action }) => action);
}

/** How well a word is met: 0 where it is not. */
function rankOf(word: string, name: readonly string[], others: readonly string[]): number {
  const begins = (part: string) => part.startsWith(word);
  if (name.includes(word)) return 5;
  if (name.some(begins)) return 4;
  if (others.includes(word)) return 3;
  if (others.some(begins)) return 2;
  return word.length >= INSIDE_FROM && name.some((part) => part.includes(word)) ? 1 : 0;
}

function wordsOf(text: string): string[] {
  return text
    .toLowerCase()
    .split(/[^\p{L}\p{N}-]+/u)
    .filter(Boolean);
}

/** Keys that the list writes otherwise; Backspace is all that small keyboards have. */
const NAMES: Readonly<Record<string, string>> = { ' ': 'Space', Backspace: 'Delete' };

/** A pressed key as the list writes it. */
function keysOf({ key, code, ctrlKey, metaKey, shiftKey, altKey }: KeyboardEvent): string {
  // A digit stays one with Shift, whatever sign its key has then.
  const digit = shiftKey ? /^Digit(\d)$/.exec(code)?.[1] : undefined;
  const name = digit ?? NAMES[key] ?? (key.length === 1 ? key.toUpperCase() : key);
  // A sign like ? already says that Shift is held.
  const shifted = shiftKey && (digit !== undefined || key.length > 1 || key === ' ' || /[a-z]/i.test(key));
  return [(ctrlKey || metaKey) && 'Ctrl', altKey && 'Alt', shifted && 'Shift', name].filter(Boolean).join('+');
}

const READ_AS: Readonly<Record<string, string>> = {
  ArrowLeft: '←',
  ArrowRight: '→',
  ArrowUp: '↑',
  ArrowDown: '↓',
  PageUp: 'Page ↑',
  PageDown: 'Page ↓',
  Escape: 'Esc',
};

/** Keys as people read them. */
export function keysText(keys: string): string {
  return keys.replace(/Arrow\w+|Page\w+|Escape/, (key) => READ_AS[key] ?? key).replaceAll('+', ' ');
}
