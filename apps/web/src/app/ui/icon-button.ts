import { ChangeDetectionStrategy, Component, computed, effect, inject, input } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatTooltip } from '@angular/material/tooltip';
import { Actions, keysText } from '../session';

/**
 * A button with a picture: its name is read out and shown as its tip. One that stands for an action takes its name and its
 * key from the list of actions, and runs it.
 */
@Component({
  selector: 'button[arvexIconButton]',
  imports: [MatIcon],
  hostDirectives: [{ directive: MatTooltip, inputs: ['matTooltipPosition'] }],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: '<mat-icon>{{ arvexIconButton() }}</mat-icon>',
  host: { type: 'button', class: 'icon-button', '[attr.aria-label]': 'name()', '(click)': 'run()' },
})
export class IconButton {
  private readonly actions = inject(Actions);
  private readonly tip = inject(MatTooltip);

  /** Name of the icon. */
  readonly arvexIconButton = input.required<string>();
  /** What it does, where it is no action or says more than its action. */
  readonly label = input('');
  /** The id of the action that it stands for. */
  readonly action = input<string>();
  /** What the tip says in place of the name. */
  readonly hint = input('');

  private readonly meant = computed(() => {
    const id = this.action();
    return id === undefined ? undefined : this.actions.byId(id);
  });
  protected readonly name = computed(() => this.label() || (this.meant()?.name ?? ''));

  constructor() {
    effect(() => {
      const keys = this.meant()?.keys;
      const text = this.hint() || this.name();
      this.tip.message = keys === undefined ? text : `${text} (${keysText(keys)})`;
    });
  }

  protected run(): void {
    this.meant()?.run();
  }
}
