import { Directive, ElementRef, inject, input, output } from '@angular/core';
import type { Pose, Vector } from '@arvex/core';
import { approach, sightThrough, slide, turnAbout } from '@arvex/core';
import type { Picked, StageView } from '@arvex/stage';
import { StageHost } from '../../drawing';
import type { Drag } from '../../ui';
import { followDrag } from '../../ui';

/** Degrees turned for each pixel dragged. */
const TURN_DEG_PER_PX = 0.28;
/** Distance taken for the point under the pointer where there is nothing, metres. */
const INTO_THE_SKY_M = 15;
/** Share of the distance left after one notch of the wheel (100 px). */
const WHEEL_STEP = 0.85;
const WHEEL_END_MS = 250;
/** A press that moves less than this is a click, pixels. */
const STILL_PX = 4;

/** Looking about with the pointer: drag turns about the point under it, Shift-drag slides, the wheel goes toward it. */
@Directive({
  selector: '[arvexLookAbout]',
  host: {
    '(pointerdown)': 'begin($event)',
    '(wheel)': 'wheel($event)',
    '[style.touch-action]': '"none"',
  },
})
export class LookAbout {
  private readonly host = inject(StageHost);
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;

  /** Whether it works at the moment. */
  readonly arvexLookAbout = input.required<boolean>();
  /** The eye stays where it is, as a walker's does: a drag turns the head, nothing slides or comes nearer. */
  readonly standing = input(false);
  /** What is shown, and the pose it is shown from. */
  readonly view = input.required<() => { view: StageView; pose: Pose } | undefined>();
  /** A new pose while it goes on. */
  readonly looked = output<Pose>();
  /** The last pose, when it is over; nothing when it was given up. */
  readonly lookEnd = output<Pose | undefined>();
  /** A press that did not move: where it was, as share of the element, with what lies there. */
  readonly pressed = output<{ event: PointerEvent; picked: Picked | undefined }>();

  private wheelPose: Pose | undefined;
  private wheelTarget: Vector | undefined;
  private wheelEnd: ReturnType<typeof setTimeout> | undefined;

  protected begin(event: PointerEvent): void {
    const shown = this.view()();
    if (!shown || event.button !== 0) return;
    event.preventDefault();
    const under = this.pickedAt(event, shown.view);
    const target = this.standing()
      ? Promise.resolve(shown.pose.positionM)
      : under.then((picked) => picked?.pointM ?? this.intoTheSky(event, shown.view));
    let known: Vector | undefined;
    let [last, far, over] = [undefined as Drag | undefined, false, false];
    const poseFor = (about: Vector, { dx, dy, event: { shiftKey } }: Drag): Pose =>
      (shiftKey || event.shiftKey) && !this.standing()
        ? this.slid(shown.pose, shown.view, about, dx, dy)
        : this.turnedBy(shown.pose, about, dx, dy);
    // What lies under the pointer may be told later than the drag begins: it then goes on from where the pointer is.
    const follow = () => {
      if (known && last && far && !over && this.arvexLookAbout()) this.looked.emit(poseFor(known, last));
    };
    void target.then((point) => {
      known = point;
      follow();
    });
    followDrag(
      event,
      (drag) => {
        last = drag;
        far ||= Math.hypot(drag.dx, drag.dy) > STILL_PX;
        follow();
      },
      (kept, released) => {
        over = true;
        if (released && !far) void under.then((picked) => this.pressed.emit({ event, picked }));
        const moved = kept && far ? last : undefined;
        if (!this.arvexLookAbout()) return;
        if (moved) void target.then((point) => this.lookEnd.emit(poseFor(point, moved)));
        else this.lookEnd.emit(undefined);
      },
    );
  }

  private turnedBy(pose: Pose, pivot: Vector, dx: number, dy: number): Pose {
    return turnAbout(pose, pivot, dx * TURN_DEG_PER_PX, -dy * TURN_DEG_PER_PX);
  }

  /** Slides so that the point that was under the pointer stays under it. */
  private slid(pose: Pose, { lens, window }: StageView, target: Vector, dx: number, dy: number): Pose {
    const [x, y, z] = pose.positionM;
    const distance = Math.hypot(target[0] - x, target[1] - y, target[2] - z);
    const metresPerPixel =
      ((window.rightMm - window.leftMm) / lens.focalLengthMm / this.element.clientWidth) * distance;
    return slide(pose, -dx * metresPerPixel, dy * metresPerPixel);
  }

  protected wheel(event: WheelEvent): void {
    if (!this.arvexLookAbout()) return;
    event.preventDefault();
    if (!this.standing()) void this.approachBy(event);
  }

  private async approachBy(event: WheelEvent): Promise<void> {
    const shown = this.view()();
    if (!shown) return;
    this.wheelTarget ??= await this.underPointer(event, shown.view);
    this.wheelPose = approach(this.wheelPose ?? shown.pose, this.wheelTarget, WHEEL_STEP ** (-event.deltaY / 100));
    this.looked.emit(this.wheelPose);
    clearTimeout(this.wheelEnd);
    this.wheelEnd = setTimeout(() => {
      this.lookEnd.emit(this.wheelPose);
      this.wheelPose = undefined;
      this.wheelTarget = undefined;
    }, WHEEL_END_MS);
  }

  /** The point of the set under the pointer, or one on its ray where there is none. */
  private async underPointer(event: MouseEvent, view: StageView): Promise<Vector> {
    return (await this.pickedAt(event, view))?.pointM ?? this.intoTheSky(event, view);
  }

  private pickedAt(event: MouseEvent, view: StageView): Promise<Picked | undefined> {
    const { x, y } = this.place(event);
    return this.host.pick(view, x, y);
  }

  private intoTheSky(event: MouseEvent, view: StageView): Vector {
    const { x, y } = this.place(event);
    const { fromM, direction } = sightThrough(x, y, view.pose, view.lens, view.window);
    const [dx, dy, dz] = direction;
    const [px, py, pz] = fromM;
    return [px + dx * INTO_THE_SKY_M, py + dy * INTO_THE_SKY_M, pz + dz * INTO_THE_SKY_M];
  }

  private place({ clientX, clientY }: MouseEvent): { x: number; y: number } {
    const box = this.element.getBoundingClientRect();
    return { x: (clientX - box.left) / box.width, y: (clientY - box.top) / box.height };
  }
}
