import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';

export interface Choice<Id extends string = string> {
  readonly id: Id;
  readonly name: string;
  /** Said in smaller letters behind the name. */
  readonly detail?: string;
}

/** Choices that are called what they are: `match width` for `match-width`. */
export function choicesOf<Id extends string>(ids: readonly Id[]): readonly Choice<Id>[] {
  return ids.map((id) => ({ id, name: id.replaceAll('-', ' ') }));
}

/** One of several things by name, from a menu. */
@Component({
  selector: 'arvex-choice-field',
  imports: [MatMenuModule, MatIcon],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <button
      type="button"
      class="field"
      [attr.title]="name() + (detail() ? ', ' + detail() : '')"
      [matMenuTriggerFor]="menu"
    >
      <span class="visually-hidden">{{ label() }}:&ngsp;</span>
      <span class="name">{{ name() }}</span>&ngsp;
      <small class="num">{{ detail() }}</small>
      <mat-icon>keyboard_arrow_down</mat-icon>
    </button>
    <mat-menu #menu="matMenu" class="choices-menu">
      @for (choice of choices(); track choice.id) {
        <button
          mat-menu-item
          role="menuitemradio"
          [attr.aria-checked]="choice.id === value()"
          (click)="chosen.emit(choice.id)"
        >
          {{ choice.name }}&ensp;<small class="num quiet">{{ choice.detail }}</small>
        </button>
      }
    </mat-menu>
  `,
  styles: `
    :host {
      display: flex;
      flex: 1;
      min-width: 0;
    }
    .name {
      flex: 1;
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    mat-icon {
      font-size: 16px;
      width: 16px;
      height: 16px;
      color: var(--chalk-3);
    }
  `,
})
export class ChoiceField<Id extends string = string> {
  readonly label = input.required<string>();
  readonly choices = input.required<readonly Choice<Id>[]>();
  readonly value = input<string>();
  /** Shown when the value is none of the choices. */
  readonly otherwise = input('choose …');
  readonly chosen = output<Id>();

  private readonly present = computed(() => this.choices().find((choice) => choice.id === this.value()));
  protected readonly name = computed(() => this.present()?.name ?? this.otherwise());
  protected readonly detail = computed(() => this.present()?.detail ?? '');
}
