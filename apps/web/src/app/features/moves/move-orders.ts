import { computed, inject, Injectable, signal } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import type { Edit, MoveOrder, NamedMove, Project, Vector } from '@arvex/core';
import {
  addNamedMove,
  addOrbit,
  ahead,
  EASING_DEFAULTS,
  flicksFromSeconds,
  NAMED_MOVES,
  subjectPointAt,
} from '@arvex/core';
import { ProjectStore } from '../../data';
import { Playhead, Viewpoint } from '../../session';
import { PictureTools, Subjects } from '../cameras';
import { Moves } from './moves';

/** Moves by name, and the orbit, which goes at an even speed. */
export type Asked = NamedMove | 'orbit';

/** What a move goes round that is no thing: the point in focus, or one that was pointed at. */
export const IN_FOCUS = '';
export const POINTED = 'pointed';

const FIRST_SECONDS = 3;
const FIRST_ORBIT_S = 12;
const WITH_MIDDLE: ReadonlySet<Asked> = new Set<Asked>(['dolly-zoom', 'arc', 'boom', 'orbit']);
const ROUND: ReadonlySet<Asked> = new Set<Asked>(['arc', 'orbit']);

/** The move that is asked for next, with the numbers a grip would use. */
@Injectable({ providedIn: 'root' })
export class MoveOrders {
  /** Whether the part of Timing that copies the move to other cameras is open. */
  readonly copying = signal(false);
  private readonly store = inject(ProjectStore);
  private readonly viewpoint = inject(Viewpoint);
  private readonly playhead = inject(Playhead);
  private readonly moves = inject(Moves);
  private readonly subjects = inject(Subjects);
  private readonly tools = inject(PictureTools);
  private readonly dialog = inject(MatDialog);

  readonly kind = signal<Asked>('push-in');
  readonly amount = signal<number>(NAMED_MOVES['push-in'].amount);
  readonly seconds = signal(FIRST_SECONDS);
  readonly easing = signal(EASING_DEFAULTS);
  /** A thing by its id, {@link IN_FOCUS} or {@link POINTED}. */
  readonly middle = signal(IN_FOCUS);
  readonly pointM = signal<Vector | undefined>(undefined);
  /** Whether what is gone round stays in the middle of the picture, or where it is seen. */
  readonly centred = signal(true);
  /** Whether a zoom goes evenly as it looks, rather than in millimetres. */
  readonly inScale = signal(false);
  readonly loop = signal(true);
  readonly clockwise = signal(true);

  readonly needsMiddle = computed(() => WITH_MIDDLE.has(this.kind()));
  readonly goesRound = computed(() => ROUND.has(this.kind()));
  /** Where the middle is now. */
  readonly middleM = computed<Vector | undefined>(() => {
    const [project, state, id] = [this.store.project(), this.viewpoint.state(), this.middle()];
    if (!project || !state) return undefined;
    const thing = project.placements[id];
    if (thing) return subjectPointAt(project, thing, 'eyes', this.moves.atFlicks());
    return (id === POINTED ? this.pointM() : undefined) ?? ahead(state);
  });

  /** Asks for a move of this kind, with its usual numbers, about whom the camera sees. */
  setKind(kind: Asked): void {
    this.kind.set(kind);
    this.amount.set(kind === 'orbit' ? 360 : NAMED_MOVES[kind].amount);
    this.seconds.set(kind === 'orbit' ? FIRST_ORBIT_S : FIRST_SECONDS);
    this.centred.set(kind === 'orbit');
    if (this.needsMiddle()) this.middle.set(this.subjects.about()?.id ?? IN_FOCUS);
  }

  /** A thing, what is in focus, or a point that is pointed at next. */
  setMiddle(id: string): void {
    if (id !== POINTED) {
      this.middle.set(id);
      return;
    }
    this.tools.point('Click the point that the camera is to go round', (pointM) => this.pointAt(pointM));
  }

  pointAt(pointM: Vector): void {
    this.pointM.set(pointM);
    this.middle.set(POINTED);
  }

  /** What is asked for, as an edit. */
  edit(): (project: Project, cameraId: string, atFlicks: number) => Edit {
    const kind = this.kind();
    if (kind === 'orbit') {
      const degrees = this.clockwise() ? this.amount() : -this.amount();
      const order = { ...this.about(), degrees, seconds: this.seconds(), loop: this.loop() };
      return (project, cameraId, at) => addOrbit(project, cameraId, order, at);
    }
    const order = this.order(kind);
    return (project, cameraId, at) => addNamedMove(project, cameraId, order, at);
  }

  order(move: NamedMove): MoveOrder {
    const [amount, seconds] = [this.amount(), this.seconds()];
    return { ...this.easing(), ...this.about(), move, amount, seconds, inScale: this.inScale() };
  }

  private about() {
    const [id, pointM] = [this.middle(), this.pointM()];
    const isThing = id !== IN_FOCUS && id !== POINTED;
    return {
      subjectId: isThing ? id : null,
      ...(id === POINTED && pointM && { pointM }),
      centred: this.centred(),
    };
  }

  /** Makes the move where the camera is seen, and goes to its end, so that the next one begins there. */
  make(): void {
    const camera = this.moves.camera();
    const from = this.moves.atFlicks();
    if (!camera || !this.moves.begin(this.edit())) return;
    const settleS = this.kind() === 'orbit' ? 0 : this.easing().settleS;
    const to = from + flicksFromSeconds(this.seconds() + settleS);
    this.playhead.lookThrough(camera.id);
    this.playhead.goTo(to / this.moves.frameFlicks());
  }

  /** Opens the choice of views that one smooth move goes through. */
  openViews(): void {
    void import('./dialogs/through-views-dialog').then(({ ThroughViewsDialog }) =>
      this.dialog.open(ThroughViewsDialog, { width: '640px', maxWidth: '94vw' }),
    );
  }
}
