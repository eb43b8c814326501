import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import type { Channel } from '@arvex/core';
import { lightChannels, setOwn } from '@arvex/core';
import { Card, ChoiceField, LevelRow, NumberField } from '../../../ui';
import { CameraBench, ChannelState, Meter } from '../../cameras';
import { LightLevels } from '../light-levels';
import { LightMixing } from '../light-mixing';
import { LookFiles } from '../look-files';
import { Looks } from '../looks';

/** How this camera sees the light groups: as the project has them, or by a mix of its own. */
@Component({
  selector: 'arvex-light-mix-card',
  imports: [Card, ChannelState, ChoiceField, LevelRow, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <arvex-card heading="Light mix" [summary]="summary()" [own]="own()" (ownSet)="setOwn($event)" card="light">
      @if (looks.changes(); as name) {
        <p class="changes">Changes “{{ name }}”</p>
      }
      @for (group of levels.groups(); track group.id) {
        <div class="row">
          <arvex-level-row
            [arvexChannel]="channelOf(group.id)"
            [name]="group.name"
            [level]="group.level"
            [solo]="mixing.solo() === group.id"
            (soloSet)="mixing.solo.set($event ? group.id : undefined)"
            (levelSlid)="levels.preview(group.id, $event)"
            (levelSet)="levels.set(group.id, $event)"
          />
        </div>
      } @empty {
        <p class="quiet">The set has no light groups yet. Make them in Set.</p>
      }
      @if (levels.groups().length > 0) {
        <div class="row">
          <span class="label">By the meter</span>
          <arvex-choice-field
            label="Light group that is set from the meter"
            [choices]="choices()"
            [value]="metered()"
            (chosen)="chosen.set($event)"
          />
          <arvex-number-field
            label="Stops over the setting that the meter is to read"
            hint="Stops over the camera’s setting, or under with −, that is to be read {{ where() }}"
            unit="stops"
            [decimals]="1"
            [min]="-12"
            [max]="12"
            [value]="over()"
            (valueSet)="over.set($event)"
          />
          <button type="button" class="pill" (click)="setFromMeter()">Set</button>
        </div>
        <div class="foot">
          <button type="button" class="pill" (click)="files.copyMix()">Copy</button>
          <button type="button" class="pill" (click)="files.paste()">Paste</button>
        </div>
      }
    </arvex-card>
  `,
  styleUrl: './looks.scss',
})
export class LightMixCard {
  protected readonly bench = new CameraBench();
  protected readonly mixing = inject(LightMixing);
  protected readonly levels = inject(LightLevels);
  protected readonly files = inject(LookFiles);
  protected readonly looks = inject(Looks);
  private readonly meter = inject(Meter);
  protected readonly chosen = signal<string | undefined>(undefined);
  protected readonly over = signal(0);

  /** Nothing to choose where the variation that is worn has its mix by itself. */
  protected readonly own = computed(() => {
    const camera = this.bench.camera();
    const worn = camera?.variations[this.bench.viewpoint.variationId() ?? ''];
    return worn?.lightMix ? undefined : camera?.own.includes('lightMix');
  });
  protected readonly choices = computed(() => this.levels.groups().map(({ id, name }) => ({ id, name })));
  protected readonly metered = computed(() => {
    const groups = this.levels.groups();
    return groups.find(({ id }) => id === this.chosen())?.id ?? groups[0]?.id;
  });
  protected readonly where = computed(() => {
    const mode = this.meter.mode();
    return mode === 'spot' ? 'at the spot' : mode === 'centre' ? 'in the middle' : 'of the whole picture';
  });
  protected readonly summary = computed(() => {
    const words = this.levels.groups().flatMap(({ name, level }) => {
      if (!level.on) return [`${name} off`];
      return level.stops === 0 ? [] : [`${name} ${level.stops > 0 ? '+' : ''}${level.stops.toFixed(1)}`];
    });
    return words.length > 0 ? words.join(', ') : 'as it is';
  });

  protected channelOf(groupId: string): Channel {
    return lightChannels(groupId).stops;
  }

  protected setFromMeter(): void {
    const groupId = this.metered();
    if (groupId !== undefined) void this.mixing.setFromMeter(groupId, this.over());
  }

  protected setOwn(own: boolean): void {
    this.looks.edit((project, { cameraId }) => setOwn(project, cameraId, 'lightMix', own));
  }
}
