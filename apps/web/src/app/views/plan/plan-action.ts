import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { OpenSequence, Workspace } from '../../session';
import { RiggingReport, ShotSelection } from '../../features/sequence';

/** In the plan while shots are cut: the line of action of the shot in hand, and where its camera could not be. */
@Component({
  selector: 'g[arvexPlanAction]',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (line(); as shown) {
      <svg:line
        class="line"
        [attr.x1]="shown.fromM[0]"
        [attr.y1]="shown.fromM[1]"
        [attr.x2]="shown.toM[0]"
        [attr.y2]="shown.toM[1]"
        [attr.stroke-width]="2 * perPixel()"
        [attr.stroke-dasharray]="10 * perPixel() + ' ' + 5 * perPixel()"
      >
        <svg:title>Line of action</svg:title>
      </svg:line>
    }
    @for (one of troubles(); track one.message) {
      <svg:circle
        class="trouble"
        [attr.cx]="one.atM[0]"
        [attr.cy]="one.atM[2]"
        [attr.r]="9 * perPixel()"
        [attr.stroke-width]="2 * perPixel()"
      >
        <svg:title>{{ one.message }}</svg:title>
      </svg:circle>
    }
  `,
  styles: `
    .line {
      stroke: var(--iris);
    }
    .trouble {
      fill: color-mix(in srgb, var(--amber) 25%, transparent);
      stroke: var(--amber);
    }
  `,
})
export class PlanAction {
  readonly perPixel = input.required<number>();
  private readonly workspace = inject(Workspace);
  private readonly open = inject(OpenSequence);
  private readonly selection = inject(ShotSelection);
  private readonly report = inject(RiggingReport);
  private readonly cuts = computed(() => this.workspace.step() === 'sequence');

  protected readonly line = computed(() => {
    if (!this.cuts()) return undefined;
    const shot = this.open.project()?.shots[this.selection.acted()[0] ?? ''];
    return shot?.actionLine ?? this.open.sequence()?.actionLine ?? undefined;
  });
  protected readonly troubles = computed(() => (this.cuts() ? (this.report.troubles() ?? []) : []));
}
