import type { OnDestroy } from '@angular/core';
import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  ElementRef,
  inject,
  viewChildren,
} from '@angular/core';
import { pictureAt } from '@arvex/core';
import { viewOf } from '@arvex/stage/view';
import { Pictures } from '../../drawing';
import { CutDrag, JointLook, TakeComparison } from '../../features/sequence';
import { OpenSequence, Viewpoint } from '../../session';
import { IconButton } from '../../ui';

/** One of two pictures. */
interface Side {
  readonly words: string;
  readonly cameraId: string | undefined;
  readonly sceneFlicks: number;
  readonly aspect: number;
}

/** Two pictures side by side over the picture: the frames that meet while a joint is pulled, or two takes at the playhead. */
@Component({
  selector: 'arvex-two-pictures',
  imports: [IconButton],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (sides(); as both) {
      <div class="both" data-testid="two-pictures">
        @for (side of both; track $index) {
          <figure>
            <canvas #canvas [style.aspect-ratio]="side.aspect" [hidden]="side.cameraId === undefined"></canvas>
            @if (side.cameraId === undefined) {
              <p class="none">nothing</p>
            }
            <figcaption class="num">{{ side.words }}</figcaption>
          </figure>
        }
        @if (drag.meeting(); as meeting) {
          <span class="by num">{{ meeting.words }}</span>
        } @else {
          <button class="end" arvexIconButton="close" label="End comparing" (click)="end()"></button>
        }
      </div>
    }
  `,
  styles: `
    .both {
      position: absolute;
      inset: 0;
      z-index: 5;
      display: grid;
      grid-template-columns: 1fr 1fr;
      align-items: center;
      gap: 4px;
      padding: 4px;
      background: var(--surround);
    }
    figure {
      position: relative;
      display: grid;
      min-width: 0;
      max-height: 100%;
      margin: 0;
    }
    canvas {
      width: 100%;
      max-height: 100%;
    }
    .none {
      display: grid;
      place-items: center;
      aspect-ratio: 16 / 9;
      margin: 0;
      border: 1px dashed var(--line);
      color: var(--chalk-3);
    }
    figcaption,
    .by {
      position: absolute;
      padding: 3px 9px;
      border-radius: 12px;
      background: color-mix(in srgb, var(--panel) 88%, transparent);
      font-size: 12px;
    }
    figcaption {
      bottom: 8px;
      left: 8px;
    }
    .by {
      top: 10px;
      left: 50%;
      transform: translateX(-50%);
      font-size: 14px;
    }
    .end {
      position: absolute;
      top: 8px;
      right: 8px;
      background: color-mix(in srgb, var(--panel) 88%, transparent);
    }
  `,
})
export class TwoPictures implements OnDestroy {
  protected readonly drag = inject(CutDrag);
  protected readonly takes = inject(TakeComparison);
  private readonly look = inject(JointLook);
  private readonly open = inject(OpenSequence);
  private readonly viewpoint = inject(Viewpoint);
  private readonly pictures = inject(Pictures);
  private readonly canvases = viewChildren<unknown, ElementRef<HTMLCanvasElement>>('canvas', { read: ElementRef });
  private leave: readonly (() => void)[] = [];

  protected readonly sides = computed<readonly Side[] | undefined>(() => {
    const project = this.open.project();
    const [meeting, pair] = [this.drag.meeting() ?? this.look.meeting(), this.takes.pair()];
    if (!project) return undefined;
    if (meeting) {
      return [meeting.before, meeting.after].map((frame): Side => {
        const seen = frame === undefined ? undefined : pictureAt(project, this.open.id(), frame);
        const number = frame === undefined ? '' : ` · ${project.head.firstFrame + frame}`;
        return this.side(`${seen?.shot?.name ?? ''}${number}`, seen?.cameraId, seen?.sceneFlicks ?? 0);
      });
    }
    return pair?.map(({ name, cameraId, sceneFlicks }, i) =>
      this.side(`take ${name}${i === 0 ? ' · in the cut' : ''}`, cameraId, sceneFlicks),
    );
  });

  constructor() {
    // Drawn anew whenever another frame meets, and made anew where the canvases are.
    afterRenderEffect(() => {
      const [sides, canvases] = [this.sides(), this.canvases()];
      this.leave.forEach((leave) => leave());
      this.leave = canvases.map(({ nativeElement: canvas }, i) =>
        this.pictures.show({
          canvas,
          samples: () => [],
          view: () => this.viewOf(sides?.[i]),
        }),
      );
    });
  }

  protected end(): void {
    this.takes.end();
    this.look.end();
  }

  ngOnDestroy(): void {
    this.leave.forEach((leave) => leave());
  }

  private side(words: string, cameraId: string | null | undefined, sceneFlicks: number): Side {
    const state = cameraId ? this.viewpoint.stateThen(cameraId, sceneFlicks, true) : undefined;
    const used = state?.framing.used;
    const aspect = used ? used.widthMm / used.heightMm : 16 / 9;
    return { words, cameraId: state ? (cameraId ?? undefined) : undefined, sceneFlicks, aspect };
  }

  private viewOf(side: Side | undefined) {
    const state =
      side?.cameraId === undefined ? undefined : this.viewpoint.stateThen(side.cameraId, side.sceneFlicks, true);
    return state && side && { view: viewOf(state, side.sceneFlicks, undefined, { aperture: undefined }) };
  }
}
