import { ChangeDetectionStrategy, Component } from '@angular/core';
import { MatCheckbox } from '@angular/material/checkbox';
import type { RenderOrder } from '@arvex/core';
import { Switch, switchChoices } from '../../../ui';
import { OrderEditor } from './order-editor';

type Background = RenderOrder['background'];

/** What lies behind the set: its sky, a colour, or nothing. */
@Component({
  selector: 'arvex-background-editor',
  imports: [MatCheckbox, Switch],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <arvex-switch label="Background" [choices]="kinds" [value]="order().background.kind" (chosen)="choose($event)" />
    @if (order().background; as background) {
      @if (background.kind === 'colour') {
        <label class="row colour">
          <span>Colour</span>
          <input
            #colour
            type="color"
            [value]="background.colour"
            (change)="set({ background: { kind: 'colour', colour: colour.value } })"
          />
          <span class="num">{{ background.colour }}</span>
        </label>
      }
      @if (background.kind === 'transparent') {
        <div class="row">
          <span class="label">Alpha</span>
          <arvex-switch
            label="Alpha"
            [choices]="alphas"
            [value]="background.alpha"
            (chosen)="set({ background: { kind: 'transparent', alpha: $event, shadow: background.shadow } })"
          />
        </div>
        <mat-checkbox
          [checked]="background.shadow"
          (change)="set({ background: { kind: 'transparent', alpha: background.alpha, shadow: $event.checked } })"
        >
          keep the shadows on the ground
        </mat-checkbox>
        <p class="quiet">
          The ground itself is left out then; what it loses by the things that stand on it is kept, as alpha of black.
        </p>
      }
    }
  `,
  styles: `
    :host {
      display: block;
    }
    arvex-switch {
      display: block;
      margin-bottom: 9px;
    }
    .row arvex-switch {
      margin: 0;
    }
    .colour span:first-child {
      width: 84px;
      color: var(--chalk-2);
    }
    input[type='color'] {
      width: 28px;
      height: 28px;
      padding: 0;
      border: 1px solid var(--line);
      border-radius: var(--radius);
      background: none;
    }
  `,
})
export class BackgroundEditor extends OrderEditor {
  protected readonly kinds = switchChoices<Background['kind']>(['sky', 'colour', 'transparent']);
  protected readonly alphas = switchChoices(['straight', 'premultiplied'] as const);

  protected choose(kind: Background['kind']): void {
    const first: Readonly<Record<Background['kind'], Background>> = {
      sky: { kind: 'sky' },
      colour: { kind: 'colour', colour: '#808080' },
      transparent: { kind: 'transparent', alpha: 'straight', shadow: false },
    };
    this.set({ background: first[kind] });
  }
}
