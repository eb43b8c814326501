import { ChangeDetectionStrategy, Component, input, output, viewChild } from '@angular/core';
import type { MatButtonToggleChange } from '@angular/material/button-toggle';
import { MatButtonToggle, MatButtonToggleGroup } from '@angular/material/button-toggle';
import { MatTooltip } from '@angular/material/tooltip';

/** One of the things that a switch offers. */
export interface SwitchChoice<Id extends string> {
  readonly id: Id;
  readonly name: string;
  /** What a tip says of it. */
  readonly hint?: string;
  readonly disabled?: boolean;
}

/** Choices with these names, each being its own id where no name is given. */
export function switchChoices<Id extends string>(
  ids: readonly Id[],
  names: Partial<Readonly<Record<Id, string>>> = {},
): readonly SwitchChoice<Id>[] {
  return ids.map((id) => ({ id, name: names[id] ?? id }));
}

/** A few choices side by side of which one is in force. Arrow keys go through them; Tab enters and leaves them as one. */
@Component({
  selector: 'arvex-switch',
  imports: [MatButtonToggle, MatButtonToggleGroup, MatTooltip],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <mat-button-toggle-group
      hideSingleSelectionIndicator
      [attr.aria-label]="label()"
      [disabled]="disabled()"
      [value]="value()"
      (change)="choose($event)"
    >
      @for (choice of choices(); track choice.id) {
        <mat-button-toggle [value]="choice.id" [disabled]="choice.disabled ?? false" [matTooltip]="choice.hint">{{
          choice.name
        }}</mat-button-toggle>
      }
    </mat-button-toggle-group>
  `,
  styleUrl: './switch.scss',
})
export class Switch<Id extends string> {
  readonly label = input.required<string>();
  readonly choices = input.required<readonly SwitchChoice<Id>[]>();
  readonly value = input<Id>();
  readonly disabled = input(false);
  /** Somebody chose; the switch shows it once `value` does. */
  readonly chosen = output<Id>();
  private readonly group = viewChild.required(MatButtonToggleGroup);

  protected choose({ value }: MatButtonToggleChange): void {
    this.chosen.emit(value as Id);
    // What was not taken is not shown as taken.
    queueMicrotask(() => (this.group().value = this.value()));
  }
}
