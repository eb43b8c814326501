import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatTooltip } from '@angular/material/tooltip';
import type { CutShot } from '@arvex/core';
import { framesInFlicks, pictureAt, sceneStretchOf, sceneTimeOf, shotFrameAt } from '@arvex/core';
import { ProjectStore } from '../../data';
import { Thumbnail } from '../../drawing';
import { OpenSequence, Playhead, Viewpoint } from '../../session';
import { cameraColour } from '../../ui';
import { bundled } from './bundled';

/** Width of one picture in the strip, pixels. */
const PICTURE_PX = 104;
/** Pictures of a shot at most. */
const MOST_PICTURES = 12;

/** A camera at a scene time. */
interface Pictured {
  readonly cameraId: string | null;
  readonly variationId: string | null;
  readonly sceneFlicks: number;
}

interface Block {
  readonly key: string;
  readonly name: string;
  readonly detail: string;
  readonly startFrame: number;
  readonly frameCount: number;
  /** The pictures that fill the block: of a shot that shows a sequence, each of the camera that is seen there. */
  readonly pictures: readonly Pictured[];
  readonly colour: string;
  /** Of its camera; nothing for several shots together. */
  readonly number: number | string | undefined;
}

/** The shots side by side, in proportion to their length; those too short to be told apart stand together. */
@Component({
  selector: 'arvex-shot-strip',
  imports: [MatIcon, MatTooltip, Thumbnail],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './shot-strip.html',
  styleUrl: './shot-strip.scss',
})
export class ShotStrip {
  private readonly store = inject(ProjectStore);
  protected readonly playhead = inject(Playhead);
  private readonly sequence = inject(OpenSequence);
  private readonly viewpoint = inject(Viewpoint);

  /** Of the strip, pixels. */
  readonly width = input.required<number>();
  private readonly framePx = computed(() => this.width() / this.playhead.length());
  protected readonly firstFrame = computed(() => this.store.project()?.head.firstFrame ?? 0);
  /** The block in which the playhead is. */
  protected readonly on = computed(() => {
    const frame = this.playhead.frame();
    return this.blocks().find(({ startFrame, frameCount }) => frame >= startFrame && frame < startFrame + frameCount)
      ?.key;
  });

  /** Shots of the cut in proportion to their length. */
  protected readonly blocks = computed<Block[]>(() => {
    const project = this.store.project();
    if (!project || this.playhead.mode() !== 'cut') return [];
    return bundled(this.sequence.cut().shots, this.framePx()).map((bundle) => {
      const [placed] = bundle;
      const { shot, startFrame } = placed;
      const last = bundle.at(-1) ?? placed;
      const frameCount = last.startFrame + last.frameCount - startFrame;
      if (bundle.length > 1) return bundleOf(bundle, frameCount);
      const camera = shot.cameraId === null ? undefined : project.cameras[shot.cameraId];
      return {
        key: shot.id,
        name: shot.name,
        detail: `${frameCount} f`,
        startFrame,
        frameCount,
        pictures: this.picturesIn(placed),
        colour: camera ? cameraColour(camera.number) : shot.insideId === null ? 'var(--red)' : 'var(--line)',
        number: shot.insideId === null ? (camera?.number ?? '?') : undefined,
      };
    });
  });

  /** Where the focus goes over to somebody: of the camera alone, or of every shot of the cut. */
  protected readonly racks = computed(() => {
    const project = this.store.project();
    if (!project) return [];
    const { rate } = project.head;
    const one = (cameraId: string, fromFlicks: number, toFlicks: number, at: (flicks: number) => number) =>
      (project.cameras[cameraId]?.focus.mode === 'follow' ? project.cameras[cameraId].focus.racks : [])
        .filter(
          ({ startFlicks, durationFlicks }) => startFlicks < toFlicks && startFlicks + durationFlicks > fromFlicks,
        )
        .map((rack) => {
          const name = project.placements[rack.subjectId]?.name ?? '';
          const count = Math.max(1, framesInFlicks(rack.durationFlicks, rate));
          const start = at(rack.startFlicks);
          return { key: `${rack.id} ${start}`, name, start, count, text: `Focus goes to ${name} in ${count} frames` };
        });
    if (this.playhead.mode() === 'camera') {
      const camera = this.viewpoint.camera();
      return camera ? one(camera.id, 0, Infinity, (flicks) => framesInFlicks(flicks, rate)) : [];
    }
    return this.sequence.cut().shots.flatMap((placed) => {
      const [from, to] = sceneStretchOf(placed);
      const at = (flicks: number) => {
        const inside = shotFrameAt(placed, Math.max(from, Math.min(to - 1, flicks)), rate) ?? 0;
        return placed.startFrame + inside;
      };
      return placed.shot.cameraId === null ? [] : one(placed.shot.cameraId, from, to, at);
    });
  });

  /** As many pictures as fit in a shot's block, each from the middle of its share. */
  private picturesIn(placed: CutShot): Pictured[] {
    const { frameCount } = placed;
    const width = frameCount * this.framePx();
    const count = Math.max(1, Math.min(MOST_PICTURES, Math.round(width / PICTURE_PX)));
    return Array.from({ length: count }, (_, i) => this.seenIn(placed, Math.floor((frameCount * (i + 0.5)) / count)));
  }

  /** What a frame of a shot shows; of a shot that shows a sequence, what that shows. */
  private seenIn(placed: CutShot, shotFrame: number): Pictured {
    const project = this.sequence.project();
    if (!project) return { cameraId: null, variationId: null, sceneFlicks: 0 };
    if (placed.shot.insideId !== null) {
      const seen = pictureAt(project, this.sequence.id(), placed.startFrame + shotFrame);
      const { cameraId = null, variationId = null, sceneFlicks = 0 } = seen ?? {};
      return { cameraId, variationId, sceneFlicks };
    }
    const { cameraId, variationId } = placed.shot;
    return { cameraId, variationId, sceneFlicks: sceneTimeOf(placed, shotFrame, project.head.rate) };
  }

  protected percent(frame: number): number {
    return (frame / this.playhead.length()) * 100;
  }
}

/** Several short shots as one block. */
function bundleOf(bundle: readonly CutShot[], frameCount: number): Block {
  const [first, last] = [bundle[0], bundle.at(-1)];
  return {
    key: first?.shot.id ?? '',
    name: `${first?.shot.name ?? ''} to ${last?.shot.name ?? ''}`,
    detail: `${bundle.length} shots`,
    startFrame: first?.startFrame ?? 0,
    frameCount,
    pictures: [
      {
        cameraId: first?.shot.cameraId ?? null,
        variationId: first?.shot.variationId ?? null,
        sceneFlicks: first?.sceneStartFlicks ?? 0,
      },
    ],
    colour: 'var(--line)',
    number: undefined,
  };
}
