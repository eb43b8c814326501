import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatProgressBar } from '@angular/material/progress-bar';
import type { PieceOffer } from '@arvex/core';
import { PIECE_OFFERS } from '@arvex/core';
import { acceptOf } from '@arvex/interchange/tables';
import { ProjectStore } from '../../data';
import { Findings } from '../../readiness';
import { Selection } from '../../session';
import { Cards } from '../../ui';
import { ArrangeBar } from './cards/arrange-bar';
import { MovementCard } from './cards/movement-card';
import { Outline } from './cards/outline';
import { PieceCard } from './cards/piece-card';
import { iconOf } from './cards/piece-fields';
import { FilesIn } from '../interchange';
import { Imports } from './imports';
import { SetPieces } from './pieces';

/** Shown in turns of their own, yet fetched with the bench: what is deferred by itself is never fetched again once that failed. */
const IN_TURNS = [PieceCard, MovementCard];

/** The bench of the Set step: what stands in the set, what is chosen of it, and the light. */
@Component({
  selector: 'arvex-set-bench',
  imports: [ArrangeBar, Cards, Findings, IN_TURNS, MatIcon, MatMenuModule, MatProgressBar, Outline],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './set-bench.html',
  styleUrls: ['../../ui/bench-step.scss', './set-bench.scss'],
})
export class SetBench {
  private readonly store = inject(ProjectStore);
  protected readonly selection = inject(Selection);
  protected readonly pieces = inject(SetPieces);
  protected readonly imports = inject(Imports);
  private readonly filesIn = inject(FilesIn);
  protected readonly accepted = acceptOf('geometry', 'picture');
  protected readonly offers = PIECE_OFFERS;
  protected readonly icon = iconOf;
  protected readonly summary = computed(() => {
    const project = this.store.project();
    if (!project) return '';
    const things = Object.values(project.placements);
    const triangles = things.reduce((sum, { assetId }) => {
      const file = assetId === null ? undefined : project.assets[assetId]?.file;
      return sum + (file?.kind === 'geometry' ? file.triangles : 0);
    }, 0);
    const count = triangles < 1000 ? String(triangles) : `${Math.round(triangles / 1000)} k`;
    return `${things.length} ${things.length === 1 ? 'thing' : 'things'}${triangles > 0 ? ` · ${count} triangles` : ''}`;
  });
  protected take(offer: PieceOffer): void {
    this.pieces.putting.set(offer);
  }

  protected files(input: HTMLInputElement): void {
    const files = [...(input.files ?? [])];
    if (files.length > 0) void this.filesIn.take(files);
    input.value = '';
  }
}
