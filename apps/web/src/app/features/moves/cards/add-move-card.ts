import { ChangeDetectionStrategy, Component, computed, effect, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatTooltip } from '@angular/material/tooltip';
import type { EASING_DEFAULTS, NamedMove } from '@arvex/core';
import { endsBeside, lengthText, NAMED_MOVES, withAxis } from '@arvex/core';
import type { Choice } from '../../../ui';
import { Card, ChoiceField, DurationField, LengthField, NumberField, PERCENT, Switch, VectorRow } from '../../../ui';
import { CameraBench, Things } from '../../cameras';
import type { Asked } from '../move-orders';
import { IN_FOCUS, MoveOrders, POINTED } from '../move-orders';
import { Moves } from '../moves';

/** A miss smaller than this is not worth a word, metres. */
const TOLD_M = 0.01;

/** Asks for a move with the numbers a grip would use. Its ghost is drawn in plan and in the free view until it is made. */
@Component({
  selector: 'arvex-add-move-card',
  imports: [DurationField, VectorRow, Switch, Card, ChoiceField, LengthField, MatIcon, MatTooltip, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './add-move-card.html',
})
export class AddMoveCard {
  protected readonly bench = new CameraBench();
  protected readonly moves = inject(Moves);
  protected readonly orders = inject(MoveOrders);
  private readonly things = inject(Things);

  protected readonly kinds: readonly Choice<Asked>[] = [
    ...(Object.keys(NAMED_MOVES) as NamedMove[]).map((id) => ({ id, name: NAMED_MOVES[id].name })),
    { id: 'orbit', name: 'Orbit' },
  ];
  protected readonly percent = PERCENT;
  protected readonly kind = this.orders.kind;

  protected readonly middles = computed(() => [
    { id: IN_FOCUS, name: 'what is in focus' },
    { id: POINTED, name: 'a point I click …' },
    ...this.things.choices(),
  ]);
  protected readonly face = computed(() => {
    const kind = this.kind();
    return kind === 'orbit'
      ? { unit: '°', does: 'round the subject at an even speed, which stays where it is in the picture' }
      : NAMED_MOVES[kind];
  });
  protected readonly summary = computed(() =>
    this.bench.isOpen('add-move') ? '' : 'push in, arc, dolly zoom, orbit …',
  );

  /** Said where the rig cannot go where the move would. */
  protected readonly beside = computed(() => {
    const [project, camera, kind] = [this.moves.tried(), this.bench.camera(), this.kind()];
    if (!project || !camera || kind === 'orbit' || this.moves.refusal() || !this.bench.isOpen('add-move')) return '';
    const metres = endsBeside(project, camera.id, this.orders.order(kind), this.moves.atFlicks());
    if (metres < TOLD_M) return '';
    return `On its ${camera.rig.kind} it ends ${lengthText(metres, this.bench.unit())} beside this move; on sticks it goes all the way.`;
  });

  constructor() {
    // While the card is open, what it asks for is seen as a ghost.
    effect((onCleanup) => {
      if (!this.bench.isOpen('add-move')) return;
      const ask = this.orders.edit();
      this.moves.asked.set(ask);
      onCleanup(() => this.moves.asked.set(undefined));
    });
  }

  /** The point that is gone round, set in numbers. */
  protected setMiddle(axis: number, value: number): void {
    const middleM = this.orders.middleM();
    if (middleM) this.orders.pointAt(withAxis(middleM, axis, value));
  }

  protected setEasing(parts: Partial<typeof EASING_DEFAULTS>): void {
    this.orders.easing.update((easing) => ({ ...easing, ...parts }));
  }
}
