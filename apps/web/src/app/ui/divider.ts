import { Directive, ElementRef, inject, input, output } from '@angular/core';
import { followDrag } from './dragging';

/** What one press of an arrow key moves it by: per cent, and pixels. */
const STEPS = { flat: 2, upright: 16 };

/**
 * A line that is dragged, or moved by arrow keys, to give two parts other sizes. A flat one stands at so many per cent of what it
 * is in, from the top; an upright one so many pixels from the right edge.
 */
@Directive({
  selector: '[arvexDivider]',
  host: {
    class: 'divider',
    role: 'separator',
    tabindex: '0',
    '[class.flat]': "arvexDivider() === 'flat'",
    '[class.upright]': "arvexDivider() === 'upright'",
    '[attr.aria-orientation]': "arvexDivider() === 'flat' ? 'horizontal' : 'vertical'",
    '[attr.aria-valuemin]': 'least()',
    '[attr.aria-valuemax]': 'most()',
    '[attr.aria-valuenow]': 'at().toFixed(0)',
    '(pointerdown)': 'drag($event)',
    '(keydown)': 'key($event)',
  },
})
export class Divider {
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  readonly arvexDivider = input.required<'flat' | 'upright'>();
  readonly at = input.required<number>();
  readonly least = input.required<number>();
  readonly most = input.required<number>();
  readonly atSet = output<number>();

  protected drag(event: PointerEvent): void {
    const from = this.at();
    const height = this.element.parentElement?.clientHeight ?? 1;
    followDrag(
      event,
      ({ dx, dy }) => this.set(this.arvexDivider() === 'flat' ? from + (100 * dy) / height : from - dx),
      () => undefined,
    );
  }

  protected key(event: KeyboardEvent): void {
    const keys = this.arvexDivider() === 'flat' ? ['ArrowUp', 'ArrowDown'] : ['ArrowRight', 'ArrowLeft'];
    const index = keys.indexOf(event.key);
    if (index < 0) return;
    event.preventDefault();
    this.set(this.at() + (index === 0 ? -1 : 1) * STEPS[this.arvexDivider()]);
  }

  private set(at: number): void {
    this.atSet.emit(Math.max(this.least(), Math.min(this.most(), at)));
  }
}
