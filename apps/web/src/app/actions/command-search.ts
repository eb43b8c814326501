import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import type { Action } from '../session';
import { foundActions, keysText } from '../session';

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
        (input)="typed.set(box.value); at.set(0)"
        (keydown)="key($event)"
      />
    </label>
    <ul id="found-actions" role="listbox" aria-label="Actions">
      @for (action of found(); track action.name; let i = $index) {
        <li
          role="option"
          tabindex="-1"
          [id]="'found-' + i"
          [attr.aria-selected]="i === at()"
          [class.on]="i === at()"
          (pointerenter)="at.set(i)"
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
  protected readonly typed = signal('');
  protected readonly at = signal(0);
  protected readonly keysText = keysText;
  protected readonly found = computed(() => {
    return foundActions(this.actions, this.typed());
  });

  protected key(event: KeyboardEvent): void {
    const found = this.found();
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
