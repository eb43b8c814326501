import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, input, output, signal, viewChild } from '@angular/core';
import { MatTooltip } from '@angular/material/tooltip';
import type { UnitSizes } from '@arvex/core';
import { clockInUnits, CoreError, lengthNumber, readNumber } from '@arvex/core';

/** Units of a share that is shown in per cent. */
export const PERCENT: UnitSizes = { '%': 0.01 };

/** A number with its unit that takes units and arithmetic: `35+5`, `1/2`, `12ft 6in`. The value is in the base unit. */
@Component({
  selector: 'arvex-number-field',
  imports: [MatTooltip],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <label class="field num" [class.wrong]="error()" [matTooltip]="error() ?? hint()">
      @if (prefix()) {
        <small class="prefix">{{ prefix() }}</small>
      }
      <input
        #box
        type="text"
        size="1"
        inputmode="decimal"
        autocomplete="off"
        spellcheck="false"
        [attr.aria-label]="label()"
        [attr.aria-invalid]="error() ? true : null"
        [style.min-width.ch]="shown().length + 0.5"
        [value]="draft() ?? shown()"
        [disabled]="disabled()"
        (focus)="begin(box)"
        (input)="draft.set(box.value)"
        (blur)="keep()"
        (keydown)="key($event)"
      />
      @if (unit() !== 'ft') {
        <small>{{ unit() }}</small>
      }
    </label>
    @if (error(); as text) {
      <span class="visually-hidden" role="alert">{{ text }}</span>
    }
  `,
  styles: `
    :host {
      display: flex;
      flex: 1 0 auto;
      max-width: 100%;
    }
  `,
})
export class NumberField {
  /** Name for those who cannot see where it stands. */
  readonly label = input.required<string>();
  readonly value = input.required<number>();
  /** Unit shown, and taken for a number without one. */
  readonly unit = input('');
  /** Sizes of the units that may be typed, in the base unit. */
  readonly units = input<UnitSizes>({});
  /** A short name that is seen before the number, where several stand in a row. */
  readonly prefix = input('');
  readonly decimals = input(2);
  readonly min = input(-Infinity);
  readonly max = input(Infinity);
  readonly hint = input('');
  readonly disabled = input(false);
  /** A new value in the base unit, within the range. */
  readonly valueSet = output<number>();

  protected readonly draft = signal<string | undefined>(undefined);
  protected readonly error = signal<string | undefined>(undefined);
  private atFocus = '';
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');
  private readonly size = computed(() => this.units()[this.unit()] ?? 1);
  protected readonly shown = computed(() => {
    if (this.unit() === 'ft') return lengthNumber(this.value(), 'ft'); // with its inches
    const text = (this.value() / this.size()).toFixed(this.decimals());
    return Number.isFinite(this.value()) ? (Number(text) === 0 ? text.replace('-', '') : text) : '∞';
  });

  /**
   * While somebody types, what changes elsewhere does not move the text under their hands. It begins with what is seen: a value
   * that was just given may not have come back yet.
   */
  protected begin(box: HTMLInputElement): void {
    this.atFocus = box.value;
    this.draft.set(this.atFocus);
    box.select();
  }

  protected key(event: KeyboardEvent): void {
    if (event.key === 'Enter') {
      // The number was accepted: the field lets go of the keyboard, so that keys play and step again.
      if (this.keep()) this.box().nativeElement.blur();
    } else if (event.key === 'Escape') {
      this.giveUp();
      this.box().nativeElement.blur();
    } else if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
      event.preventDefault();
      const step = 10 ** -Math.min(1, this.decimals()) * (event.shiftKey ? 10 : 1) * this.size();
      this.accept(this.value() + (event.key === 'ArrowUp' ? step : -step));
    }
  }

  /** Fields of time take what a clock shows. */
  private read(draft: string): string {
    return 'f' in this.units() ? clockInUnits(draft) : draft;
  }

  private giveUp(): void {
    this.draft.set(undefined);
    this.error.set(undefined);
  }

  /** @returns whether what was typed could be kept. */
  protected keep(): boolean {
    const draft = this.draft();
    if (draft === undefined || draft === this.atFocus) {
      this.giveUp();
      return true;
    }
    try {
      // Twelve digits: 0.75 in are 19.05 mm, not a rounding beside it.
      return this.accept(Number(readNumber(this.read(draft), this.units(), this.unit()).toPrecision(12)));
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      this.error.set(error.message);
      return false;
    }
  }

  private accept(value: number): boolean {
    if (value < this.min() || value > this.max()) {
      const range = [this.min(), this.max()].map((end) => Number((end / this.size()).toPrecision(6)));
      this.error.set(`${this.label()} goes from ${range[0]} to ${range[1]} ${this.unit()}.`);
      return false;
    }
    this.giveUp();
    this.valueSet.emit(value);
    return true;
  }
}
