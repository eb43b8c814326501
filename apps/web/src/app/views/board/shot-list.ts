import { CdkVirtualScrollViewport, ScrollingModule } from '@angular/cdk/scrolling';
import { ChangeDetectionStrategy, Component, computed, inject, signal, viewChild } from '@angular/core';
import type { ShotColumn, ShotFacts } from '@arvex/core';
import { renumberShots, setScene, setShot, SHOT_COLUMNS, shotCells, shotListCsv } from '@arvex/core';
import { exporterOf } from '@arvex/interchange/tables';
import { MatIcon } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatSortModule } from '@angular/material/sort';
import type { Sort } from '@angular/material/sort';
import { ProjectStore, remembered, saveFile } from '../../data';
import { CutEdits, ShotSelection } from '../../features/sequence';
import { OpenSequence, Playhead } from '../../session';
import { NameField, NumberField } from '../../ui';
import type { SceneHead } from './shown-shots';
import { ShownShots } from './shown-shots';
import * as z from 'zod';

const ALL = Object.keys(SHOT_COLUMNS) as readonly ShotColumn[];
const USUAL: ShotColumn[] = ['name', 'description', 'spoken', 'camera', 'lens', 'size', 'move', 'frames', 'seconds'];
const UNITS: Partial<Readonly<Record<ShotColumn, string>>> = { lens: 'mm', height: 'm', seconds: 's', frames: 'f' };
/** Texts that are written in the list itself. */
const WRITTEN: ReadonlySet<ShotColumn> = new Set(['sceneName', 'name', 'description', 'spoken']);

/** Height of a row, and widths of the columns by what stands in them, pixels. */
const ROW_PX = 28;
const [NUMBER_PX, WORD_PX, LONG_PX] = [76, 124, 250];
const WIDTHS: Partial<Readonly<Record<ShotColumn, number>>> = {
  name: WORD_PX,
  description: LONG_PX,
  spoken: LONG_PX,
  camera: 150,
  back: WORD_PX,
  subject: WORD_PX,
  size: WORD_PX,
  move: 190,
  timecodeIn: 96,
  timecodeOut: 96,
  scene: 96,
};

/** A shot with its cells, or the head of a scene. */
interface ShotRow {
  readonly facts: ShotFacts;
  readonly cells: Readonly<Record<ShotColumn, string | number | null>>;
}
type Row = ShotRow | { readonly head: SceneHead };

/** The shots as a table: sorted by any column, with those columns that are chosen, numbered anew, taken out as CSV. */
@Component({
  selector: 'arvex-shot-list',
  imports: [MatIcon, MatMenuModule, MatSortModule, NameField, NumberField, ScrollingModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './shot-list.html',
  styleUrl: './shot-list.scss',
})
export class ShotList {
  protected readonly shots = inject(ShownShots);
  private readonly viewport = viewChild(CdkVirtualScrollViewport);
  private readonly store = inject(ProjectStore);
  private readonly open = inject(OpenSequence);
  private readonly playhead = inject(Playhead);
  private readonly edits = inject(CutEdits);
  private readonly selection = inject(ShotSelection);

  protected readonly all = ALL;
  protected readonly heads = SHOT_COLUMNS;
  protected readonly units = UNITS;
  protected readonly written = WRITTEN;
  protected readonly rowPx = ROW_PX;
  protected readonly widthOf = (column: ShotColumn): number => WIDTHS[column] ?? NUMBER_PX;
  private readonly shown = remembered('shot-columns', z.array(z.string()), USUAL);
  protected readonly columns = computed(() => ALL.filter((column) => this.shown().includes(column)));
  protected readonly sort = signal<Sort>({ active: '', direction: '' });
  protected readonly pattern = signal('SL_###');
  protected readonly first = signal(10);
  protected readonly step = signal(10);
  protected readonly current = computed(() => this.selection.current()?.shot.id);
  /** Shots that are found, as they are sorted. */
  private readonly sorted = computed(() => {
    const project = this.open.project();
    if (!project) return [];
    const rows = this.shots.found().map((facts) => ({ facts, cells: shotCells(project, facts) }));
    const { active, direction } = this.sort();
    if (direction === '') return rows;
    const column = active as ShotColumn;
    const sign = direction === 'asc' ? 1 : -1;
    return rows.sort((a, b) => sign * compared(a.cells[column], b.cells[column]));
  });
  /** In the order of the cut each scene has its head, and a folded one nothing else. */
  protected readonly rows = computed<readonly Row[]>(() => {
    if (this.sort().direction !== '') return this.sorted();
    const rows = new Map(this.sorted().map((row) => [row.facts.placed.shot.id, row]));
    return this.shots.shown().flatMap(({ facts, head }): Row[] => {
      const row = rows.get(facts.placed.shot.id);
      return [...(head ? [{ head }] : []), ...(row && !head?.folded ? [row] : [])];
    });
  });
  /** How far the rows that are made are from the top: by so much their head stands higher to be at the top. */
  protected readonly offsetPx = signal(0);

  protected readonly widthPx = computed(() => this.columns().reduce((sum, column) => sum + this.widthOf(column), 0));
  protected readonly chosen = computed(() => new Set(this.selection.ids()));

  protected headOf(row: Row): SceneHead | undefined {
    return 'head' in row ? row.head : undefined;
  }

  protected shotOf(row: Row): ShotRow | undefined {
    return 'head' in row ? undefined : row;
  }

  protected scrolled(): void {
    this.offsetPx.set(this.viewport()?.getOffsetToRenderedContentStart() ?? 0);
  }

  protected readonly byRow = (_: number, row: Row): string =>
    'head' in row ? `scene ${row.head.shotIds[0] ?? ''}` : row.facts.placed.shot.id;

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
    const { shot } = placed;
    if (column === 'sceneName') {
      this.edits.run((project) => setScene(project, [shot.id], text));
      return;
    }
    this.edits.run((project) => setShot(project, shot.id, SHOT_COLUMNS[column], { [column]: text }));
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
      this.sorted().map(({ facts }) => facts),
      this.columns(),
    );
    const { ending, mediaType } = exporterOf('shot-list');
    saveFile(`${project.head.name} ${this.open.sequence()?.name ?? ''} shots.${ending}`, text, mediaType);
  }
}

/** Numbers by size, texts as people sort them, what is empty last. */
function compared(a: string | number | null, b: string | number | null): number {
  if (typeof a === 'number' && typeof b === 'number') return a - b;
  if (a === null || b === null) return Number(a === null) - Number(b === null);
  return String(a).localeCompare(String(b), undefined, { numeric: true });
}
