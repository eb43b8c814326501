import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import type { Advice, Finding } from '@arvex/core';
import { isMeant, mayBeMeant, meantKey, setMeant } from '@arvex/core';
import { OpenSequence } from '../../../session';
import { CutEdits } from '../cut-edits';
import { FOUND_NAMES } from './found-names';

/** Up to so many of a kind are shown at once; of more at first so many, and by each press so many more. */
const OPEN_UP_TO = 3;
const MORE = 20;

type Found = Finding | Advice;

/** What was found in the cut, by kinds; what somebody calls meant is put aside, and can be taken back. */
@Component({
  selector: 'arvex-found-list',
  imports: [MatIcon],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './found-list.html',
  styleUrl: './advice.scss',
})
export class FoundList<T extends Found> {
  readonly found = input.required<readonly T[]>();
  readonly icon = input('warning');
  /** The shot whose finding is looked at. */
  readonly at = input<string>();
  /** Somebody wants it mended, or to look at it. */
  readonly taken = output<T>();
  private readonly open = inject(OpenSequence);
  private readonly edits = inject(CutEdits);

  private readonly turned = signal<Readonly<Record<string, number>>>({});
  protected readonly meantShown = signal(false);

  protected readonly meant = computed(() => {
    const project = this.open.project();
    return project ? this.found().filter((one) => isMeant(project, one)) : [];
  });
  protected readonly groups = computed(() => {
    const meant = new Set(this.meant());
    const kinds = new Map<string, T[]>();
    for (const one of this.found()) {
      if (!meant.has(one)) kinds.set(one.code, [...(kinds.get(one.code) ?? []), one]);
    }
    return [...kinds].map(([code, all]) => {
      const most = this.turned()[code] ?? (all.length > OPEN_UP_TO ? 0 : OPEN_UP_TO);
      return { code, all, name: FOUND_NAMES[code] ?? code, shown: all.slice(0, most), left: all.length - most };
    });
  });

  protected mend(one: T): string | undefined {
    return 'mend' in one ? one.mend : undefined;
  }

  protected reason(one: T): string | undefined {
    return 'reason' in one ? one.reason : undefined;
  }

  protected canBeMeant(one: T): boolean {
    return 'reason' in one || mayBeMeant(one);
  }

  protected turn(code: string, shown: number): void {
    this.turned.update((turned) => ({ ...turned, [code]: shown > 0 ? 0 : MORE }));
  }

  protected more(code: string, shown: number): void {
    this.turned.update((turned) => ({ ...turned, [code]: shown + MORE }));
  }

  protected setMeant(found: readonly T[], meant: boolean): void {
    const keys = found.flatMap((one) =>
      one.shotId !== undefined && this.canBeMeant(one) ? [{ key: meantKey(one), shotId: one.shotId }] : [],
    );
    this.edits.run((project) => setMeant(project, keys, meant));
  }
}
