import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatTooltip } from '@angular/material/tooltip';
import type { LookChannel, LookSettings } from '@arvex/core';
import {
  deleteLook,
  KELVIN_RANGE,
  LOOK_DEFAULTS,
  looksInOrder,
  lookValue,
  nameLook,
  setOwn,
  setProjectLook,
  wearersOf,
  wearLook,
} from '@arvex/core';
import { acceptOf, LOOK_EXPORTERS } from '@arvex/interchange/tables';
import { ProjectStore } from '../../../data';
import { CameraBench, ChannelState } from '../../cameras';
import type { Choice } from '../../../ui';
import { AmountRow, Card, ChoiceField, NameField } from '../../../ui';
import { FilesIn } from '../../interchange';
import { LookFiles } from '../look-files';
import type { LookParts } from '../looks';
import { Looks } from '../looks';
import { lookSummary } from '../look-summary';
import { othersWords } from '../wearers-words';

/** Stands for no look in a list of looks. */
const AS_IT_IS = 'as-it-is';

/** The look of a camera: which one it wears, who else does, and what it does to light. */
@Component({
  selector: 'arvex-look-card',
  imports: [AmountRow, Card, ChannelState, ChoiceField, MatIcon, MatMenuModule, MatTooltip, NameField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './look-card.html',
  styleUrl: './looks.scss',
})
export class LookCard {
  protected readonly bench = new CameraBench();
  protected readonly looks = inject(Looks);
  protected readonly files = inject(LookFiles);
  private readonly filesIn = inject(FilesIn);
  protected readonly exporters = LOOK_EXPORTERS;
  protected readonly accepted = acceptOf('look');
  private readonly store = inject(ProjectStore);
  protected readonly rest = LOOK_DEFAULTS;
  protected readonly kelvinRange = KELVIN_RANGE;
  protected readonly naming = signal(false);

  protected readonly settings = this.looks.settings;
  /** Nothing to choose where the variation that is worn has its look by itself. */
  protected readonly own = computed(() => {
    const worn = this.bench.camera()?.variations[this.bench.viewpoint.variationId() ?? ''];
    return worn?.lookId ? undefined : !this.looks.follows();
  });
  protected readonly summary = computed(() => lookSummary(this.looks.look()?.name, this.settings()));
  protected readonly choices = computed<readonly Choice[]>(() => {
    const project = this.store.project();
    if (!project) return [];
    const worn = (id: string | null) => {
      const { count } = wearersOf(project, id);
      return count === 0 ? '' : `on ${count} ${count === 1 ? 'camera' : 'cameras'}`;
    };
    const all = looksInOrder(project).map(({ id, name }) => ({ id, name, detail: worn(id) }));
    return [{ id: AS_IT_IS, name: 'as it is', detail: worn(null) }, ...all];
  });
  protected readonly worn = computed(() => this.looks.look()?.id ?? AS_IT_IS);
  /** Whom else a change reaches. */
  protected readonly others = computed(() => othersWords(this.looks.others()));
  protected readonly othersNames = computed(() => {
    const { cameras, variations } = this.looks.others();
    return [
      ...cameras.map(({ name }) => name),
      ...variations.map(({ camera, variation }) => `${camera.name}, ${variation.name}`),
    ].join(' · ');
  });

  protected open(chooser: HTMLInputElement): void {
    void this.filesIn.take([...(chooser.files ?? [])]);
    chooser.value = '';
  }

  protected choose(id: string): void {
    const lookId = id === AS_IT_IS ? null : id;
    this.looks.edit((project, dressed) => wearLook(project, dressed, lookId));
  }

  protected setOwn(own: boolean): void {
    this.looks.edit((project, { cameraId }) => setOwn(project, cameraId, 'look', own));
  }

  protected slide(parts: LookParts, channel?: LookChannel): void {
    this.looks.preview(parts, channel, channel && lookValue({ ...this.settings(), ...parts }, channel));
  }

  protected set(what: string, parts: LookParts, channel?: LookChannel): void {
    this.looks.set(what, parts, channel, channel && lookValue({ ...this.settings(), ...parts }, channel));
  }

  protected tone(parts: Partial<LookSettings['tone']>): LookParts {
    return { tone: { ...this.looks.kept().tone, ...parts } };
  }

  protected white(parts: Partial<LookSettings['white']>): LookParts {
    return { white: { ...this.looks.kept().white, ...parts } };
  }

  protected saturation(saturation: number): LookParts {
    return { cdl: { ...this.looks.kept().cdl, saturation } };
  }

  protected name(name: string): void {
    const look = this.looks.look();
    if (look) this.looks.edit((project) => nameLook(project, look.id, name));
  }

  protected delete(): void {
    const look = this.looks.look();
    if (look) this.looks.edit((project) => deleteLook(project, look.id));
  }

  protected forProject(): void {
    this.looks.edit((project) => setProjectLook(project, this.looks.look()?.id ?? null));
  }
}
