import { ChangeDetectionStrategy, Component, computed, effect, inject, signal } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import { MatTooltip } from '@angular/material/tooltip';
import type { Edit, MoveOrder, NamedMove, Project } from '@arvex/core';
import {
  addNamedMove,
  addOrbit,
  EASING_DEFAULTS,
  endsBeside,
  flicksFromSeconds,
  lengthText,
  NAMED_MOVES,
} from '@arvex/core';
import { Playhead } from '../../../session';
import type { Choice } from '../../../ui';
import { Card, ChoiceField, LengthField, NumberField, PERCENT, Switch } from '../../../ui';
import { CameraBench, Subjects } from '../../cameras';
import { Moves } from '../moves';

/** Moves by name, and the orbit, which goes at an even speed. */
type Asked = NamedMove | 'orbit';
const FIRST_SECONDS = 3;
/** A miss smaller than this is not worth a word, metres. */
const TOLD_M = 0.01;

/** Asks for a move with the numbers a grip would use. Its ghost is drawn in plan and in the free view until it is made. */
@Component({
  selector: 'arvex-add-move-card',
  imports: [Switch, Card, ChoiceField, LengthField, MatIcon, MatTooltip, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './add-move-card.html',
})
export class AddMoveCard {
  protected readonly bench = new CameraBench();
  protected readonly moves = inject(Moves);
  private readonly seen = inject(Subjects);
  private readonly playhead = inject(Playhead);
  private readonly dialog = inject(MatDialog);

  protected readonly kinds: readonly Choice<Asked>[] = [
    ...(Object.keys(NAMED_MOVES) as NamedMove[]).map((id) => ({ id, name: NAMED_MOVES[id].name })),
    { id: 'orbit', name: 'Orbit' },
  ];
  protected readonly percent = PERCENT;
  protected readonly kind = signal<Asked>('push-in');
  protected readonly amount = signal<number>(NAMED_MOVES['push-in'].amount);
  protected readonly seconds = signal(FIRST_SECONDS);
  protected readonly easing = signal(EASING_DEFAULTS);
  protected readonly subjectId = signal('');
  /** Whether a zoom goes evenly as it looks, rather than in millimetres. */
  protected readonly inScale = signal(false);
  protected readonly loop = signal(true);
  protected readonly clockwise = signal(true);

  protected readonly subjects = computed(() => {
    return [{ id: '', name: 'what is in focus' }, ...this.seen.choices()];
  });
  protected readonly face = computed(() => {
    const kind = this.kind();
    return kind === 'orbit'
      ? { unit: '°', does: 'round the subject at an even speed, which stays where it is in the picture' }
      : NAMED_MOVES[kind];
  });
  protected readonly needsSubject = computed(() => ['dolly-zoom', 'arc', 'boom', 'orbit'].includes(this.kind()));
  protected readonly summary = computed(() =>
    this.bench.isOpen('add-move') ? '' : 'push in, arc, dolly zoom, orbit …',
  );

  /** Said where the rig cannot go where the move would. */
  protected readonly beside = computed(() => {
    const [project, camera, kind] = [this.moves.tried(), this.bench.camera(), this.kind()];
    if (!project || !camera || kind === 'orbit' || this.moves.refusal() || !this.bench.isOpen('add-move')) return '';
    const metres = endsBeside(project, camera.id, this.order(kind), this.moves.atFlicks());
    if (metres < TOLD_M) return '';
    return `On its ${camera.rig.kind} it ends ${lengthText(metres, this.bench.unit())} beside this move; on sticks it goes all the way.`;
  });

  constructor() {
    // While the card is open, what it asks for is seen as a ghost.
    effect((onCleanup) => {
      if (!this.bench.isOpen('add-move')) return;
      const ask = this.asking();
      this.moves.asked.set(ask);
      onCleanup(() => this.moves.asked.set(undefined));
    });
  }

  protected setKind(kind: Asked): void {
    this.kind.set(kind);
    this.amount.set(kind === 'orbit' ? 360 : NAMED_MOVES[kind].amount);
    this.seconds.set(kind === 'orbit' ? 12 : FIRST_SECONDS);
    // Whom this camera sees; what is in focus, where it sees nobody.
    if (this.needsSubject()) this.subjectId.set(this.seen.about()?.id ?? '');
  }

  private asking(): (project: Project, cameraId: string, atFlicks: number) => Edit {
    const kind = this.kind();
    if (kind === 'orbit') {
      const degrees = this.clockwise() ? this.amount() : -this.amount();
      const order = { subjectId: this.subjectId() || null, degrees, seconds: this.seconds(), loop: this.loop() };
      return (project, cameraId, at) => addOrbit(project, cameraId, order, at);
    }
    const order = this.order(kind);
    return (project, cameraId, at) => addNamedMove(project, cameraId, order, at);
  }

  private order(move: NamedMove): MoveOrder {
    const subjectId = this.subjectId() || null;
    return {
      ...this.easing(),
      move,
      amount: this.amount(),
      seconds: this.seconds(),
      subjectId,
      inScale: this.inScale(),
    };
  }

  protected setEasing(parts: Partial<typeof EASING_DEFAULTS>): void {
    this.easing.update((easing) => ({ ...easing, ...parts }));
  }

  /** Makes the move, and goes to its end, so that the next one begins there. */
  protected make(): void {
    const camera = this.bench.camera();
    const from = this.moves.atFlicks();
    if (!camera || !this.moves.begin(this.asking())) return;
    const settleS = this.kind() === 'orbit' ? 0 : this.easing().settleS;
    const to = from + flicksFromSeconds(this.seconds() + settleS);
    this.playhead.lookThrough(camera.id);
    this.playhead.goTo(to / this.moves.frameFlicks());
  }

  /** Opens the choice of views that one smooth move goes through. */
  protected async openViews(): Promise<void> {
    const { ThroughViewsDialog } = await import('../dialogs/through-views-dialog');
    this.dialog.open(ThroughViewsDialog, { width: '640px', maxWidth: '94vw' });
  }
}
