import { NgComponentOutlet } from '@angular/common';
import type { Type } from '@angular/core';
import { ChangeDetectionStrategy, Component, effect, input, signal } from '@angular/core';

/** Shows a component that somebody contributed: at once, or when it has been fetched. */
@Component({
  selector: 'arvex-contributed',
  imports: [NgComponentOutlet],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (type(); as shown) {
      <ng-container *ngComponentOutlet="shown; inputs: given()" />
    }
  `,
  styles: ':host { display: contents; }',
})
export class Contributed {
  readonly load = input.required<() => Type<unknown> | Promise<Type<unknown>>>();
  readonly inputs = input<Readonly<Record<string, unknown>>>();
  protected readonly type = signal<Type<unknown> | undefined>(undefined);

  constructor() {
    effect((onCleanup) => {
      const loaded = this.load()();
      if (!(loaded instanceof Promise)) {
        this.type.set(loaded);
        return;
      }
      let wanted = true;
      onCleanup(() => (wanted = false));
      // What cannot be fetched shows nothing; the error is told where all unexpected ones are.
      void loaded.then((type) => wanted && this.type.set(type));
    });
  }

  protected given(): Record<string, unknown> {
    return { ...this.inputs() };
  }
}
