import { inject } from '@angular/core';
import type { Action, ActionSource } from '../../session';
import { Setting } from '../../session';
import { Marks } from './marks';

/** What is done with moves. */
export function moveActions(): ActionSource {
  const [marks, setting] = [inject(Marks), inject(Setting)];
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
  ];
  return () => actions;
}
