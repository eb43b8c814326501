import { inject } from '@angular/core';
import { FIRST_RECIPES } from '@arvex/core';
import type { Action, ActionSource } from '../../session';
import { Workspace } from '../../session';
import { OrderDesk } from './order-desk';
import { Proof } from './proof';
import { Recipes } from './recipes';

/** What is done with output. */
export function reviewActions(): ActionSource {
  const [desk, proof, recipes, workspace] = [inject(OrderDesk), inject(Proof), inject(Recipes), inject(Workspace)];
  const inReview = (run: () => void) => () => {
    workspace.goTo('review');
    run();
  };
  return () => [
    ...recipes.all().map((recipe): Action => ({
      name: `Order: ${recipe.name}`,
      words: `recipe output export ${FIRST_RECIPES.includes(recipe) ? 'render movie' : ''}`,
      run: inReview(() => desk.take(recipe)),
    })),
    {
      name: 'One frame first',
      words: 'proof test render still preview',
      when: () => desk.atPlayhead() !== undefined && !proof.drawing(),
      run: inReview(() => proof.take()),
    },
    {
      name: desk.command(),
      words: 'output export movie order go',
      when: () => desk.stop() === undefined,
      run: inReview(() => void desk.give()),
    },
  ];
}
