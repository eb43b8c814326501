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

/** What is ticked by Space however the focus came there. */
const CHECKED = 'input[type=checkbox]';

/** What is pressed by Space and Enter. */
const PRESSED = 'button, summary, a[href], input[type=checkbox], input[type=color], [role=button], [role=treeitem]';

/**
 * Whether a key belongs to what has the focus, rather than to an action.
 * @param byKeys whether the focus came there by keys: a button that was clicked leaves Space to the transport.
 */
export function ownsKey(
  target: HTMLElement,
  { key, ctrlKey, metaKey, altKey }: KeyboardEvent,
  byKeys: boolean,
): boolean {
  if (ctrlKey || metaKey || altKey) return false;
  if ((key === ' ' || key === 'Enter') && target.matches(PRESSED)) return byKeys || target.matches(CHECKED);
  return OWNERS.some(([selector, keys]) => keys.includes(key) && target.closest(selector) !== null);
}
