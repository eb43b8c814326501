import { inject } from '@angular/core';
import type { Action, ActionSource } from './actions';
import { Workspace } from './workspace';

/** Steps, views and how the screen looks. */
export function workspaceActions(): ActionSource {
  const workspace = inject(Workspace);
  const views = workspace.allViews.map(({ id, step, action, keys }): Action => {
    const show = () => {
      if (step) workspace.goTo(step);
      workspace.show(id);
    };
    return { id: `view-${id}`, name: action, ...(keys !== undefined && { keys }), run: show };
  });
  const steps = workspace.steps.map(({ id, order, name, words }): Action => {
    return { id: `step-${id}`, name: `Go to ${name}`, words, keys: String(order), run: () => workspace.goTo(id) };
  });
  const turnTheme = () => workspace.theme.update((theme) => (theme === 'dark' ? 'light' : 'dark'));
  const surround = (name: string, grey: number): Action => {
    return { name: `Surround of the picture: ${name}`, run: () => workspace.surround.set(grey) };
  };
  const actions: readonly Action[] = [
    ...views,
    { id: 'swap-views', name: 'Change the two views round', keys: 'V', run: () => workspace.swapViews() },
    {
      id: 'fold',
      name: 'Fold the second view away, or open it',
      words: 'large picture full screen bigger',
      keys: 'U',
      run: () => workspace.folded.update((folded) => !folded),
    },
    { name: 'Light or dark theme', words: 'appearance bright', run: turnTheme },
    surround('black', 0),
    surround('dark grey', 43),
    surround('mid grey', 118),
    {
      id: 'whole',
      name: 'Give the picture the whole work area, or take it back',
      words: 'large picture full screen bigger fold bench',
      keys: 'X',
      run: () => workspace.whole.update((whole) => !whole),
    },
    ...steps,
  ];
  return () => actions;
}
