import { computed, Directive, effect, inject, input } from '@angular/core';
import { MatTooltip } from '@angular/material/tooltip';
import { Actions, keysText } from '../session';

/** Makes a button that stands for an action: it runs it, and its tip says the name and the key from the list of actions. */
@Directive({
  selector: 'button[arvexAction]',
  hostDirectives: [{ directive: MatTooltip, inputs: ['matTooltipPosition'] }],
  host: { '(click)': 'action()?.run()' },
})
export class ActionButton {
  private readonly actions = inject(Actions);
  private readonly tip = inject(MatTooltip);

  /** The action's id. */
  readonly arvexAction = input.required<string>();
  /** What the tip says in place of the action's name. */
  readonly hint = input('');
  protected readonly action = computed(() => this.actions.byId(this.arvexAction()));

  constructor() {
    effect(() => {
      const action = this.action();
      const text = this.hint() || (action?.name ?? '');
      this.tip.message = action?.keys === undefined ? text : `${text} (${keysText(action.keys)})`;
    });
  }
}
