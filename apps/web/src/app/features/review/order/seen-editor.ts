import { ScrollingModule } from '@angular/cdk/scrolling';
import { ChangeDetectionStrategy, Component, computed, signal } from '@angular/core';
import { MatCheckbox } from '@angular/material/checkbox';
import type { Placement, Shading, Visible } from '@arvex/core';
import { SHADINGS } from '@arvex/core';
import type { Choice } from '../../../ui';
import { ChoiceField, SearchField } from '../../../ui';
import { OrderEditor } from './order-editor';

const SHADING_NAMES: Readonly<Record<Shading, string>> = {
  full: 'full light',
  lean: 'simpler light, quickest',
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

/** Rows of the list of things that are seen at once. */
const MOST_ROWS = 8;

/** A thing of the set, and how many it carries. */
interface Thing {
  readonly id: string;
  readonly name: string;
  readonly depth: number;
  readonly holds: number;
}

/** How surfaces are drawn, with or without the look, and what of the work is seen. */
@Component({
  selector: 'arvex-seen-editor',
  imports: [ChoiceField, MatCheckbox, ScrollingModule, SearchField],
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
    @if (all().length > 0) {
      <p class="quiet">
        Of the set {{ all().length - order().visible.without.length }} of {{ all().length }} are seen:
      </p>
      <div class="tools">
        <arvex-search-field placeholder="Find" label="Find in the set" [(words)]="typed" />
        <button type="button" class="pill" title="All that are found are seen" (click)="turnFound(true)">all</button>
        <button type="button" class="pill" title="None that is found is seen" (click)="turnFound(false)">none</button>
      </div>
      <cdk-virtual-scroll-viewport [itemSize]="rowPx" [style.height.px]="height()">
        <div *cdkVirtualFor="let one of found(); trackBy: byId" class="thing" [style.padding-left.px]="one.depth * 16">
          <mat-checkbox [checked]="!hidden().has(one.id)" (change)="turnThing(one)">{{ one.name }}</mat-checkbox>
          @if (one.holds > 0) {
            <span class="num quiet">{{ one.holds }}</span>
          }
        </div>
      </cdk-virtual-scroll-viewport>
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
    .tools,
    .thing {
      display: flex;
      align-items: center;
      gap: 6px;
    }
    .tools {
      margin: 4px 0;
    }
    .thing {
      height: 28px;
    }
  `,
})
export class SeenEditor extends OrderEditor {
  protected readonly shadings: readonly Choice<Shading>[] = SHADINGS.map((id) => ({ id, name: SHADING_NAMES[id] }));
  protected readonly seen = SEEN;
  protected readonly rowPx = 28;
  protected readonly typed = signal('');
  /** Everything in the set by name, what is carried under what carries it. */
  protected readonly all = computed<readonly Thing[]>(() => {
    const placements = this.store.project()?.placements ?? {};
    const inside = new Map<string | null, Placement[]>();
    for (const one of Object.values(placements)) {
      const parentId = one.parentId !== null && placements[one.parentId] ? one.parentId : null;
      inside.set(parentId, [...(inside.get(parentId) ?? []), one]);
    }
    const under = (parentId: string | null, depth: number): Thing[] =>
      (inside.get(parentId) ?? [])
        .sort((a, b) => a.name.localeCompare(b.name, undefined, { numeric: true }))
        .flatMap(({ id, name }) => {
          const held = under(id, depth + 1);
          return [{ id, name, depth, holds: held.length }, ...held];
        });
    return under(null, 0);
  });
  protected readonly found = computed(() => {
    const words = this.typed().toLowerCase().split(/\s+/).filter(Boolean);
    return this.all().filter(({ name }) => words.every((word) => name.toLowerCase().includes(word)));
  });
  protected readonly height = computed(() => Math.min(MOST_ROWS, this.found().length) * this.rowPx);
  /** What is left out by itself, or with what carries it. */
  protected readonly hidden = computed(() => new Set(this.order().visible.without));
  protected readonly byId = (_: number, { id }: Thing): string => id;

  protected turn(key: (typeof SEEN)[number]['key']): void {
    const { visible } = this.order();
    this.set({ visible: { ...visible, [key]: !visible[key] } });
  }

  /** A group goes with all that it holds. */
  protected turnThing({ id, holds }: Thing): void {
    const at = this.all().findIndex((one) => one.id === id);
    const ids = this.all().slice(at, at + holds + 1);
    this.leaveOut(ids, !this.hidden().has(id));
  }

  protected turnFound(seen: boolean): void {
    this.leaveOut(this.found(), !seen);
  }

  private leaveOut(things: readonly Thing[], out: boolean): void {
    const ids = new Set(things.map(({ id }) => id));
    const others = this.order().visible.without.filter((id) => !ids.has(id));
    this.set({ visible: { ...this.order().visible, without: out ? [...others, ...ids] : others } });
  }
}
