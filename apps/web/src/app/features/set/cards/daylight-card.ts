import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import type { SetEntity, Sky, Sun } from '@arvex/core';
import { daylightOf, lightGroupsInOrder, setOf, setSet } from '@arvex/core';
import { ProjectStore } from '../../../data';
import { Card, ChoiceField, NumberField, Switch } from '../../../ui';
import { SetPieces } from '../pieces';
import { SunFields } from './sun-fields';

const NO_GROUP = 'none';

/** Sun and sky: where the sun stands, how much light there is, and what follows from what. */
@Component({
  selector: 'arvex-daylight-card',
  imports: [Switch, Card, ChoiceField, NumberField, SunFields],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './daylight-card.html',
})
export class DaylightCard {
  private readonly store = inject(ProjectStore);
  private readonly pieces = inject(SetPieces);
  protected readonly set = computed<SetEntity | undefined>(() => {
    const project = this.store.project();
    return project && setOf(project);
  });
  protected readonly daylight = computed(() => {
    const set = this.set();
    return set && daylightOf(set);
  });
  protected readonly groups = computed(() => {
    const project = this.store.project();
    const groups = project ? lightGroupsInOrder(project).map(({ id, name }) => ({ id, name })) : [];
    return [{ id: NO_GROUP, name: 'no group' }, ...groups];
  });
  protected readonly summary = computed(() => {
    const now = this.daylight();
    if (!now) return '';
    const { sun, sky } = now;
    const up =
      sun.elevationDeg >= 0 ? `${sun.elevationDeg.toFixed(0)}° up` : `${(-sun.elevationDeg).toFixed(0)}° under`;
    return `sun ${up} ${lux(sun.illuminanceLx)} · sky ${lux(sky.illuminanceLx)}`;
  });

  protected setSun(what: string, parts: Partial<Sun>): void {
    const set = this.set();
    if (set) this.change(what, { sun: { ...set.sun, ...parts } });
  }

  protected setSky(what: string, parts: Partial<Sky>): void {
    const set = this.set();
    if (set) this.change(what, { sky: { ...set.sky, ...parts } });
  }

  /** What followed is kept as typed values, so that the picture stays as it is. */
  protected type(what: 'sunFrom' | 'amounts'): void {
    const [set, now] = [this.set(), this.daylight()];
    if (!set || !now) return;
    const { elevationDeg, azimuthDeg, illuminanceLx, kelvin } = now.sun;
    if (what === 'sunFrom')
      this.change('Sun by angles', { sunFrom: 'typed', sun: { ...set.sun, elevationDeg, azimuthDeg } });
    else
      this.change('Own amounts of daylight', {
        amounts: 'typed',
        sun: { ...set.sun, illuminanceLx, kelvin },
        sky: now.sky,
      });
  }

  protected setGroup(id: string): void {
    this.change('Light group of sun and sky', { daylightGroupId: id === NO_GROUP ? null : id });
  }

  protected change(what: string, parts: Partial<SetEntity>): void {
    const id = this.set()?.id;
    if (id !== undefined) this.pieces.edit((project) => setSet(project, id, what, parts));
  }
}

/** Lux with as many digits as one reads. */
function lux(value: number): string {
  return `${Number(value.toPrecision(3)).toLocaleString('en')} lx`;
}
