import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { Movie, Proof, ProofView, Renders } from '../../features/review';
import { Workspace } from '../../session';
import { FocusRuler } from './focus-ruler';
import { LightStrip } from './light-strip';
import { Picture } from './picture';

/**
 * The picture with its instruments at its edges: light at the left, distance below. Where shots are cut nothing is measured, and the
 * picture has their room. In Review a movie may lie over it.
 */
@Component({
  selector: 'arvex-viewfinder',
  imports: [FocusRuler, LightStrip, Movie, Picture, ProofView],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <arvex-light-strip />
    <arvex-picture />
    <arvex-focus-ruler />
    @if (workspace.step() === 'review' && renders.watched()) {
      <arvex-movie />
    } @else if (workspace.step() === 'review' && proof.shown()) {
      <arvex-proof />
    }
  `,
  styleUrl: './viewfinder.scss',
  host: {
    '[class.lower]': "workspace.views().lower === 'picture'",
    '[class.plain]': "workspace.views().lower === 'picture' || workspace.step() === 'sequence' || workspace.showing()",
  },
})
export class Viewfinder {
  protected readonly workspace = inject(Workspace);
  protected readonly renders = inject(Renders);
  protected readonly proof = inject(Proof);
}
