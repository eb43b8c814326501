import { NgComponentOutlet } from '@angular/common';
import type { Type } from '@angular/core';
import { ChangeDetectionStrategy, Component, effect, input, signal } from '@angular/core';
import { fetched } from '../data';
import { Late } from './late';

/** Shows a component that somebody contributed: at once, or when it has been fetched. */
@Component({
  selector: 'arvex-contributed',
  imports: [Late, NgComponentOutlet],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (type(); as shown) {
      <ng-container *ngComponentOutlet="shown; inputs: given()" />
    } @else if (late()) {
      <arvex-late />
    }
  `,
  styles: ':host { display: contents; }',
})
export class Contributed {
  readonly load = input.required<() => Type<unknown> | Promise<Type<unknown>>>();
  readonly inputs = input<Readonly<Record<string, unknown>>>();
  protected readonly late = signal(false);
  protected readonly type = signal<Type<unknown> | undefined>(undefined);

  constructor() {
    effect((onCleanup) => {
      const late = () => {
        this.late.set(true);
        this.type.set(undefined);
      };
      const fetching = fetched(this.load(), late).subscribe((type) => this.type.set(type));
      onCleanup(() => fetching.unsubscribe());
    });
  }

  protected given(): Record<string, unknown> {
    return { ...this.inputs() };
  }
}
