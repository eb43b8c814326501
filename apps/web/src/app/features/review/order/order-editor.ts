import { computed, inject } from '@angular/core';
import type { RenderOrder } from '@arvex/core';
import { ProjectStore } from '../../../data';
import { OrderDesk } from '../order-desk';

/** What the editors of an order's words share. */
export class OrderEditor {
  protected readonly desk = inject(OrderDesk);
  protected readonly store = inject(ProjectStore);
  /** The order that is edited; editors are shown only where there is one. */
  protected readonly order = computed(() => this.desk.order() as RenderOrder);

  protected set(change: Partial<RenderOrder>): void {
    this.desk.set(change);
  }
}
