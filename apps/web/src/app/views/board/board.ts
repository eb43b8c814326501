import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { moveShots, posterOf, postersFor, setShot, shotFacts } from '@arvex/core';
import type { ShotFacts } from '@arvex/core';
import { Thumbnail } from '../../drawing';
import { CutEdits, ShotSelection } from '../../features/sequence';
import { remembered } from '../../data';
import { OpenSequence, Playhead, Units } from '../../session';
import { cameraColour, ChoiceField, followDrag, Switch, switchChoices } from '../../ui';
import { ShotList } from './shot-list';
import * as z from 'zod';

/** The shots as a grid of pictures, put in another order by dragging; or as a table. */
@Component({
  selector: 'arvex-board',
  imports: [ChoiceField, ShotList, Switch, Thumbnail],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './board.html',
  styleUrl: './board.scss',
})
export class Board {
  protected readonly open = inject(OpenSequence);
  private readonly playhead = inject(Playhead);
  private readonly edits = inject(CutEdits);
  private readonly selection = inject(ShotSelection);
  protected readonly units = inject(Units);
  protected readonly form = remembered('board', z.enum(['pictures', 'list']), 'pictures');
  protected readonly forms = switchChoices(['pictures', 'list']);

  protected readonly facts = computed(() => {
    const project = this.open.project();
    return project ? shotFacts(project, this.open.id()) : [];
  });
  protected readonly tiles = computed(() => {
    const project = this.open.project();
    if (!project) return [];
    return this.facts().map((facts) => {
      const { shot } = facts.placed;
      const camera = project.cameras[shot.cameraId ?? ''];
      const posters = postersFor(project, facts.placed);
      const key = (poster: (typeof posters)[number]['poster']) =>
        poster.kind === 'mark' ? poster.markId : poster.kind;
      return {
        facts,
        shot,
        colour: camera ? cameraColour(camera.number) : 'var(--red)',
        number: camera?.number ?? '?',
        seen: posterOf(project, this.open.id(), facts),
        posters: posters.map(({ poster, name }) => ({ id: key(poster), name, poster })),
        poster: key(shot.poster),
      };
    });
  });
  protected readonly chosen = computed(() => new Set(this.selection.ids()));
  protected readonly current = computed(() => this.selection.current()?.shot.id);
  /** Before which tile a dragged one would come to be. */
  protected readonly drop = signal<number | undefined>(undefined);

  protected lens({ lensMm }: ShotFacts): string {
    return lensMm === undefined ? '' : `${Number(lensMm.toFixed(1))} mm`;
  }

  protected press(event: PointerEvent, { placed }: ShotFacts): void {
    if (event.button !== 0) return;
    const { id } = placed.shot;
    if (event.shiftKey) return this.selection.choose(id, 'through');
    if (event.ctrlKey || event.metaKey) return this.selection.choose(id, 'more');
    if (!this.chosen().has(id)) this.selection.choose(id);
    followDrag(
      event,
      ({ event: moved }) => this.drop.set(placeAt(moved)),
      (kept) => {
        const place = this.drop();
        this.drop.set(undefined);
        if (place === undefined) this.goTo(placed.shot.id);
        else if (kept) this.moveTo(place);
      },
    );
  }

  /** Goes to a shot's first frame. */
  protected goTo(shotId: string): void {
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

  protected setPoster(
    tile: {
      readonly shot: { readonly id: string };
      readonly posters: readonly { readonly id: string; readonly poster: ShotFacts['placed']['shot']['poster'] }[];
    },
    id: string,
  ): void {
    const chosen = tile.posters.find((one) => one.id === id);
    if (chosen) this.edits.run((project) => setShot(project, tile.shot.id, 'Picture', { poster: chosen.poster }));
  }
}

/** Before which tile a pointer is: the one under it, or after it on its right half. */
function placeAt({ clientX, clientY }: PointerEvent): number | undefined {
  const under = document.elementFromPoint(clientX, clientY)?.closest<HTMLElement>('[data-place]');
  if (!under) return undefined;
  const { left, width } = under.getBoundingClientRect();
  return Number(under.dataset['place']) + (clientX > left + width / 2 ? 1 : 0);
}
