/** Movement since a drag began, in CSS pixels. */
export interface Drag {
  readonly dx: number;
  readonly dy: number;
  readonly event: PointerEvent;
}

/** A press that trembles by less is none that drags, CSS pixels: a pen or a finger never stands still. */
const TREMBLES_PX: Readonly<Record<string, number>> = { mouse: 3, pen: 6, touch: 8 };

/**
 * Follows the pointer from a `pointerdown` until it is released or Escape is pressed. What moves less than a hand trembles is a press.
 * @param done called once; `kept` says that it moved and was released, `released` that it was not given up (by Escape, or by the system).
 */
export function followDrag(
  start: PointerEvent,
  moved: (drag: Drag) => void,
  done: (kept: boolean, released: boolean) => void,
): void {
  const element = start.currentTarget as Element;
  let last: Drag | undefined;
  const move = (event: PointerEvent) => {
    const [dx, dy] = [event.clientX - start.clientX, event.clientY - start.clientY];
    if (event.pointerId !== start.pointerId) return;
    if (!last && Math.hypot(dx, dy) < (TREMBLES_PX[start.pointerType] ?? 3)) return;
    // Taken only once it moves: a captured press would make its clicks and double clicks those of `element`.
    if (!last && element.isConnected) element.setPointerCapture(start.pointerId);
    last = { dx, dy, event };
    moved(last);
  };
  const key = (event: KeyboardEvent) => {
    if (event.key === 'Escape') end(false, false);
  };
  const up = (event: PointerEvent) => {
    if (event.pointerId === start.pointerId) end(last !== undefined, true);
  };
  const lost = (event: PointerEvent) => {
    if (event.pointerId === start.pointerId) end(false, false);
  };
  const ending = new AbortController();
  const end = (kept: boolean, released: boolean) => {
    ending.abort();
    done(kept, released);
  };
  const listening = { capture: true, signal: ending.signal };
  addEventListener('pointermove', move, listening);
  addEventListener('pointerup', up, listening);
  addEventListener('pointercancel', lost, listening);
  addEventListener('keydown', key, { signal: ending.signal });
}
