import { computed, Injectable, signal } from '@angular/core';

export interface Notice {
  readonly id: number;
  readonly kind: 'error' | 'done';
  readonly text: string;
}

const DONE_MS = 5000;
/** Notices on the screen at once: more wait, the oldest first, and how many do is said. */
const MOST = 4;

/** What the person is told: what happened, what is kept, what to do. Errors stay until they are dismissed, however many come. */
@Injectable({ providedIn: 'root' })
export class Notices {
  readonly all = signal<readonly Notice[]>([]);
  private count = 0;

  readonly shown = computed(() => this.all().slice(0, MOST));
  readonly waiting = computed(() => Math.max(0, this.all().length - MOST));

  error(error: unknown): void {
    this.add('error', error instanceof Error ? error.message : String(error));
  }

  done(text: string): void {
    const id = this.add('done', text);
    setTimeout(() => this.dismiss(id), DONE_MS);
  }

  dismiss(id: number): void {
    this.all.update((all) => all.filter((notice) => notice.id !== id));
  }

  /** Nothing of what was said holds any longer: another project was opened. */
  clear(): void {
    this.all.set([]);
  }

  private add(kind: Notice['kind'], text: string): number {
    const same = this.all().find((notice) => notice.text === text);
    if (same) return same.id;
    const id = ++this.count;
    this.all.update((all) => [...all, { id, kind, text }]);
    return id;
  }
}
