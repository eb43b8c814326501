import { inject } from '@angular/core';
import type { Action, ActionSource, StepId } from '../session';
import { Workspace } from '../session';
import { CARDS } from '../ui';

/** Every card of every bench, found by its name and by what is on it; it opens in the step one is in, if that has it. */
export function cardActions(): ActionSource {
  const [workspace, cards] = [inject(Workspace), inject(CARDS)];
  const actions = cards.map(({ id, name, words, places }): Action => {
    const steps = (Object.keys(places) as StepId[]).sort((a, b) => (places[a] ?? 0) - (places[b] ?? 0));
    const run = () => {
      const [first] = steps;
      if (!steps.includes(workspace.step()) && first) workspace.goTo(first);
      workspace.reveal(id);
    };
    return { name: `Card: ${name}`, words, run };
  });
  return () => actions;
}
