import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { NO_VARIATION } from '@arvex/core';
import { Thumbnail } from '../../../drawing';
import { Playhead } from '../../../session';
import { Card, IconButton, NameField } from '../../../ui';
import { CameraBench } from '../../cameras';
import { LightMixing } from '../light-mixing';
import { Variations } from '../variations';

/** A variation as a small picture. */
interface Tile {
  readonly id: string;
  readonly name: string;
  readonly isWorn: boolean;
  readonly hasExposure: boolean;
  readonly place: number;
}

/** Other looks and light mixes of the same position, as small pictures: one press wears one, pointing at one tries it. */
@Component({
  selector: 'arvex-variations-card',
  imports: [Card, IconButton, MatIcon, MatMenuModule, NameField, Thumbnail],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './variations-card.html',
  styleUrl: './variations-card.scss',
})
export class VariationsCard {
  protected readonly bench = new CameraBench();
  protected readonly variations = inject(Variations);
  /** Adds the light groups up for as long as variations may be tried. */
  protected readonly mixing = inject(LightMixing);
  private readonly playhead = inject(Playhead);
  protected readonly none = NO_VARIATION;
  protected readonly newName = signal('');

  protected readonly atFlicks = computed(() => this.playhead.glance()?.sceneFlicks ?? 0);
  protected readonly aspect = computed(() => {
    const used = this.bench.state()?.framing.used;
    return used ? used.widthMm / used.heightMm : 16 / 9;
  });
  protected readonly tiles = computed<readonly Tile[]>(() => {
    const worn = this.variations.worn();
    const own = { id: NO_VARIATION, name: 'as it is', isWorn: worn === NO_VARIATION, hasExposure: false, place: -1 };
    const others = this.variations.all().map(({ id, name, exposure }, place) => {
      return { id, name, isWorn: id === worn, hasExposure: exposure !== null, place };
    });
    return [own, ...others];
  });
  protected readonly summary = computed(() => {
    const worn = this.tiles().find(({ isWorn }) => isWorn);
    const count = this.variations.all().length;
    return count === 0 ? 'none' : `${worn?.name ?? ''} of ${count}`;
  });
  /** Names that a new one may have: what most sets are lit for. */
  protected readonly offered = computed(() => {
    const taken = new Set(this.variations.all().map(({ name }) => name));
    return ['day', 'sunset', 'dusk', 'night'].filter((name) => !taken.has(name));
  });

  protected keep(name: string): void {
    const wanted = name.trim() || this.offered()[0] || 'variation';
    this.variations.keep(wanted);
    this.newName.set('');
  }
}
