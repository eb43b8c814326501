import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import type { Advice, ContinuityLimits } from '@arvex/core';
import { CONTINUITY_DEFAULTS, isMeant, setSequence } from '@arvex/core';
import { Card, NumberField, PERCENT } from '../../../ui';
import { PictureTools } from '../../cameras';
import { ContinuityReport } from '../continuity-report';
import { JointLook } from '../joint-look';
import { ShotBench } from '../shot-bench';
import { FoundList } from './found-list';

/** What an audience may stumble over: advice with its reason and figures, and both pictures to look at. */
@Component({
  selector: 'arvex-continuity-card',
  imports: [Card, FoundList, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './continuity-card.html',
})
export class ContinuityCard {
  protected readonly bench = new ShotBench();
  protected readonly look = inject(JointLook);
  private readonly report = inject(ContinuityReport);
  private readonly tools = inject(PictureTools);
  protected readonly percent = PERCENT;
  protected readonly advice = this.report.advice;
  protected readonly limits = computed<ContinuityLimits>(
    () => this.bench.open.sequence()?.continuity ?? CONTINUITY_DEFAULTS,
  );
  protected readonly summary = computed(() => {
    const project = this.bench.project();
    const count = this.advice().filter((one) => project && !isMeant(project, one)).length;
    return count === 0 ? 'nothing to look at' : `${count} to look at`;
  });

  protected goTo({ shotId, beforeId }: Advice): void {
    const placed = this.bench.open.cut().shots.find(({ shot }) => shot.id === shotId);
    if (!placed) return;
    this.bench.selection.choose(shotId);
    this.bench.playhead.toMode('cut');
    this.bench.playhead.goTo(placed.startFrame);
    if (beforeId !== undefined) this.look.toggle(shotId);
  }

  /** Asks for both ends of the line in picture or plan; it is the whole sequence's. */
  protected setLine(): void {
    this.tools.point('Click one end of the line of action', (from) =>
      this.tools.point('Click its other end', (to) => {
        const actionLine = { fromM: [from[0], from[2]] as const, toM: [to[0], to[2]] as const };
        this.bench.edits.run((project, id) => setSequence(project, id, 'Line of action', { actionLine }));
      }),
    );
  }

  protected dropLine(): void {
    this.bench.edits.run((project, id) => setSequence(project, id, 'No line of action', { actionLine: null }));
  }

  protected set(parts: Partial<ContinuityLimits>): void {
    const continuity = { ...this.limits(), ...parts };
    this.bench.edits.run((project, id) => setSequence(project, id, 'Continuity limits', { continuity }));
  }
}
