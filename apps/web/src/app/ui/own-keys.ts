const ARROWS = ['ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown', 'Home', 'End'];
const PAGES = ['PageUp', 'PageDown'];

/** What is moved by these keys whenever it has the focus. */
const MOVED = 'input[type=range], [role=slider], [role=separator]';
const MOVING = new Set([...ARROWS, ...PAGES]);

/** Of what one chooses by arrow keys, once the focus came there by keys. */
const CHOSEN = '[role=radio], [role=tab], [role=treeitem], [role=option], [role=row], [role=menuitem], select';
const CHOOSING = new Set([...ARROWS, 'Enter']);

/** What is ticked by Space however the focus came there. */
const CHECKED = 'input[type=checkbox]';

/** What is pressed by Space and Enter. */
const PRESSED = 'button, summary, a[href], input[type=checkbox], input[type=color], [role=button], [role=treeitem]';

/**
 * Whether a key belongs to what has the focus, rather than to an action.
 * @param byKeys whether the focus came there by keys: what was clicked leaves Space and the arrows to the transport.
 */
export function ownsKey(
  target: HTMLElement,
  { key, ctrlKey, metaKey, altKey }: KeyboardEvent,
  byKeys: boolean,
): boolean {
  if (ctrlKey || metaKey || altKey) return false;
  if ((key === ' ' || key === 'Enter') && target.matches(PRESSED)) return byKeys || target.matches(CHECKED);
  if (MOVING.has(key) && target.closest(MOVED)) return true;
  return byKeys && CHOOSING.has(key) && target.closest(CHOSEN) !== null;
}
