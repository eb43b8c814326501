import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import type { DisplayUnit } from '@arvex/core';
import { DISPLAY_UNITS, setHead } from '@arvex/core';
import { ProjectStore } from '../../../data';
import { ANGLE_STEPS_DEG, GRID_STEPS_M, SnapGrid, Units } from '../../../session';
import { Card, ChoiceField, Switch } from '../../../ui';

const UNIT_NAMES: Readonly<Record<DisplayUnit, string>> = {
  m: 'metres',
  cm: 'centimetres',
  mm: 'millimetres',
  ft: 'feet and inches',
  in: 'inches',
};

/** In which unit lengths are shown, and to what moves and turns snap. */
@Component({
  selector: 'arvex-units-card',
  imports: [Switch, Card, ChoiceField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './units-card.html',
})
export class UnitsCard {
  private readonly store = inject(ProjectStore);
  protected readonly snapGrid = inject(SnapGrid);
  protected readonly unit = inject(Units);
  protected readonly units = DISPLAY_UNITS.map((id) => ({ id, name: UNIT_NAMES[id] }));
  protected readonly grids = computed(() =>
    GRID_STEPS_M.map((step) => ({ id: String(step), name: step === 0 ? 'free' : `grid of ${this.unit.text(step)}` })),
  );
  protected readonly angles = ANGLE_STEPS_DEG.map((step) => ({
    id: String(step),
    name: step === 0 ? 'free' : `${step}°`,
  }));

  protected readonly snapText = computed(
    () => `${this.unit.length()} · ${this.snapGrid.gridM() > 0 ? this.unit.text(this.snapGrid.gridM()) : 'free'}`,
  );

  protected setUnit(displayUnit: DisplayUnit): void {
    const project = this.store.project();
    const name = UNIT_NAMES[displayUnit];
    if (project) this.store.commit(setHead(project, `Lengths in ${name}`, { displayUnit }));
  }
}
