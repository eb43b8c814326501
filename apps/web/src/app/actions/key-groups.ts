import type { Action } from '../session';
import { keysText } from '../session';

/** Keys that belong together, as the help lists them. */
export interface KeyGroup {
  readonly name: string;
  readonly rows: readonly { readonly keys: string; readonly names: readonly string[] }[];
}

/** What goes to a step or shows a view, by the beginning of its id. */
const GOES_ABOUT = /^(step|view|swap|fold|whole)/;

/** Actions with keys by where they belong; a key that stands for several things is one row. */
export function keyGroups(step: string, actions: readonly Action[]): readonly KeyGroup[] {
  const isAbout = ({ id }: Action) => GOES_ABOUT.test(id ?? '');
  const groups = [
    { name: step, actions: actions.filter((one) => one.steps !== undefined) },
    { name: 'Everywhere', actions: actions.filter((one) => one.steps === undefined && !isAbout(one)) },
    { name: 'Steps and views', actions: actions.filter((one) => one.steps === undefined && isAbout(one)) },
  ];
  return groups
    .filter((group) => group.actions.length > 0)
    .map(({ name, actions: of }) => ({ name, rows: rowsOf(of) }));
}

function rowsOf(actions: readonly Action[]): KeyGroup['rows'] {
  const rows = new Map<string, string[]>();
  for (const { keys = '', name } of actions) rows.set(keys, [...(rows.get(keys) ?? []), name]);
  return [...rows].map(([keys, names]) => ({ keys: keysText(keys), names: shared(names) }));
}

/** `Let go of what is in hand: stop walking` and its kin are one thing to whoever presses the key. */
function shared(names: readonly string[]): readonly string[] {
  return names.length === 1 ? names : [...new Set(names.map((name) => name.split(': ')[0] ?? name))];
}
