import { effect, inject, Injectable, signal, untracked } from '@angular/core';
import type { Pose, Vector } from '@arvex/core';
import { StageHost } from '../../drawing';
import { FreeCamera } from '../../session';

/** Eyes of somebody who walks about, metres above the ground. */
const EYE_HEIGHT_M = 1.62;
const WALK_MPS = 1.8;
const RUN_FACTOR = 3;
const TURN_DEG_PER_S = 70;
/** Walls stop whoever comes nearer than this, metres; steps up to this height are climbed. */
const SHOULDER_M = 0.35;
const CLIMB_M = 0.6;
const SEARCH_M = 500;
const LONGEST_STEP_S = 0.25;

/** Keys that walk. None of them does anything else anywhere in Arvex. */
const WALK_KEYS = { w: 'forward', x: 'back', a: 'left', d: 'right', q: 'turnLeft', e: 'turnRight' } as const;
type WalkKey = (typeof WALK_KEYS)[keyof typeof WALK_KEYS];

/** Walking through the set at eye height: over ground and steps, not through walls. */
@Injectable({ providedIn: 'root' })
export class Walk {
  private readonly freeCamera = inject(FreeCamera);
  private readonly host = inject(StageHost);
  private readonly held = new Set<WalkKey>();
  private running = false;

  readonly on = signal(false);
  /** Whether steps are being made just now, so that the picture is drawn quickly. */
  readonly stepping = signal(false);

  constructor() {
    effect(() => {
      if (this.on()) untracked(() => void this.standUp());
      else this.held.clear();
    });
  }

  /** @returns whether the key walks. */
  press(event: KeyboardEvent, down: boolean): boolean {
    const key = WALK_KEYS[event.key.toLowerCase() as keyof typeof WALK_KEYS];
    if (!this.on() || key === undefined || event.ctrlKey || event.metaKey || event.altKey) return false;
    if (down) this.held.add(key);
    else this.held.delete(key);
    if (down && !this.running) void this.walk(() => event.shiftKey);
    return true;
  }

  private async standUp(): Promise<void> {
    const pose = this.freeCamera.pose();
    const [x, y, z] = pose.positionM;
    this.freeCamera.pose.set({
      ...pose,
      positionM: [x, await this.eyesOver([x, y, z], EYE_HEIGHT_M), z], // where nothing lies, on the plan's own ground
      tiltDeg: 0,
      rollDeg: 0,
    });
  }

  private async eyesOver([x, y, z]: Vector, otherwise: number): Promise<number> {
    const ground = await this.host.cast([x, y - EYE_HEIGHT_M + CLIMB_M, z], [0, -1, 0], SEARCH_M);
    return ground ? ground.pointM[1] + EYE_HEIGHT_M : otherwise;
  }

  private async walk(fast: () => boolean): Promise<void> {
    this.running = true;
    this.stepping.set(true);
    let before = performance.now();
    while (this.held.size > 0 && this.on()) {
      const now = await new Promise<number>((resolve) => requestAnimationFrame(resolve));
      await this.step(Math.min(LONGEST_STEP_S, Math.max(0, now - before) / 1000), fast());
      before = now;
    }
    this.running = false;
    this.stepping.set(false);
  }

  private async step(seconds: number, fast: boolean): Promise<void> {
    const pose = this.freeCamera.pose();
    const turn = (Number(this.held.has('turnRight')) - Number(this.held.has('turnLeft'))) * TURN_DEG_PER_S * seconds;
    const ahead = Number(this.held.has('forward')) - Number(this.held.has('back'));
    const aside = Number(this.held.has('right')) - Number(this.held.has('left'));
    const turned: Pose = { ...pose, panDeg: pose.panDeg + turn };
    if (ahead === 0 && aside === 0) {
      this.freeCamera.pose.set(turned);
      return;
    }
    const pan = (turned.panDeg * Math.PI) / 180;
    const [dx, dz] = [Math.sin(pan) * ahead + Math.cos(pan) * aside, -Math.cos(pan) * ahead + Math.sin(pan) * aside];
    const size = Math.hypot(dx, dz);
    const length = WALK_MPS * (fast ? RUN_FACTOR : 1) * seconds;
    const direction: Vector = [dx / size, 0, dz / size];
    const [x, y, z] = pose.positionM;
    const knees: Vector = [x, y - EYE_HEIGHT_M + CLIMB_M + 0.05, z];
    const wall = await this.host.cast(knees, direction, length + SHOULDER_M);
    const room = wall ? Math.max(0, wall.distanceM - SHOULDER_M) : length;
    const gone = Math.min(length, room);
    const next: Vector = [x + direction[0] * gone, y, z + direction[2] * gone];
    this.freeCamera.pose.set({ ...turned, positionM: [next[0], await this.eyesOver(next, y), next[2]] });
  }
}
