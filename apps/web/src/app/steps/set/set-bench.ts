import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatProgressBar } from '@angular/material/progress-bar';
import type { DisplayUnit, PieceOffer } from '@arvex/core';
import { DISPLAY_UNITS, PIECE_OFFERS, setHead } from '@arvex/core';
import { Card } from '../../bench/card';
import { Findings } from '../../bench/findings';
import { ChoiceField } from '../../shared/choice-field';
import { BringingIn } from '../../state/bringing-in';
import { PieceMaking } from '../../state/piece-making';
import { ProjectStore } from '../../state/project-store';
import { Selection } from '../../state/selection';
import { ANGLE_STEPS_DEG, GRID_STEPS_M, Snapping } from '../../state/snapping';
import { Units } from '../../state/units';
import { ArrangeBar } from './arrange-bar';
import { DaylightCard } from './daylight-card';
import { LightGroupsCard } from './light-groups-card';
import { MovementCard } from './movement-card';
import { Outline } from './outline';
import { PieceCard } from './piece-card';
import { iconOf } from './piece-fields';

const UNIT_NAMES: Readonly<Record<DisplayUnit, string>> = {
  m: 'metres',
  cm: 'centimetres',
  mm: 'millimetres',
  ft: 'feet and inches',
  in: 'inches',
};

/** The bench of the Set step: what stands in the set, what is chosen of it, and the light. */
@Component({
  selector: 'arvex-set-bench',
  imports: [
    ...[ArrangeBar, Card, ChoiceField, DaylightCard, Findings, LightGroupsCard, MatIcon, MatMenuModule, MatProgressBar],
    ...[MovementCard, Outline, PieceCard],
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './set-bench.html',
  styleUrls: ['../bench-step.scss', './set-bench.scss'],
})
export class SetBench {
  private readonly store = inject(ProjectStore);
  protected readonly selection = inject(Selection);
  protected readonly making = inject(PieceMaking);
  protected readonly bringing = inject(BringingIn);
  protected readonly snapping = inject(Snapping);
  protected readonly unit = inject(Units);
  protected readonly offers = PIECE_OFFERS;
  protected readonly icon = iconOf;
  protected readonly units = DISPLAY_UNITS.map((id) => ({ id, name: UNIT_NAMES[id] }));
  protected readonly grids = computed(() =>
    GRID_STEPS_M.map((step) => ({ id: String(step), name: step === 0 ? 'free' : `grid of ${this.unit.text(step)}` })),
  );
  protected readonly angles = ANGLE_STEPS_DEG.map((step) => ({
    id: String(step),
    name: step === 0 ? 'free' : `${step}°`,
  }));

  protected readonly summary = computed(() => {
    const project = this.store.project();
    if (!project) return '';
    const things = Object.values(project.placements);
    const triangles = things.reduce((sum, { assetId }) => {
      const file = assetId === null ? undefined : project.assets[assetId]?.file;
      return sum + (file?.kind === 'geometry' ? file.triangles : 0);
    }, 0);
    return `${things.length} things · ${Math.round(triangles / 1000)} k triangles`;
  });
  protected readonly snapText = computed(
    () => `${this.unit.length()} · ${this.snapping.gridM() > 0 ? this.unit.text(this.snapping.gridM()) : 'free'}`,
  );

  protected setUnit(displayUnit: DisplayUnit): void {
    const project = this.store.project();
    const name = UNIT_NAMES[displayUnit];
    if (project) this.store.commit(setHead(project, `Lengths in ${name}`, { displayUnit }));
  }

  protected take(offer: PieceOffer): void {
    this.making.putting.set(offer);
  }

  protected files(input: HTMLInputElement): void {
    const files = [...(input.files ?? [])];
    if (files.length > 0) void this.bringing.bringIn(files);
    input.value = '';
  }
}
