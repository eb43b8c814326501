import { inject } from '@angular/core';
import type { Action, ActionSource } from '../../session';
import { Setting, Workspace } from '../../session';
import { Keys } from './keys';
import { Marks } from './marks';

/** What is done with moves. */
export function moveActions(): ActionSource {
  const [marks, setting] = [inject(Marks), inject(Setting)];
  const [keys, workspace] = [inject(Keys), inject(Workspace)];
  const shown = () => workspace.shows('graph') || workspace.shows('table');
  const chosen = () => shown() && keys.count() > 0;
  const steps = ['cameras', 'moves'] as const;
  const actions: readonly Action[] = [
    { id: 'mark', name: 'Mark this pose', keys: 'M', steps, run: () => marks.mark() },
    { name: 'Next mark', keys: 'Alt+ArrowRight', steps, run: () => marks.jumpBy(1) },
    { name: 'Mark before', keys: 'Alt+ArrowLeft', steps, run: () => marks.jumpBy(-1) },
    {
      id: 'auto-key',
      name: 'Automatic keying on or off',
      keys: 'A',
      steps,
      run: () => setting.autoKey.update((on) => !on),
    },
    { name: 'Choose all keys', keys: 'Ctrl+A', steps, when: shown, run: () => keys.chooseAll() },
    { id: 'copy-keys', name: 'Copy keys', keys: 'Ctrl+C', steps, when: chosen, run: () => keys.copy() },
    {
      id: 'paste-keys',
      name: 'Paste keys at the playhead',
      keys: 'Ctrl+V',
      steps,
      when: () => shown() && keys.hasCopied(),
      run: () => keys.paste(),
    },
    { id: 'delete-keys', name: 'Delete keys', keys: 'Delete', steps, when: chosen, run: () => keys.delete() },
    { name: 'Choose no key', keys: 'Escape', steps, when: chosen, run: () => keys.chosen.set({}) },
  ];
  return () => actions;
}
