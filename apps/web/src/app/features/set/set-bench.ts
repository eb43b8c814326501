import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatProgressBar } from '@angular/material/progress-bar';
import type { DisplayUnit, PieceOffer } from '@arvex/core';
import { DISPLAY_UNITS, PIECE_OFFERS, setHead } from '@arvex/core';
import { Card } from '../../ui';
import { Findings } from '../../readiness';
import { ChoiceField } from '../../ui';
import { BringingIn } from './imports';
import { PieceMaking } from './pieces';
import { ProjectStore } from '../../data';
import { Selection } from '../../session';
import { ANGLE_STEPS_DEG, GRID_STEPS_M, Snapping } from '../../session';
import { Units } from '../../session';
import { ArrangeBar } from './cards/arrange-bar';
import { DaylightCard } from './cards/daylight-card';
import { LightGroupsCard } from './cards/light-groups-card';
import { MovementCard } from './cards/movement-card';
import { Outline } from './cards/outline';
import { PieceCard } from './cards/piece-card';
import { iconOf } from './cards/piece-fields';

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
  styleUrls: ['../../ui/bench-step.scss', './set-bench.scss'],
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
