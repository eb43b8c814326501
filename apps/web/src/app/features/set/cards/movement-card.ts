import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import type { ClipPlay, Placement, WalkPath } from '@arvex/core';
import {
  arrivalFlicks,
  flicksAtFrame,
  flicksPerFrame,
  keyPlacement,
  keyTimesOf,
  pathThrough,
  secondsFromFlicks,
  setPlacement,
  stopMoving,
  turnPlacement,
  unkeyPlacement,
  walkAlong,
} from '@arvex/core';
import { ProjectStore } from '../../../data';
import { CurveOwner, Playhead, Selection, Units, Workspace } from '../../../session';
import { AngleField, Card, ChoiceField, IconButton, NumberField, Switch } from '../../../ui';
import { TURN_S } from '../actions';
import { SetPieces } from '../pieces';
import { PlanTools } from '../plan-tools';

/** A turn that is being asked for. */
interface TurnAsked {
  readonly degrees: number;
  readonly frames: number;
}

/** How the chosen thing moves over scene time: keys, a walk along a path, a clip of its file. */
@Component({
  selector: 'arvex-movement-card',
  imports: [AngleField, IconButton, Switch, Card, ChoiceField, MatIcon, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './movement-card.html',
})
export class MovementCard {
  private readonly store = inject(ProjectStore);
  private readonly playhead = inject(Playhead);
  private readonly pieces = inject(SetPieces);
  private readonly owner = inject(CurveOwner);
  private readonly workspace = inject(Workspace);
  protected readonly tools = inject(PlanTools);
  protected readonly units = inject(Units);

  protected readonly placement = inject(Selection).last;
  protected readonly walk = computed<WalkPath | undefined>(() => {
    const motion = this.placement()?.motion;
    return motion?.kind === 'path' ? motion : undefined;
  });
  protected readonly keys = computed(() => {
    const placement = this.placement();
    return placement ? keyTimesOf(placement).map((flicks) => ({ flicks, frame: this.frameAt(flicks) })) : [];
  });
  protected readonly turning = signal<TurnAsked | undefined>(undefined);
  protected readonly here = computed(() => this.keys().some(({ flicks }) => flicks === this.flicks()));
  protected readonly flicks = computed(() => this.playhead.seen()?.sceneFlicks ?? 0);
  protected readonly clips = computed(() => {
    const placement = this.placement();
    const file = placement?.assetId != null ? this.store.project()?.assets[placement.assetId]?.file : undefined;
    if (file?.kind !== 'geometry') return [];
    return file.clips.map(({ name, seconds }, i) => ({ id: String(i), name, detail: `${seconds.toFixed(2)} s` }));
  });
  protected readonly summary = computed(() => {
    const [walk, keys, placement] = [this.walk(), this.keys(), this.placement()];
    const clip = placement?.clip ? this.clips()[placement.clip.index]?.name : undefined;
    const how = walk
      ? `walks ${this.units.text(this.length(walk))}`
      : keys.length > 0
        ? `${keys.length} keys`
        : 'stands still';
    return clip === undefined ? how : `${how}, plays ${clip}`;
  });
  protected readonly arrival = computed(() => {
    const walk = this.walk();
    if (!walk || walk.closed) return 'goes round';
    return `arrives at frame ${this.frameAt(arrivalFlicks(walk))}`;
  });

  protected length({ nodesM, closed }: WalkPath): number {
    return pathThrough(nodesM, closed).lengthM;
  }

  protected frameAt(flicks: number): number {
    const head = this.store.project()?.head;
    return head ? head.firstFrame + Math.round(flicks / flicksPerFrame(head.rate)) : 0;
  }

  protected goTo(flicks: number): void {
    const camera = this.playhead.seen()?.cameraId;
    if (camera !== undefined) this.playhead.lookThrough(camera);
    const rate = this.store.project()?.head.rate;
    if (rate) this.playhead.goTo(Math.round(flicks / flicksPerFrame(rate)));
  }

  protected key(): void {
    this.edit((placement) => (project) => keyPlacement(project, placement.id, this.flicks()));
  }

  /** Proposes one turn in five seconds. */
  protected beginTurn(): void {
    const rate = this.store.project()?.head.rate;
    if (rate) this.turning.set({ degrees: 360, frames: Math.round((TURN_S * rate.frames) / rate.seconds) });
  }

  protected turnIt({ degrees, frames }: TurnAsked): void {
    const rate = this.store.project()?.head.rate;
    if (!rate) return;
    const turn = { fromFlicks: this.flicks(), lengthFlicks: flicksAtFrame(Math.round(frames), rate), degrees };
    this.edit((placement) => (project) => turnPlacement(project, placement.id, turn));
    this.turning.set(undefined);
  }

  protected unkey(flicks: number): void {
    this.edit((placement) => (project) => unkeyPlacement(project, placement.id, flicks));
  }

  protected stop(): void {
    this.edit((placement) => (project) => stopMoving(project, placement.id, this.flicks()));
  }

  protected setWalk(parts: Partial<WalkPath>): void {
    const walk = this.walk();
    if (walk) this.edit((placement) => (project) => walkAlong(project, placement.id, { ...walk, ...parts }));
  }

  /** Starts at a frame of scene time, written as the project numbers it. */
  protected setStart(frame: number): void {
    this.setWalk({ startFlicks: this.flicksOfFrame(frame) });
  }

  protected close(): void {
    const [walk, placement] = [this.walk(), this.placement()];
    if (walk && placement) void this.tools.setWalk(placement.id, walk.nodesM, !walk.closed);
  }

  protected chooseClip(index: string): void {
    const before = this.placement()?.clip;
    this.setClip({ ...(before ?? { startFlicks: 0, rate: 1, loop: true }), index: Number(index) });
  }

  protected setClip(clip: ClipPlay | null): void {
    this.edit(
      (placement) => (project) => setPlacement(project, placement.id, clip ? 'Clip of' : 'Stop the clip of', { clip }),
    );
  }

  protected flicksOfFrame(frame: number): number {
    const head = this.store.project()?.head;
    return head ? Math.max(0, flicksAtFrame(Math.round(frame) - head.firstFrame, head.rate)) : 0;
  }

  protected seconds(flicks: number): number {
    return secondsFromFlicks(flicks);
  }

  /** The graph is where keys are moved and shaped. */
  protected showCurves(thingId: string): void {
    this.owner.show(thingId);
    this.workspace.goTo('moves');
    this.workspace.show('graph');
  }

  private edit(make: (placement: Placement) => Parameters<SetPieces['edit']>[0]): void {
    const placement = this.placement();
    if (placement) this.pieces.edit(make(placement));
  }
}
