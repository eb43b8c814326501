import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import type { ShotColumn, ShotFacts } from '@arvex/core';
import { renumberShots, setShot, SHOT_COLUMNS, shotCells, shotListCsv } from '@arvex/core';
import { MatMenuModule } from '@angular/material/menu';
import { MatSortModule } from '@angular/material/sort';
import type { Sort } from '@angular/material/sort';
import { ProjectStore, remembered, saveFile } from '../../data';
import { CutEdits, ShotSelection } from '../../features/sequence';
import { OpenSequence, Playhead } from '../../session';
import { NameField, NumberField } from '../../ui';
import * as z from 'zod';

const ALL = Object.keys(SHOT_COLUMNS) as readonly ShotColumn[];
const USUAL: ShotColumn[] = ['name', 'description', 'spoken', 'camera', 'lens', 'size', 'move', 'frames', 'seconds'];
const UNITS: Partial<Readonly<Record<ShotColumn, string>>> = { lens: 'mm', height: 'm', seconds: 's', frames: 'f' };
/** Texts that are written in the list itself. */
const WRITTEN: ReadonlySet<ShotColumn> = new Set(['name', 'description', 'spoken']);

/** The shots as a table: sorted by any column, with those columns that are chosen, numbered anew, taken out as CSV. */
@Component({
  selector: 'arvex-shot-list',
  imports: [MatMenuModule, MatSortModule, NameField, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './shot-list.html',
  styleUrl: './shot-list.scss',
})
export class ShotList {
  readonly facts = input.required<readonly ShotFacts[]>();
  private readonly store = inject(ProjectStore);
  private readonly open = inject(OpenSequence);
  private readonly playhead = inject(Playhead);
  private readonly edits = inject(CutEdits);
  private readonly selection = inject(ShotSelection);

  protected readonly all = ALL;
  protected readonly heads = SHOT_COLUMNS;
  protected readonly units = UNITS;
  protected readonly written = WRITTEN;
  private readonly shown = remembered('shot-columns', z.array(z.string()), USUAL);
  protected readonly columns = computed(() => ALL.filter((column) => this.shown().includes(column)));
  protected readonly sort = signal<Sort>({ active: '', direction: '' });
  protected readonly pattern = signal('SL_###');
  protected readonly first = signal(10);
  protected readonly step = signal(10);
  protected readonly current = computed(() => this.selection.current()?.shot.id);
  protected readonly rows = computed(() => {
    const project = this.open.project();
    if (!project) return [];
    const rows = this.facts().map((facts) => ({ facts, cells: shotCells(project, facts) }));
    const { active, direction } = this.sort();
    if (direction === '') return rows;
    const column = active as ShotColumn;
    const sign = direction === 'asc' ? 1 : -1;
    return rows.sort((a, b) => sign * compared(a.cells[column], b.cells[column]));
  });

  protected isShown(column: ShotColumn): boolean {
    return this.shown().includes(column);
  }

  protected toggle(column: ShotColumn): void {
    this.shown.update((shown) => (shown.includes(column) ? shown.filter((one) => one !== column) : [...shown, column]));
  }

  protected goTo({ placed }: ShotFacts): void {
    this.selection.choose(placed.shot.id);
    this.playhead.toMode('cut');
    this.playhead.goTo(placed.startFrame);
  }

  protected write({ placed }: ShotFacts, column: ShotColumn, text: string): void {
    this.edits.run((project) => setShot(project, placed.shot.id, SHOT_COLUMNS[column], { [column]: text }));
  }

  protected renumber(): void {
    const numbering = { pattern: this.pattern(), first: this.first(), step: this.step() };
    this.edits.run((project, id) => renumberShots(project, id, numbering));
  }

  /** Gives the list, as it is sorted and with the columns that are shown, as a file. */
  protected save(): void {
    const project = this.store.project();
    if (!project) return;
    const text = shotListCsv(
      project,
      this.rows().map(({ facts }) => facts),
      this.columns(),
    );
    saveFile(`${project.head.name} ${this.open.sequence()?.name ?? ''} shots.csv`, text, 'text/csv');
  }
}

/** Numbers by size, texts as people sort them, what is empty last. */
function compared(a: string | number | null, b: string | number | null): number {
  if (typeof a === 'number' && typeof b === 'number') return a - b;
  if (a === null || b === null) return Number(a === null) - Number(b === null);
  return String(a).localeCompare(String(b), undefined, { numeric: true });
}
