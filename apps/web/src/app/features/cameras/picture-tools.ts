import { inject, Injectable, signal } from '@angular/core';
import type { Vector } from '@arvex/core';
import type { HeldSharp } from '@arvex/core';
import { distanceAlongAxis, holdSharpMarked, lengthText, setCamera } from '@arvex/core';
import type { Display, Picked } from '@arvex/stage';
import { Notices, ProjectStore, remembered } from '../../data';
import { Viewpoint } from '../../session';
import { Focus } from './focus';
import { Meter } from './meter';
import * as z from 'zod';

/** What a click on the picture does in the Cameras and Moves steps. */
export type PictureTool = 'focus' | 'meter' | 'hold' | 'aim' | 'point';

const displaySchema = z.enum(['picture', 'stops', 'zebra']);

/** Tools of the picture, and how it is shown. */
@Injectable({ providedIn: 'root' })
export class PictureTools {
  private readonly store = inject(ProjectStore);
  private readonly viewpoint = inject(Viewpoint);
  private readonly focus = inject(Focus);
  private readonly meter = inject(Meter);
  private readonly notices = inject(Notices);

  readonly tool = signal<PictureTool>('focus');
  /** The first of two points that are to be held sharp. */
  readonly heldFirst = signal<Vector | undefined>(undefined);
  readonly displayKind = remembered('display', displaySchema, 'picture');
  /** Picture value from which zebra stripes are drawn; 1 clips. */
  readonly zebraLevel = remembered('zebra-level', z.number().min(0.2).max(1), 1);
  /** Whether what is sharp is marked. */
  readonly marksSharp = signal(false);
  /** The light group that is seen alone; all light without one. */
  readonly soloGroup = signal<string | undefined>(undefined);
  readonly depthOfField = remembered('depth-of-field', z.boolean(), true);
  readonly motionBlur = remembered('motion-blur', z.boolean(), true);
  /** Whether the picture is made finer for as long as nothing changes: where software draws, that takes all there is of the machine. */
  readonly fineAtRest = remembered('fine-at-rest', z.boolean(), true);

  display(): Display {
    const kind = this.displayKind();
    return kind === 'zebra' ? { kind, level: this.zebraLevel() } : { kind };
  }

  /** What is asked to be pointed at, in picture or plan, and who wants to know. */
  readonly pointing = signal<{ readonly prompt: string; readonly take: (pointM: Vector) => void } | undefined>(
    undefined,
  );

  /** Asks for a point of the set: the next click in picture or plan gives it. */
  point(prompt: string, take: (pointM: Vector) => void): void {
    this.pointing.set({ prompt, take });
    this.tool.set('point');
  }

  /** A point was pointed at, or nobody wants to point any more. */
  pointed(pointM: Vector | undefined): void {
    const asked = this.pointing();
    this.pointing.set(undefined);
    this.tool.set('focus');
    if (pointM) asked?.take(pointM);
  }

  use(tool: PictureTool): void {
    this.pointing.set(undefined);
    this.heldFirst.set(undefined);
    this.tool.update((now) => (now === tool && tool !== 'focus' ? 'focus' : tool));
  }

  /** A click at a place of the frame (0…1), with what lies there. */
  click(picked: Picked | undefined, at: readonly [number, number]): void {
    const state = this.viewpoint.throughState();
    if (!state) return;
    if (this.tool() === 'meter') {
      this.meter.spotAt(at);
      return;
    }
    if (!picked) {
      this.notices.done('There is only sky. Click something that stands in the set.');
      return;
    }
    if (this.tool() === 'hold') this.hold(picked.pointM);
    else if (this.tool() === 'aim') this.aimAt(picked.pointM);
    else if (this.tool() === 'point') this.pointed(picked.pointM);
    else this.focusOn(picked);
  }

  /** Focuses the edited camera, by its own distance: it may be another one than is looked through. */
  private focusOn({ pointM, placementId }: Picked): void {
    const [state, camera] = [this.viewpoint.state(), this.viewpoint.camera()];
    if (!state || !camera) return;
    const distanceM = distanceAlongAxis(state, pointM);
    if (distanceM > 0) this.focus.at(distanceM, placementId);
    else this.notices.done(`That lies behind ${camera.name}. Click something that it sees.`);
  }

  private aimAt([x, y, z]: Vector): void {
    const [project, camera] = [this.store.project(), this.viewpoint.camera()];
    if (!project || !camera) return;
    this.store.commit(
      setCamera(project, camera.id, 'Aim at a point', { aim: { kind: 'point', positionM: [x, y, z] } }),
    );
    this.tool.set('focus');
  }

  /** Two picks give the focus distance and the f-stop that hold both sharp. */
  private hold(point: Vector): void {
    const first = this.heldFirst();
    const state = this.viewpoint.state();
    if (!first || !state) {
      this.heldFirst.set(point);
      return;
    }
    this.use('focus');
    const distances = [first, point].map((one) => distanceAlongAxis(state, one) * 1000).sort((a, b) => a - b);
    this.holdBetween((distances[0] ?? 1000) / 1000, (distances[1] ?? 1000) / 1000);
  }

  /** Focus and the marked f-stop that hold everything from `nearM` to `farM` sharp with the edited camera's lens. */
  solve(nearM: number, farM: number): (HeldSharp & { focusM: number }) | undefined {
    const state = this.viewpoint.state();
    if (!state || !(nearM * 1000 > state.lens.focalLengthMm) || farM <= nearM) return undefined;
    const { lens, focus } = state;
    const widest = lens.kitLens?.widestStop ?? 1;
    const held = holdSharpMarked(lens.focalLengthMm, nearM * 1000, farM * 1000, focus.blurLimitMm, widest);
    return { ...held, focusM: held.focusMm / 1000 };
  }

  /** Holds everything from `nearM` to `farM` sharp; says what that does to exposure. */
  holdBetween(nearM: number, farM: number): void {
    const unit = this.store.project()?.head.displayUnit ?? 'm';
    const solved = this.solve(nearM, farM);
    if (!solved) {
      this.notices.done('Both lie at the same distance: focusing there holds them.');
      if (nearM > 0) this.focus.at(nearM);
      return;
    }
    const said = this.focus.hold(solved.focusM, solved.fStop);
    const [near, far] = [lengthText(nearM, unit), lengthText(farM, unit)];
    const where = `ƒ${solved.fStop} at ${lengthText(solved.focusM, unit)}`;
    const [from, to] = [lengthText(solved.nearMm / 1000, unit), lengthText(solved.farMm / 1000, unit)];
    this.notices.done(
      solved.holds
        ? `${where} holds ${near} to ${far}. ${said}`
        : `No stop of this lens holds ${near} to ${far}: ${where} holds ${from} to ${to}. ${said}`,
    );
  }
}
