import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import type { CutShot, Shot } from '@arvex/core';
import { handlesOf, isTrueSpeed, reachOfTransition } from '@arvex/core';
import type { Pulled } from '../../features/sequence';
import { CutDrag, JointSnap, ShotSelection } from '../../features/sequence';
import { OpenSequence, Playhead } from '../../session';
import { cameraColour, followDrag } from '../../ui';
import { LaneScale } from './lane-scale';

/** Narrower than this a shot is a stroke that can be pressed but not read or pulled, pixels. */
const READ_PX = 34;
const PULL_PX = 22;
/** Narrower than this there is no room beside its name for what else is to be said of it. */
const ROOMY_PX = 74;
/** A shot that is no wider than this is drawn with its neighbours, until they are so wide together, pixels. */
const STROKE_PX = 4;
const BUNDLE_PX = 12;

/** A shot as it is drawn. */
interface Block {
  readonly placed: CutShot;
  readonly left: number;
  readonly width: number;
  readonly colour: string;
  readonly number: number | undefined;
  readonly readable: boolean;
  readonly pulled: boolean;
  readonly roomy: boolean;
  readonly goesOn: boolean;
  readonly detail: string;
  /** Which of how many takes is in the cut; nothing where there is one. */
  readonly take: string;
  /** Widths of what is beyond its ends, of its transitions, pixels. */
  readonly handleIn: number;
  readonly handleOut: number;
  readonly entry: { readonly left: number; readonly width: number; readonly kind: string } | undefined;
  readonly fade: { readonly left: number; readonly width: number } | undefined;
  readonly words: string;
}

/** The shots of the cut, to be pulled about; their ends and joints. */
@Component({
  selector: 'arvex-cut-lane',
  imports: [MatIcon],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './cut-lane.html',
  styleUrl: './cut-lane.scss',
})
export class CutLane {
  private readonly open = inject(OpenSequence);
  private readonly playhead = inject(Playhead);
  private readonly drag = inject(CutDrag);
  private readonly snap = inject(JointSnap);
  private readonly selection = inject(ShotSelection);
  protected readonly scale = inject(LaneScale);

  protected readonly chosen = computed(() => new Set(this.selection.ids()));
  protected readonly current = computed(() => this.selection.current()?.shot.id);
  protected readonly blocks = computed<readonly Block[]>(() => {
    const project = this.open.project();
    if (!project) return [];
    const blocks: Block[] = [];
    for (const placed of this.open.cut().shots) {
      const { startFrame, frameCount } = placed;
      if (!this.scale.isSeen(startFrame, startFrame + frameCount)) continue;
      const [left, width] = [this.scale.x(startFrame), this.scale.x(frameCount)];
      const before = blocks.at(-1);
      // What is too narrow to be told apart is drawn as one.
      if (before && width < STROKE_PX && before.width < BUNDLE_PX && !before.pulled) {
        blocks[blocks.length - 1] = { ...before, width: left + width - before.left };
      } else blocks.push(this.blockOf(placed, left, width));
    }
    return blocks;
  });

  private blockOf(placed: CutShot, left: number, width: number): Block {
    const { shot, frameCount } = placed;
    const project = this.open.project();
    const camera = project?.cameras[shot.cameraId ?? ''];
    const rate = project?.head.rate ?? { frames: 24, seconds: 1 };
    const handles = project && width >= PULL_PX ? handlesOf(project, shot) : { inFrames: 0, outFrames: 0 };
    const entry = reachOfTransition(shot.entry, rate);
    const fade = reachOfTransition(shot.fadeOut, rate);
    const speed = isTrueSpeed(shot.retime)
      ? ''
      : shot.retime.ramp.length > 0
        ? ' · ramp'
        : ` · ${Math.round(shot.retime.speed * 100)} %`;
    const inside = project?.sequences[shot.insideId ?? ''];
    const goesOn = shot.continues && placed.index > 0;
    return {
      placed,
      left,
      width,
      colour: camera ? cameraColour(camera.number) : inside ? 'var(--chalk-2)' : 'var(--red)',
      number: camera?.number,
      readable: width >= READ_PX,
      pulled: width >= PULL_PX,
      roomy: width >= ROOMY_PX,
      goesOn,
      detail: `${frameCount}${speed}`,
      take: takeOf(shot),
      handleIn: this.scale.x(handles.inFrames),
      handleOut: this.scale.x(handles.outFrames),
      entry:
        shot.entry.kind === 'cut'
          ? undefined
          : {
              left: -this.scale.x(entry.before),
              width: this.scale.x(entry.before + entry.after),
              kind: shot.entry.kind,
            },
      fade: shot.fadeOut
        ? { left: width - this.scale.x(fade.before), width: this.scale.x(fade.before + fade.after) }
        : undefined,
      words: `${camera?.name ?? inside?.name ?? 'no camera'}, ${frameCount} frames${goesOn ? ', goes on with the action' : ''}`,
    };
  }

  /** A press chooses; pulling does what the tools say. */
  protected press(event: PointerEvent, { placed }: Block): void {
    if (event.button !== 0) return;
    const { id } = placed.shot;
    if (event.shiftKey) return this.selection.choose(id, 'through');
    if (event.ctrlKey || event.metaKey) return this.selection.choose(id, 'more');
    if (!this.chosen().has(id)) this.selection.choose(id);
    const box = (event.currentTarget as Element).getBoundingClientRect();
    const frame = placed.startFrame + Math.floor((event.clientX - box.left) / this.scale.framePx());
    const pulled = this.drag.shotDrag();
    const ids = pulled === 'slides' ? [id] : this.selection.ids();
    this.follow(event, pulled, ids, [placed.startFrame], () => {
      this.selection.choose(id);
      this.playhead.goTo(frame);
    });
  }

  protected pull(event: PointerEvent, pulled: Pulled, { placed }: Block): void {
    if (event.button !== 0) return;
    event.stopPropagation();
    this.selection.choose(placed.shot.id);
    const edge = pulled === 'end' ? placed.startFrame + placed.frameCount : placed.startFrame;
    this.follow(event, pulled, [placed.shot.id], [edge], () => undefined);
  }

  /** Follows the pointer, from frame to frame, caught by what is near. */
  private follow(
    event: PointerEvent,
    pulled: Pulled,
    ids: readonly string[],
    [edge = 0]: readonly number[],
    clicked: () => void,
  ): void {
    const catching = this.snap.frames([edge]);
    const framePx = this.scale.framePx();
    let last: number | undefined;
    followDrag(
      event,
      ({ dx }) => {
        const by = this.snap.caught(edge, Math.round(dx / framePx), framePx, pulled === 'moves' ? [] : catching);
        if (by !== last) this.drag.pull(pulled, ids, by);
        last = by;
      },
      (kept) => {
        if (last === undefined) clicked();
        else this.drag.end(kept);
      },
    );
  }

  protected choose({ placed }: Block): void {
    this.selection.choose(placed.shot.id);
    this.playhead.goTo(placed.startFrame);
  }
}

/** Which of a shot's takes is in the cut, by name, and how many there are: `1/2`. */
function takeOf({ takeName, takes }: Shot): string {
  if (takes.length === 0) return '';
  const before = takes.filter(({ name }) => name.localeCompare(takeName) < 0).length;
  return `${before + 1}/${takes.length + 1}`;
}
