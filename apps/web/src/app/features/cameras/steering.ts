import { computed, inject, Injectable, signal } from '@angular/core';
import type { CameraState, DisplayUnit, Pose, Vector } from '@arvex/core';
import {
  ahead,
  approach,
  chosenSubject,
  difference,
  distanceAlongAxis,
  inverseRotation,
  lengthText,
  poseOf,
  rotationOf,
  slide,
  subjectPointAt,
  turnAbout,
  turned,
  worldValues,
} from '@arvex/core';
import { ProjectStore } from '../../data';
import { Playhead, Setting, Tried, Viewpoint } from '../../session';
import { signedDegrees } from '../../ui';

/** Share of the distance to the subject that one step brings the camera nearer, and that one key slides it. */
const STEP = 0.1;
const SLIDE = 0.03;
/** Degrees that one key turns. */
const TURN_DEG = 1;
/** The last of several steps is kept once this much time has gone by, ms. */
const REST_MS = 450;
/** Turns and ways smaller than this are not worth a word. */
const TOLD_DEG = 0.05;
const TOLD_M = 0.005;

/** Steering the camera looked through as an operator does: by the pointer, by the wheel, and by keys. */
@Injectable({ providedIn: 'root' })
export class Steering {
  private readonly store = inject(ProjectStore);
  private readonly viewpoint = inject(Viewpoint);
  private readonly playhead = inject(Playhead);
  private readonly setting = inject(Setting);

  private readonly trying = inject(Tried).as('steering');

  readonly on = this.viewpoint.steering;
  /** Where the camera was when the present gesture began. */
  private readonly from = signal<{ readonly cameraId: string; readonly pose: Pose } | undefined>(undefined);
  /** What the last gesture did, in words; it stays until the next one. */
  readonly did = computed(() => {
    const [from, state] = [this.from(), this.viewpoint.throughState()];
    const unit = this.store.project()?.head.displayUnit ?? 'm';
    return state && from?.cameraId === state.cameraId ? changeText(from.pose, poseOf(state), unit) : '';
  });
  /** Whom it goes round and comes nearer to: whom the camera is about, else what is in focus. */
  readonly subject = computed(() => {
    const [project, state] = [this.store.project(), this.viewpoint.placedThroughState()];
    if (!project || !state) return undefined;
    const subject = chosenSubject(project, state, this.atFlicks());
    const eyesM = subject && subjectPointAt(project, subject.placement, 'eyes', this.atFlicks());
    return aboutOf(state, subject, eyesM);
  });
  private ending: ReturnType<typeof setTimeout> | undefined;

  private atFlicks(): number {
    return this.playhead.seen()?.sceneFlicks ?? 0;
  }

  /** Shows a pose while a gesture goes on. */
  show(pose: Pose): void {
    const state = this.viewpoint.throughState();
    if (!state) return;
    const { cameraId } = state;
    if (!this.trying.shown()) this.from.set({ cameraId, pose: poseOf(state) });
    this.trying.show({ cameraId, values: this.setting.ownValues(cameraId, worldValues(pose)) });
  }

  /** Ends a gesture: keeps its last pose, or gives it up. */
  end(pose: Pose | undefined): void {
    clearTimeout(this.ending);
    this.ending = undefined;
    const cameraId = this.trying.end()?.cameraId;
    if (!pose || cameraId === undefined) this.from.set(undefined);
    else this.setting.setPose(cameraId, 'Steer', pose);
  }

  /** Pans and tilts on the spot, steps to the right and up. */
  turn(right: number, up: number): void {
    this.step(({ pose }) => turnAbout(pose, pose.positionM, right * TURN_DEG, up * TURN_DEG));
  }

  /** Goes round the subject, which stays where it is in the picture. */
  goRound(right: number, up: number): void {
    this.step(({ pose, pointM }) => turnAbout(pose, pointM, right * TURN_DEG, up * TURN_DEG));
  }

  /** Slides by shares of the distance to the subject. */
  slide(right: number, up: number): void {
    this.step(({ pose, distanceM }) => slide(pose, right * SLIDE * distanceM, up * SLIDE * distanceM));
  }

  /** Comes nearer along the axis by shares of the distance to the subject; negative steps go away from it. */
  nearer(steps: number): void {
    this.step(({ pose, axisM }) => approach(pose, axisM, (1 - STEP) ** steps));
  }

  private step(pose: (from: { pose: Pose; pointM: Vector; axisM: Vector; distanceM: number }) => Pose): void {
    const [state, subject] = [this.viewpoint.throughState(), this.subject()];
    if (!state || !subject) return;
    this.playhead.stop();
    const next = pose({ pose: poseOf(state), ...subject });
    this.show(next);
    clearTimeout(this.ending);
    this.ending = setTimeout(() => this.end(next), REST_MS);
  }
}

/** The point that steering goes about, the one on the camera's axis beside it, and how far they are. */
function aboutOf(state: CameraState, subject: ReturnType<typeof chosenSubject>, eyesM: Vector | undefined) {
  const atFocus = ahead(state);
  const distanceM = subject?.distanceM ?? Math.max(0.1, distanceAlongAxis(state, atFocus));
  const forward = turned([0, 0, -distanceM], state.quaternion);
  const [x, y, z] = state.positionM;
  const axisM: Vector = [x + forward[0], y + forward[1], z + forward[2]];
  return { pointM: eyesM ?? axisM, axisM, distanceM, name: subject?.placement.name ?? 'what is in focus' };
}

/** What lies between two poses, as an operator says it; nothing where they are alike. */
function changeText(from: Pose, to: Pose, unit: DisplayUnit): string {
  const turns = [
    ['pan', to.panDeg - from.panDeg],
    ['tilt', to.tiltDeg - from.tiltDeg],
  ] as const;
  const [right, up, back] = turned(difference(to.positionM, from.positionM), inverseRotation(rotationOf(from)));
  const ways = [
    [right, 'right', 'left'],
    [up, 'up', 'down'],
    [-back, 'nearer', 'away'],
  ] as const;
  return [
    ...turns.filter(([, deg]) => Math.abs(deg) >= TOLD_DEG).map(([name, deg]) => `${name} ${signedDegrees(deg)}`),
    ...ways
      .filter(([metres]) => Math.abs(metres) >= TOLD_M)
      .map(([metres, ahead, behind]) => `${lengthText(Math.abs(metres), unit)} ${metres > 0 ? ahead : behind}`),
  ].join(' · ');
}
