import type { ElementRef } from '@angular/core';
import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  Injector,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatTooltip } from '@angular/material/tooltip';
import { Workspace } from '../session';
import { Reveal } from './reveal';

/** A card of the bench: one readable line when closed. `own` shows whether its values are the camera's or the project's. */
@Component({
  selector: 'arvex-card',
  imports: [MatIcon, MatTooltip, Reveal],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <header #head [arvexReveal]="card()">
      @if (own() !== undefined) {
        <button
          type="button"
          class="dot"
          role="switch"
          [attr.aria-checked]="own()"
          [attr.aria-label]="heading() + ': ' + (own() ? 'this camera’s own' : 'as the project has it')"
          [matTooltip]="own() ? 'Its own. Press to follow the project.' : 'Follows the project. Press for its own.'"
          (click)="ownSet.emit(!own())"
        >
          <i [class.own]="own()"></i>
        </button>
      }
      <button type="button" class="open" [attr.aria-expanded]="open()" (click)="turn()">
        <span class="heading">{{ heading() }}</span>
        <span class="summary num" [attr.title]="summary()">{{ summary() }}</span>
        <mat-icon>{{ open() ? 'keyboard_arrow_up' : 'keyboard_arrow_down' }}</mat-icon>
      </button>
    </header>
    @if (open()) {
      <div class="body"><ng-content /></div>
    }
  `,
  styles: `
    :host {
      display: block;
      border-bottom: 1px solid var(--line-soft);
      padding: 0 12px;
    }
    header {
      display: flex;
      align-items: center;
      gap: 4px;
      height: 38px;
    }
    .open {
      display: flex;
      flex: 1;
      align-items: center;
      gap: 8px;
      min-width: 0;
      height: 30px;
      border-radius: var(--radius);
    }
    .heading {
      font-weight: 500;
      white-space: nowrap;
    }
    .summary {
      flex: 1;
      overflow: hidden;
      text-align: right;
      text-overflow: ellipsis;
      white-space: nowrap;
      font-size: 12px;
      color: var(--chalk-2);
    }
    mat-icon {
      flex: none;
      font-size: 18px;
      width: 18px;
      height: 18px;
      color: var(--chalk-3);
    }
    .dot {
      display: grid;
      place-items: center;
      width: 24px;
      height: 24px;
      margin-left: -8px;
    }
    .dot i {
      width: 9px;
      height: 9px;
      border: 1.5px solid var(--chalk-2);
      border-radius: 50%;
    }
    .dot i.own {
      border-color: var(--iris);
      background: var(--iris);
    }
    .body {
      padding-bottom: 4px;
    }
  `,
})
export class Card {
  private readonly workspace = inject(Workspace);
  private readonly injector = inject(Injector);
  private readonly head = viewChild.required<ElementRef<HTMLElement>>('head');
  readonly heading = input.required<string>();
  readonly summary = input('');
  readonly own = input<boolean>();
  readonly ownSet = output<boolean>();
  /** By which the workspace knows it as the open one; a card without an id opens by itself. */
  readonly card = input<string>();
  /** Whether a card without an id is open when it is first shown. */
  readonly openAtFirst = input(false);
  private readonly openedHere = signal<boolean | undefined>(undefined);
  protected readonly open = computed(() => {
    const id = this.card();
    return id === undefined ? (this.openedHere() ?? this.openAtFirst()) : this.workspace.openCard() === id;
  });

  /** Opens it wide and closes the one that was open; or closes it. */
  protected turn(): void {
    const [id, open] = [this.card(), !this.open()];
    if (id === undefined) this.openedHere.set(open);
    else this.workspace.openCard.set(open ? id : undefined);
    // The card that closed may have stood above it, as tall as the bench.
    afterNextRender(
      { read: () => this.head().nativeElement.scrollIntoView({ block: 'nearest' }) },
      { injector: this.injector },
    );
  }
}
