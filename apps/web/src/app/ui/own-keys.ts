const ARROWS = ['ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown', 'Home', 'End'];
const PAGES = ['PageUp', 'PageDown'];

/** Which keys are whose while it has the focus. */
const OWNERS: readonly (readonly [selector: string, keys: readonly string[]])[] = [
  ['input[type=range], [role=slider], [role=separator], [role=application]', [...ARROWS, ...PAGES, '+', '-']],
  [
    '[role=radio], [role=tab], [role=treeitem], [role=option], [role=row], [role=menuitem], select',
    [...ARROWS, 'Enter'],
  ],
];

/** What is pressed by Space and Enter once the focus is seen on it: a button that was clicked leaves them to the transport. */
const PRESSED = 'button, summary, a[href], input[type=checkbox], input[type=color], [role=button], [role=treeitem]';

/** Whether a key belongs to what has the focus, rather than to an action. */
export function ownsKey(target: HTMLElement, { key, ctrlKey, metaKey, altKey }: KeyboardEvent): boolean {
  if (ctrlKey || metaKey || altKey) return false;
  if ((key === ' ' || key === 'Enter') && target.matches(PRESSED)) return target.matches(':focus-visible');
  return OWNERS.some(([selector, keys]) => keys.includes(key) && target.closest(selector) !== null);
}
