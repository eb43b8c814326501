import { ChangeDetectionStrategy, Component, computed } from '@angular/core';
import { MatCheckbox } from '@angular/material/checkbox';
import type { Shading, Visible } from '@arvex/core';
import { SHADINGS } from '@arvex/core';
import type { Choice } from '../../../ui';
import { ChoiceField } from '../../../ui';
import { OrderEditor } from './order-editor';

const SHADING_NAMES: Readonly<Record<Shading, string>> = {
  full: 'full light',
  lean: 'lean light, quickest',
  clay: 'clay',
  'lines-over': 'lines over shading',
  lines: 'lines alone',
  depth: 'depth',
};

const SEEN = [
  { key: 'figures', name: 'figures' },
  { key: 'lampBodies', name: 'bodies of lamps' },
  { key: 'references', name: 'reference pictures' },
  { key: 'guides', name: 'guides' },
  { key: 'grid', name: 'grid' },
  { key: 'cameras', name: 'cameras' },
  { key: 'rigs', name: 'rigs' },
  { key: 'paths', name: 'paths' },
] as const satisfies readonly { key: keyof Visible; name: string }[];

/** How surfaces are drawn, with or without the look, and what of the work is seen. */
@Component({
  selector: 'arvex-seen-editor',
  imports: [ChoiceField, MatCheckbox],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="row">
      <span class="label">Shading</span>
      <arvex-choice-field
        label="Shading"
        [choices]="shadings"
        [value]="order().shading"
        (chosen)="set({ shading: $event })"
      />
    </div>
    <mat-checkbox [checked]="order().look" (change)="set({ look: $event.checked })">with the look</mat-checkbox>
    <div class="grid">
      @for (one of seen; track one.key) {
        <mat-checkbox [checked]="order().visible[one.key]" (change)="turn(one.key)">{{ one.name }}</mat-checkbox>
      }
    </div>
    @if (groups().length > 0) {
      <p class="quiet">Of the set are seen:</p>
      <div class="grid">
        @for (one of groups(); track one.id) {
          <mat-checkbox [checked]="!order().visible.without.includes(one.id)" (change)="turnGroup(one.id)">{{
            one.name
          }}</mat-checkbox>
        }
      </div>
    }
  `,
  styles: `
    .grid {
      display: grid;
      grid-template-columns: 1fr 1fr;
    }
    p {
      margin: 6px 0 0;
    }
  `,
})
export class SeenEditor extends OrderEditor {
  protected readonly shadings: readonly Choice<Shading>[] = SHADINGS.map((id) => ({ id, name: SHADING_NAMES[id] }));
  protected readonly seen = SEEN;
  /** Groups of the set, and what stands alone in it. */
  protected readonly groups = computed(() =>
    Object.values(this.store.project()?.placements ?? {})
      .filter(({ piece, parentId }) => piece.kind === 'group' || (parentId === null && piece.kind !== 'practical'))
      .sort((a, b) => a.name.localeCompare(b.name))
      .map(({ id, name }) => ({ id, name })),
  );

  protected turn(key: (typeof SEEN)[number]['key']): void {
    const { visible } = this.order();
    this.set({ visible: { ...visible, [key]: !visible[key] } });
  }

  protected turnGroup(id: string): void {
    const { visible } = this.order();
    const without = visible.without.includes(id)
      ? visible.without.filter((one) => one !== id)
      : [...visible.without, id];
    this.set({ visible: { ...visible, without } });
  }
}
