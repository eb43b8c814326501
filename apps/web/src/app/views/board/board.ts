import { CdkVirtualScrollViewport, ScrollingModule } from '@angular/cdk/scrolling';
import type { OnDestroy } from '@angular/core';
import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  ElementRef,
  inject,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { moveShots } from '@arvex/core';
import type { ShotFacts } from '@arvex/core';
import { CutEdits, ShotSelection } from '../../features/sequence';
import { remembered } from '../../data';
import { OpenSequence, Playhead } from '../../session';
import { followDrag, IconButton, SearchField, Switch, switchChoices } from '../../ui';
import { BoardCard } from './board-card';
import { ShotList } from './shot-list';
import type { ShownShot } from './shown-shots';
import { ShownShots } from './shown-shots';
import * as z from 'zod';

/** Least widths of the pictures, pixels. */
const SIZES = { small: 104, medium: 164, large: 264 } as const;
const ORDER = ['small', 'medium', 'large'] as const;
/** Between pictures, at both sides of them, and above each row, pixels. */
const [GAP_PX, SIDE_PX, ABOVE_PX] = [12, 12, 10];
/** What stands below a picture, and below a small one; the line with the scene. Pixels. */
const [BELOW_PX, BELOW_SMALL_PX, SCENE_PX] = [94, 26, 24];
/** The bar at the right by which the rows are scrolled, pixels. */
const SCROLL_BAR_PX = 12;
/** A shot that is dragged so near to an edge scrolls the rows by so much at each movement, pixels. */
const [EDGE_PX, EDGE_STEP_PX] = [28, 14];

/** The shots as rows of pictures, put in another order by dragging; or as a table. Only rows that are seen are made. */
@Component({
  selector: 'arvex-board',
  imports: [BoardCard, IconButton, ScrollingModule, SearchField, ShotList, Switch],
  providers: [ShownShots],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './board.html',
  styleUrl: './board.scss',
})
export class Board implements OnDestroy {
  private readonly open = inject(OpenSequence);
  private readonly playhead = inject(Playhead);
  private readonly edits = inject(CutEdits);
  private readonly selection = inject(ShotSelection);
  protected readonly shots = inject(ShownShots);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly viewport = viewChild(CdkVirtualScrollViewport);
  protected readonly form = remembered('board', z.enum(['pictures', 'list']), 'pictures');
  protected readonly size = remembered('board-size', z.enum(ORDER), 'medium');
  protected readonly forms = switchChoices(['pictures', 'list']);

  private readonly widthPx = signal(800);
  private readonly observer = new ResizeObserver(() => {
    this.widthPx.set(this.host.clientWidth);
    this.viewport()?.checkViewportSize();
  });
  private readonly columns = computed(() => {
    const room = this.widthPx() - 2 * SIDE_PX - SCROLL_BAR_PX + GAP_PX;
    return Math.max(1, Math.floor(room / (SIZES[this.size()] + GAP_PX)));
  });
  protected readonly cardPx = computed(() => {
    const room = this.widthPx() - 2 * SIDE_PX - SCROLL_BAR_PX - GAP_PX * (this.columns() - 1);
    return Math.floor(Math.min(room / this.columns(), SIZES[this.size()] * 1.6));
  });
  protected readonly scenePx = computed(() => (this.shots.hasScenes() ? SCENE_PX : 0));
  protected readonly rowPx = computed(() => {
    const below = this.size() === 'small' ? BELOW_SMALL_PX : BELOW_PX;
    return Math.ceil((this.cardPx() * 9) / 16) + below + this.scenePx() + ABOVE_PX;
  });
  protected readonly rows = computed(() => {
    const [shown, columns] = [this.shots.shown(), this.columns()];
    const count = Math.ceil(shown.length / columns);
    return Array.from({ length: count }, (_, i) => shown.slice(i * columns, (i + 1) * columns));
  });
  protected readonly all = computed(() => this.shots.facts().length);
  protected readonly chosen = computed(() => new Set(this.selection.ids()));
  protected readonly current = computed(() => this.selection.current()?.shot.id);
  /** Before which shot a dragged one would come to be. */
  protected readonly drop = signal<number | undefined>(undefined);

  constructor() {
    this.observer.observe(this.host);
    // The shot that one has come to is in sight.
    afterRenderEffect(() => {
      const id = this.current();
      const viewport = this.viewport();
      untracked(() => {
        if (viewport && !this.playhead.playing()) this.bringInSight(viewport, id);
      });
    });
  }

  ngOnDestroy(): void {
    this.observer.disconnect();
  }

  protected byFirst(_: number, row: readonly ShownShot[]): string | undefined {
    return row[0]?.facts.placed.shot.id;
  }

  protected resize(by: 1 | -1): void {
    this.size.update((size) => ORDER[ORDER.indexOf(size) + by] ?? size);
  }

  protected goToFirst(): void {
    const [first] = this.shots.found();
    if (first) this.goTo(first.placed.shot.id);
  }

  private bringInSight(viewport: CdkVirtualScrollViewport, shotId: string | undefined): void {
    const row = this.rows().findIndex((shown) =>
      shown.some(({ facts, head }) => facts.placed.shot.id === shotId || head?.shotIds.includes(shotId ?? '')),
    );
    const [top, height] = [row * this.rowPx(), viewport.getViewportSize()];
    const from = viewport.measureScrollOffset();
    if (row >= 0 && (top < from || top + this.rowPx() > from + height)) viewport.scrollToOffset(top);
  }

  protected press(event: PointerEvent, { facts, head }: ShownShot): void {
    if (event.button !== 0) return;
    const { id } = facts.placed.shot;
    if (event.shiftKey) return this.selection.choose(id, 'through');
    if (event.ctrlKey || event.metaKey) return this.selection.choose(id, 'more');
    if (head?.folded) this.selection.chooseThese(head.shotIds);
    else if (!this.chosen().has(id)) this.selection.choose(id);
    followDrag(
      event,
      ({ event: moved }) => {
        this.drop.set(placeAt(moved));
        this.scrollAtEdge(moved.clientY);
      },
      (kept) => {
        const place = this.drop();
        this.drop.set(undefined);
        if (place === undefined) this.goTo(id);
        else if (kept) this.moveTo(place);
      },
    );
  }

  private scrollAtEdge(y: number): void {
    const viewport = this.viewport();
    if (!viewport) return;
    const { top, bottom } = viewport.elementRef.nativeElement.getBoundingClientRect();
    const by = y < top + EDGE_PX ? -EDGE_STEP_PX : y > bottom - EDGE_PX ? EDGE_STEP_PX : 0;
    if (by !== 0) viewport.scrollToOffset(viewport.measureScrollOffset() + by);
  }

  /** Goes to a shot's first frame. */
  private goTo(shotId: string): void {
    const placed = this.open.cut().shots.find(({ shot }) => shot.id === shotId);
    if (!placed) return;
    this.selection.choose(shotId);
    this.playhead.toMode('cut');
    this.playhead.goTo(placed.startFrame);
  }

  /** Puts the chosen shots before the shot at a place. */
  private moveTo(place: number): void {
    const ids = this.selection.ids();
    const others = this.open.cut().shots.filter(({ shot, index }) => index < place && !ids.includes(shot.id)).length;
    this.edits.run((project) => moveShots(project, ids, others));
  }

  protected key(event: KeyboardEvent, { placed }: ShotFacts): void {
    const by = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
    if (event.key === 'Enter') this.goTo(placed.shot.id);
    else if (by !== 0 && event.altKey) {
      event.preventDefault();
      event.stopPropagation();
      this.edits.run((project) => moveShots(project, [placed.shot.id], placed.index + by));
    }
  }
}

/** Before which shot a pointer is: the one under it, or after it on its right half. */
function placeAt({ clientX, clientY }: PointerEvent): number | undefined {
  const under = document.elementFromPoint(clientX, clientY)?.closest<HTMLElement>('[data-place]');
  if (!under) return undefined;
  const { left, width } = under.getBoundingClientRect();
  return Number(under.dataset['place']) + (clientX > left + width / 2 ? 1 : 0);
}
