import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal, signal, viewChild } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import type { Action } from '../session';
import { foundActions, keysText } from '../session';

/** Of more a word more is to be typed. */
const MOST_SHOWN = 100;

/** Every action by name: type some of its words, choose with the arrows, Enter does it. */
@Component({
  selector: 'arvex-command-search',
  imports: [MatIcon],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <label class="box">
      <mat-icon>search</mat-icon>
      <input
        #box
        type="text"
        role="combobox"
        aria-label="Find an action"
        aria-expanded="true"
        aria-controls="found-actions"
        aria-autocomplete="list"
        [attr.aria-activedescendant]="found().length > 0 ? 'found-' + at() : null"
        placeholder="What do you want to do?"
        cdkFocusInitial
        (input)="typed.set(box.value)"
        (keydown)="key($event)"
      />
    </label>
    <ul id="found-actions" role="listbox" aria-label="Actions">
      @for (action of shown(); track action; let i = $index) {
        <li
          role="option"
          tabindex="-1"
          [id]="'found-' + i"
          [attr.aria-selected]="i === at()"
          [class.on]="i === at()"
          (pointermove)="hover($event, i)"
          (click)="run(action)"
          (keydown.enter)="run(action)"
        >
          <span>{{ action.name }}</span>
          @if (action.keys) {
            <kbd class="num">{{ keysText(action.keys) }}</kbd>
          }
        </li>
      }
    </ul>
    @if (found().length > shown().length) {
      <p class="quiet">{{ found().length - shown().length }} more: type another word to find them.</p>
    }
    @if (found().length === 0) {
      <p class="quiet" role="status">
        Nothing is known by these words. Try a trade word: retime, orbit, expose, level …
      </p>
    }
  `,
  styleUrl: './command-search.scss',
})
export class CommandSearch {
  private readonly actions = inject<readonly Action[]>(MAT_DIALOG_DATA);
  private readonly dialog = inject<MatDialogRef<CommandSearch>>(MatDialogRef);
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');
  protected readonly typed = signal('');
  protected readonly keysText = keysText;
  protected readonly found = computed(() => foundActions(this.actions, this.typed()));
  protected readonly shown = computed(() => this.found().slice(0, MOST_SHOWN));
  /** Which of them is chosen: the first whenever others are found. */
  protected readonly at = linkedSignal({ source: this.found, computation: () => 0 });

  /** Begins with what was typed before its box was there. @param enter whether the first that it finds is to be done. */
  begin(typed: string, enter: boolean): void {
    const box = this.box().nativeElement;
    box.value = typed + box.value;
    this.typed.set(box.value);
    box.focus();
    const [first] = this.found();
    if (enter && first) this.run(first);
  }

  /** A pointer chooses when it moves. One that only lies where the list comes up, or changes under it, does not. */
  protected hover({ movementX, movementY }: PointerEvent, index: number): void {
    if (movementX !== 0 || movementY !== 0) this.at.set(index);
  }

  protected key(event: KeyboardEvent): void {
    const found = this.shown();
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault();
      const by = event.key === 'ArrowDown' ? 1 : -1;
      this.at.update((at) => (at + by + found.length) % Math.max(1, found.length));
      document.getElementById(`found-${this.at()}`)?.scrollIntoView({ block: 'nearest' });
    } else if (event.key === 'Enter') {
      event.preventDefault(); // it belongs to the action, not to the button that has the focus back after it
      const action = found[this.at()];
      if (action) this.run(action);
    }
  }

  protected run(action: Action): void {
    this.dialog.close();
    action.run();
  }
}
