import { inject } from '@angular/core';
import type { Action, ActionSource } from '../session';
import { Help } from './help';

/** Finding out what can be done. */
export function helpActions(): ActionSource {
  const help = inject(Help);
  const actions: readonly Action[] = [
    { id: 'find', name: 'Find an action', keys: 'Ctrl+K', run: () => void help.search() },
    { id: 'keys', name: 'Keys of this step', keys: '?', run: () => void help.keys() },
  ];
  return () => actions;
}
