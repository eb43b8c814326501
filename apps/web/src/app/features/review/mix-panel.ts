import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import type { GroupLevel, LightMix, Render } from '@arvex/core';
import { ProjectStore } from '../../data';
import { LevelRow } from '../../ui';
import { Renders } from './renders';

/** The light of a finished render mixed anew, group by group: the next version, with nothing drawn for it. */
@Component({
  selector: 'arvex-mix-panel',
  imports: [LevelRow, MatIcon],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (group of groups(); track group.id) {
      <arvex-level-row [name]="group.name" [level]="group.level" (levelSet)="set(group.id, $event)" />
    } @empty {
      <p class="quiet">There are no light groups in this project.</p>
    }
    <button type="button" class="pill filled" [disabled]="groups().length === 0" (click)="make()">
      <mat-icon>tune</mat-icon>Make a version of this mix
    </button>
  `,
  styles: `
    :host {
      display: grid;
      gap: 4px;
      max-width: 520px;
      padding: 6px 0 10px 69px;
    }
    button {
      justify-self: start;
      margin-top: 4px;
    }
  `,
})
export class MixPanel {
  private readonly store = inject(ProjectStore);
  private readonly renders = inject(Renders);
  readonly render = input.required<Render>();
  readonly made = output();
  private readonly mix = signal<LightMix>({});
  protected readonly groups = computed(() =>
    Object.values(this.store.project()?.lightGroups ?? {}).map(({ id, name, level }) => ({
      id,
      name,
      level: this.mix()[id] ?? level,
    })),
  );

  protected set(id: string, level: GroupLevel): void {
    this.mix.update((mix) => ({ ...mix, [id]: level }));
  }

  protected async make(): Promise<void> {
    if (await this.renders.mix(this.render().id, this.mix())) this.made.emit();
  }
}
