import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import type { CopyGroup, CopyHow } from '@arvex/core';
import { camerasInOrder, COPY_GROUPS, copyMove } from '@arvex/core';
import { Switch } from '../../../ui';
import { CameraBench } from '../../cameras';
import { MoveOrders } from '../move-orders';
import { Moves } from '../moves';

const GROUP_NAMES: Readonly<Record<CopyGroup, string>> = {
  place: 'place and rig',
  head: 'head and aim',
  lens: 'lens',
  focus: 'focus and f-stop',
  exposure: 'exposure and light',
  hand: 'hand',
};

/** The edited camera's move, or parts of it, for other cameras. */
@Component({
  selector: 'arvex-copy-move',
  imports: [MatIcon, Switch],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './copy-move.html',
  styles: `
    .ticks {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 14px;
      margin: 6px 0;
    }
  `,
})
export class CopyMove {
  private readonly bench = new CameraBench();
  private readonly moves = inject(Moves);
  protected readonly orders = inject(MoveOrders);
  protected readonly groups = (Object.keys(COPY_GROUPS) as CopyGroup[]).map((id) => ({ id, name: GROUP_NAMES[id] }));
  protected readonly copied = signal<ReadonlySet<CopyGroup>>(new Set<CopyGroup>(['place', 'head']));
  protected readonly how = signal<CopyHow>('relative');
  protected readonly to = signal<ReadonlySet<string>>(new Set());
  protected readonly others = computed(() => {
    const [project, camera] = [this.bench.store.project(), this.bench.camera()];
    return project ? camerasInOrder(project).filter(({ id }) => id !== camera?.id) : [];
  });

  protected toggle<T>(set: ReadonlySet<T>, one: T): ReadonlySet<T> {
    const next = new Set(set);
    if (!next.delete(one)) next.add(one);
    return next;
  }

  protected copy(): void {
    this.moves.edit((now, cameraId) => copyMove(now, cameraId, [...this.to()], [...this.copied()], this.how()));
  }
}
