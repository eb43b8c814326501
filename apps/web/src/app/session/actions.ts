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

/** Actions with all these words in their names or among their other words; those that begin with them first. */
export function foundActions(actions: readonly Action[], typed: string): readonly Action[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const parts = ({ name, words: others = '' }: Action) => `${name} ${others}`.toLowerCase().split(/[^\p{L}\p{N}-]+/u);
  // A word is meant from its beginning, or found anywhere in the name.
  const has = (action: Action) =>
    words.every(
      (word) => action.name.toLowerCase().includes(word) || parts(action).some((part) => part.startsWith(word)),
    );
  const named = (action: Action) => words.every((word) => action.name.toLowerCase().includes(word));
  const found = actions.filter(has);
  return [...found.filter(named), ...found.filter((action) => !named(action))];
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

/** Keys as people read them. */
export function keysText(keys: string): string {
  return keys.replace('ArrowLeft', '←').replace('ArrowRight', '→').replace('Escape', 'Esc').replaceAll('+', ' ');
}
