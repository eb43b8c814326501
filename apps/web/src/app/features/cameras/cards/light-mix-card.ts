import { ChangeDetectionStrategy, Component, computed } from '@angular/core';
import type { GroupLevel } from '@arvex/core';
import { LEVEL_AS_IT_IS, lightGroupsInOrder, setCameraLevel, setOwn } from '@arvex/core';
import { Card, LevelRow } from '../../../ui';
import { CameraBench } from '../camera-bench';

/** How this camera sees the light groups: as the project has them, or by a mix of its own. */
@Component({
  selector: 'arvex-light-mix-card',
  imports: [Card, LevelRow],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <arvex-card heading="Light mix" [summary]="summary()" [own]="own()" (ownSet)="setOwn($event)" card="light">
      @for (group of groups(); track group.id) {
        <div class="row">
          <arvex-level-row [name]="group.name" [level]="group.level" (levelSet)="set(group.id, $event)" />
        </div>
      } @empty {
        <p class="quiet">The set has no light groups yet. Make them in Set.</p>
      }
    </arvex-card>
  `,
})
export class LightMixCard {
  private readonly bench = new CameraBench();
  protected readonly own = computed(() => this.bench.camera()?.own.includes('lightMix') ?? false);
  protected readonly groups = computed(() => {
    const [project, state] = [this.bench.store.project(), this.bench.state()];
    if (!project || !state) return [];
    return lightGroupsInOrder(project).map(({ id, name }) => ({
      id,
      name,
      level: state.lightMix[id] ?? LEVEL_AS_IT_IS,
    }));
  });
  protected readonly summary = computed(() => {
    const words = this.groups().flatMap(({ name, level }) => {
      if (!level.on) return [`${name} off`];
      return level.stops === 0 ? [] : [`${name} ${level.stops > 0 ? '+' : ''}${level.stops.toFixed(1)}`];
    });
    return words.length > 0 ? words.join(', ') : 'as it is';
  });

  protected set(groupId: string, level: GroupLevel): void {
    const [project, camera] = [this.bench.store.project(), this.bench.camera()];
    if (project && camera) this.bench.store.commit(setCameraLevel(project, camera.id, groupId, level));
  }

  protected setOwn(own: boolean): void {
    const [project, camera] = [this.bench.store.project(), this.bench.camera()];
    if (project && camera) this.bench.store.commit(setOwn(project, camera.id, 'lightMix', own));
  }
}
