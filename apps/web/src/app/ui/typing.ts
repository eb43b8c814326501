/** Where text is typed. */
export const FOR_TYPING = 'input:not([type=range]), textarea, [contenteditable]';

/**
 * Lets go of the field of `root` that is being typed in before a press anywhere else does something: what was typed belongs to
 * what was shown until then, not to what the press chooses.
 * @returns a function that ends it.
 */
export function letGoBeforePresses(root: HTMLElement): () => void {
  const ending = new AbortController();
  const letGo = ({ target }: PointerEvent) => {
    const field = document.activeElement;
    if (!(field instanceof HTMLElement) || !field.matches(FOR_TYPING) || !root.contains(field)) return;
    if (!(field.closest('label') ?? field).contains(target as Node)) field.blur();
  };
  addEventListener('pointerdown', letGo, { capture: true, signal: ending.signal });
  return () => ending.abort();
}
