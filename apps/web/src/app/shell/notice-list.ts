import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { Notices } from '../data';
import { IconButton } from '../ui';

/** What the application has to say: errors stay until they are read. */
@Component({
  selector: 'arvex-notice-list',
  imports: [IconButton, MatIcon],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (notice of notices.shown(); track notice.id) {
      <div
        class="notice"
        [class.bad]="notice.kind === 'error'"
        [attr.role]="notice.kind === 'error' ? 'alert' : 'status'"
      >
        <mat-icon>{{ notice.kind === 'error' ? 'error' : 'check_circle' }}</mat-icon>
        <span>{{ notice.text }}</span>
        <button arvexIconButton="close" label="Dismiss" (click)="notices.dismiss(notice.id)"></button>
      </div>
    }
    @if (notices.waiting(); as more) {
      <p class="more num">{{ more }} more</p>
    }
  `,
  styleUrl: './notice-list.scss',
  host: { 'aria-live': 'polite' },
})
export class NoticeList {
  protected readonly notices = inject(Notices);
}
