import { ChangeDetectionStrategy, Component } from '@angular/core';

/** Stands where something cannot be shown before the server is back. */
@Component({
  selector: 'arvex-late',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: '<p role="status">The server does not answer. This is shown as soon as it does.</p>',
  styles: `
    p {
      margin: 0;
      padding: 16px 12px;
      color: var(--chalk-2);
    }
  `,
})
export class Late {}
