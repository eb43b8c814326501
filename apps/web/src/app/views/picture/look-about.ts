import { Directive, ElementRef, inject, input, output } from '@angular/core';
import type { Pose, Vector } from '@arvex/core';
import { approach, distanceBetween, eachAxis, sightThrough, slide, turnAbout } from '@arvex/core';
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
/** An operator's wheel is finer, and one turn of it at most this many notches. */
const OPERATOR_STEP = 0.9;
const MOST_NOTCHES = 3;
/** What lies farther than this is turned about and approached as if it lay there, metres: nobody is flung across the set. */
const MOST_AWAY_M = 40;
const WHEEL_END_MS = 250;
/** What of a view lies over its picture. */
const LIES_OVER = 'button, input, a, .plate, [role="slider"], [role="menu"]';
/** A press that moves less than this is a click, pixels. */
const STILL_PX = 4;

/** What an operator's gestures go by: the point that Ctrl goes round, the one ahead that the wheel approaches, and its distance. */
export interface Operated {
  readonly pointM: Vector;
  readonly axisM: Vector;
  readonly distanceM: number;
}

/**
 * Looking about with the pointer. In a free look a drag turns about the point under it, Shift slides, the wheel goes toward it. An
 * operator's drag pans and tilts on the spot, Shift slides, Ctrl goes round the subject, and the wheel comes nearer to it.
 */
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
  /** Given, gestures are an operator's. */
  readonly operated = input<Operated>();
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
    // What lies over the picture (a label, a button, a read-out) has its presses to itself.
    if (!shown || event.button !== 0 || (event.target as Element).closest(LIES_OVER)) return;
    event.preventDefault();
    const under = this.pickedAt(event, shown.view);
    const operated = this.operated();
    const rests = operated?.pointM ?? (this.standing() ? shown.pose.positionM : undefined);
    const target = rests
      ? Promise.resolve(rests)
      : under.then((picked) => this.within(shown.pose, picked?.pointM ?? this.intoTheSky(event, shown.view)));
    let known: Vector | undefined = rests;
    let [last, far, over] = [undefined as Drag | undefined, false, false];
    const poseFor = (about: Vector, drag: Drag): Pose => {
      const { dx, dy } = drag;
      const held = (key: 'shiftKey' | 'ctrlKey' | 'metaKey') => drag.event[key] || event[key];
      if (held('shiftKey') && !this.standing()) {
        return this.slid(
          shown.pose,
          shown.view,
          operated?.distanceM ?? distanceBetween(shown.pose.positionM, about),
          drag,
        );
      }
      if (!operated) return turnAbout(shown.pose, about, dx * TURN_DEG_PER_PX, -dy * TURN_DEG_PER_PX);
      if (held('ctrlKey') || held('metaKey')) {
        return turnAbout(shown.pose, about, dx * TURN_DEG_PER_PX, -dy * TURN_DEG_PER_PX);
      }
      // Across the picture is what the picture is wide: a long lens is turned as finely as it sees.
      const degreesPerPixel = (this.sizeOfPixel(shown.view) * 180) / Math.PI;
      return turnAbout(shown.pose, shown.pose.positionM, dx * degreesPerPixel, -dy * degreesPerPixel);
    };
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

  /** Slides so that what is as far as the subject moves as the pointer does. */
  private slid(pose: Pose, view: StageView, distanceM: number, { dx, dy }: Drag): Pose {
    const metresPerPixel = this.sizeOfPixel(view) * distanceM;
    return slide(pose, -dx * metresPerPixel, dy * metresPerPixel);
  }

  /** What a pixel in the middle of the picture is wide, over its distance: radians. */
  private sizeOfPixel({ lens, window }: StageView): number {
    return (window.rightMm - window.leftMm) / lens.focalLengthMm / this.element.clientWidth;
  }

  /** A point no farther than gestures reach. */
  private within({ positionM }: Pose, pointM: Vector): Vector {
    const share = Math.min(1, MOST_AWAY_M / Math.max(1e-9, distanceBetween(positionM, pointM)));
    return eachAxis((axis) => positionM[axis] + (pointM[axis] - positionM[axis]) * share);
  }

  protected wheel(event: WheelEvent): void {
    if (!this.arvexLookAbout()) return;
    event.preventDefault();
    if (!this.standing()) void this.approachBy(event);
  }

  private async approachBy(event: WheelEvent): Promise<void> {
    const shown = this.view()();
    if (!shown) return;
    const operated = this.operated();
    const from = this.wheelPose ?? shown.pose;
    const notches = Math.max(-MOST_NOTCHES, Math.min(MOST_NOTCHES, -event.deltaY / 100));
    if (operated) this.wheelPose = approach(from, operated.axisM, OPERATOR_STEP ** notches);
    else {
      this.wheelTarget ??= this.within(shown.pose, await this.underPointer(event, shown.view));
      this.wheelPose = approach(this.wheelPose ?? shown.pose, this.wheelTarget, WHEEL_STEP ** notches);
    }
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
