import { CdkVirtualScrollViewport, ScrollingModule } from '@angular/cdk/scrolling';
import { ChangeDetectionStrategy, Component, computed, inject, signal, viewChild } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatTooltip } from '@angular/material/tooltip';
import type { Placement } from '@arvex/core';
import { placementBox } from '@arvex/core';
import { ProjectStore } from '../../../data';
import { Selection, Units } from '../../../session';
import { IconButton, SearchField } from '../../../ui';
import { FrameSelection } from '../frame-selection';
import { SetPieces } from '../pieces';
import { iconOf } from './piece-fields';

const ROW_PX = 28;
/** Fewer rows are shown while something is chosen, so that its numbers have room. */
const ROWS_BESIDE_CHOSEN = 6;

interface Row {
  readonly placement: Placement;
  readonly depth: number;
  readonly holds: number;
  readonly sizeM: number;
}

/** Everything in the set by name, what is carried under what carries it; searched, chosen, hidden and locked here. */
@Component({
  selector: 'arvex-outline',
  imports: [IconButton, MatIcon, MatTooltip, ScrollingModule, SearchField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <arvex-search-field placeholder="Find in the set" [(words)]="words" />
    <cdk-virtual-scroll-viewport
      [itemSize]="rowPx"
      [style.height.px]="height()"
      role="tree"
      aria-label="Things in the set"
      aria-multiselectable="true"
      (keydown)="key($event)"
    >
      <div
        *cdkVirtualFor="let row of rows(); trackBy: byId"
        class="row-line"
        role="treeitem"
        [attr.aria-level]="row.depth + 1"
        [attr.aria-selected]="selection.has(row.placement.id)"
        [class.hidden]="!row.placement.visible"
        [style.padding-left.px]="6 + row.depth * 14"
      >
        @if (row.holds > 0) {
          <button
            type="button"
            class="fold"
            [attr.aria-label]="(closed().has(row.placement.id) ? 'Open ' : 'Close ') + row.placement.name"
            (click)="fold(row.placement.id)"
          >
            <mat-icon>{{ closed().has(row.placement.id) ? 'chevron_right' : 'keyboard_arrow_down' }}</mat-icon>
          </button>
        } @else {
          <span class="fold"></span>
        }
        <button
          type="button"
          class="thing"
          [attr.data-thing]="row.placement.id"
          (click)="choose($event, row)"
          (dblclick)="frame.toSelection()"
          [matTooltip]="
            row.placement.name + ': Shift or Ctrl chooses several, a double click brings the free view to it'
          "
          matTooltipPosition="left"
        >
          <mat-icon>{{ icon(row.placement.piece) }}</mat-icon>
          <span>{{ row.placement.name }}</span>
          <small class="num">{{ row.sizeM > 0 ? units.text(row.sizeM) : '' }}</small>
        </button>
        <button
          [arvexIconButton]="row.placement.locked ? 'lock' : 'lock_open'"
          [class.quiet-button]="!row.placement.locked"
          [label]="(row.placement.locked ? 'Unlock ' : 'Lock ') + row.placement.name"
          [attr.aria-pressed]="row.placement.locked"
          (click)="pieces.toggle(row.placement, 'locked')"
        ></button>
        <button
          [arvexIconButton]="row.placement.visible ? 'visibility' : 'visibility_off'"
          [label]="(row.placement.visible ? 'Hide ' : 'Show ') + row.placement.name"
          (click)="pieces.toggle(row.placement, 'visible')"
        ></button>
      </div>
    </cdk-virtual-scroll-viewport>
    @if (rows().length === 0) {
      <p class="quiet">
        {{
          words()
            ? 'Nothing has these words in its name.'
            : 'Nothing stands in the set yet. Put a piece in, or bring in a file.'
        }}
      </p>
    }
  `,
  styleUrl: './outline.scss',
})
export class Outline {
  private readonly store = inject(ProjectStore);
  protected readonly selection = inject(Selection);
  protected readonly pieces = inject(SetPieces);
  protected readonly frame = inject(FrameSelection);
  protected readonly units = inject(Units);
  protected readonly icon = iconOf;
  protected readonly rowPx = ROW_PX;
  protected readonly words = signal('');
  protected readonly closed = signal<ReadonlySet<string>>(new Set());
  private lastChosen: string | undefined;
  private readonly viewport = viewChild.required(CdkVirtualScrollViewport);

  protected readonly rows = computed<Row[]>(() => {
    const project = this.store.project();
    if (!project) return [];
    const words = this.words().toLowerCase().split(/\s+/).filter(Boolean);
    const children = new Map<string | null, Placement[]>();
    for (const placement of Object.values(project.placements)) {
      const parent = placement.parentId !== null && project.placements[placement.parentId] ? placement.parentId : null;
      children.set(parent, [...(children.get(parent) ?? []), placement]);
    }
    const rows: Row[] = [];
    const add = (parentId: string | null, depth: number) => {
      const own = [...(children.get(parentId) ?? [])].sort((a, b) => byName.compare(a.name, b.name));
      for (const placement of own) {
        const holds = children.get(placement.id)?.length ?? 0;
        const { minM, maxM } = placementBox(project, placement);
        const sizeM =
          placement.piece.kind === 'practical' ? 0 : Math.max(...maxM.map((end, i) => end - (minM[i] ?? 0)));
        if (words.every((word) => placement.name.toLowerCase().includes(word)))
          rows.push({ placement, depth, holds, sizeM });
        if (words.length > 0 || !this.closed().has(placement.id)) add(placement.id, depth + 1);
      }
    };
    add(null, 0);
    return rows;
  });
  protected readonly height = computed(
    () => Math.min(this.selection.ids().length > 0 ? ROWS_BESIDE_CHOSEN : Infinity, this.rows().length) * ROW_PX,
  );
  protected readonly byId = (_index: number, row: Row) => row.placement.id;

  /** Arrows go through the list and choose; left and right close and open what holds others. */
  protected key(event: KeyboardEvent): void {
    const rows = this.rows();
    const at = rows.findIndex(({ placement }) => placement.id === (event.target as HTMLElement).dataset['thing']);
    const row = rows[at];
    if (!row || event.ctrlKey || event.metaKey || event.altKey) return;
    const to = { ArrowUp: at - 1, ArrowDown: at + 1, Home: 0, End: rows.length - 1 }[event.key];
    const next = to === undefined ? undefined : rows[to];
    if (next) {
      this.choose(event, next);
      this.viewport().scrollToIndex(Math.max(0, (to ?? 0) - 2));
      setTimeout(() => document.querySelector<HTMLElement>(`[data-thing="${next.placement.id}"]`)?.focus());
    } else if (event.key === 'ArrowLeft' || event.key === 'ArrowRight') {
      if (row.holds > 0 && this.closed().has(row.placement.id) === (event.key === 'ArrowRight'))
        this.fold(row.placement.id);
    } else if (to === undefined) return;
    event.preventDefault();
  }

  protected fold(id: string): void {
    this.closed.update((closed) => {
      const next = new Set(closed);
      if (!next.delete(id)) next.add(id);
      return next;
    });
  }

  protected choose(event: MouseEvent | KeyboardEvent, { placement }: Row): void {
    if (this.pieces.attaching()) {
      this.pieces.clicked(placement.id, false);
      return;
    }
    const rows = this.rows().map((row) => row.placement.id);
    const [from, to] = [rows.indexOf(this.lastChosen ?? ''), rows.indexOf(placement.id)];
    if (event.shiftKey && from >= 0) this.selection.set(...rows.slice(Math.min(from, to), Math.max(from, to) + 1));
    else this.selection.pick(placement.id, event.ctrlKey || event.metaKey);
    this.lastChosen = placement.id;
  }
}

const byName = new Intl.Collator('en', { numeric: true });
