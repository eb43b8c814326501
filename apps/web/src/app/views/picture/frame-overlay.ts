import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { CameraState, FilmWindow } from '@arvex/core';
import {
  aspectWithin,
  chosenSubject,
  deliveredWindow,
  deliveryAspect,
  DIVISIONS,
  filmBackWindow,
  lengthText,
  SAFE_AREAS,
  windowShare,
} from '@arvex/core';
import { ProjectStore } from '../../data';
import { Playhead } from '../../session';
import { signedDegrees } from '../../ui';

const FIT_NAMES = {
  'match-width': 'match width',
  'match-height': 'match height',
  'show-all': 'show all',
  fill: 'fill',
} as const;

interface Rect {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** The delivery frame on the picture: masked outside, with guides and the read-outs an operator asks for. */
@Component({
  selector: 'arvex-frame-overlay',
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './frame-overlay.html',
  styleUrl: './frame-overlay.scss',
})
export class FrameOverlay {
  private readonly store = inject(ProjectStore);
  private readonly playhead = inject(Playhead);
  readonly state = input.required<CameraState>();
  /** What of the film plane fills the pane. */
  readonly window = input.required<FilmWindow>();
  readonly size = input.required<{ readonly width: number; readonly height: number }>();

  protected readonly guides = computed(() => this.state().guides);
  /** The delivered frame in pixels of the pane. */
  protected readonly frame = computed(() => this.inPixels(deliveredWindow(this.state())));
  protected readonly back = computed(() => this.inPixels(filmBackWindow(this.state())));
  protected readonly aspects = computed(() => {
    const aspect = deliveryAspect(this.state().framing.delivery);
    return this.guides().aspects.map((guide) => ({
      ...guide,
      name: `${guide.aspect.toFixed(2)} : 1`,
      rect: within(this.frame(), aspectWithin(guide.aspect, aspect)),
    }));
  });
  protected readonly safe = computed(() =>
    SAFE_AREAS[this.guides().safe].map((share) =>
      within(this.frame(), { x: (1 - share) / 2, y: (1 - share) / 2, width: share, height: share }),
    ),
  );
  /** All dividing lines as one path. */
  protected readonly lines = computed(() => {
    const { divisions, diagonals, lines } = this.guides();
    const { x, y, width, height } = this.frame();
    const shares = divisions.flatMap((division) => DIVISIONS[division]);
    const upright = [...shares, ...lines.filter((one) => one.axis === 'upright').map((one) => one.percent / 100)];
    const across = [...shares, ...lines.filter((one) => one.axis === 'across').map((one) => one.percent / 100)];
    const crossing = diagonals ? `M${x} ${y}L${x + width} ${y + height}M${x + width} ${y}L${x} ${y + height}` : '';
    return (
      upright.map((share) => `M${x + width * share} ${y}v${height}`).join('') +
      across.map((share) => `M${x} ${y + height * share}h${width}`).join('') +
      crossing
    );
  });
  protected readonly cross = computed(() => {
    const { x, y, width, height } = this.frame();
    const [cx, cy] = [x + width / 2, y + height / 2];
    return `M${cx - 11} ${cy}h22M${cx} ${cy - 11}v22`;
  });
  /** The horizon, level in the world: where it lies in the frame and how it leans. */
  protected readonly level = computed(() => {
    const { tiltDeg, rollDeg, lens, framing } = this.state();
    const { x, y, width, height } = this.frame();
    const up = (lens.actingMm * Math.tan((-tiltDeg * Math.PI) / 180) - lens.shiftYMm) / framing.used.heightMm;
    return { cx: x + width / 2, cy: y + height / 2, dy: -up * height, half: width * 0.75, roll: -rollDeg };
  });
  protected readonly delivery = computed(() => {
    const { delivery, fit } = this.state().framing;
    return `${delivery.widthPx} × ${delivery.heightPx} · ${FIT_NAMES[fit]}`;
  });
  private readonly unit = computed(() => this.store.project()?.head.displayUnit ?? 'm');
  private readonly subject = computed(() => {
    const project = this.store.project();
    return project && chosenSubject(project, this.state(), this.playhead.seen()?.sceneFlicks ?? 0);
  });
  /** Shot size, headroom and look room of the subject. */
  protected readonly composition = computed(() => {
    const subject = this.subject();
    if (!subject) return '';
    const { placement, size, headroom, lookRoom, inFrame } = subject;
    if (!inFrame) return `${placement.name} is out of frame`;
    const room = headroom < 0 ? 'head cut' : `headroom ${(headroom * 100).toFixed(0)} %`;
    const look = lookRoom ? ` · look room ${(lookRoom.share * 100).toFixed(0)} %` : '';
    return `${size} · ${room}${look}`;
  });
  protected readonly stance = computed(() => {
    const { positionM, tiltDeg, focus } = this.state();
    const text = (metres: number) => lengthText(metres, this.unit());
    const subject = this.subject();
    const distance = subject
      ? `${subject.placement.name} ${text(subject.distanceM)}`
      : `focus ${text(focus.distanceM)}`;
    return `height ${text(positionM[1])} · tilt ${signedDegrees(tiltDeg)} · ${distance}`;
  });

  private inPixels(inner: FilmWindow): Rect {
    const { x, y, width, height } = windowShare(inner, this.window());
    const size = this.size();
    return { x: x * size.width, y: y * size.height, width: width * size.width, height: height * size.height };
  }
}

function within(frame: Rect, share: Rect): Rect {
  return {
    x: frame.x + share.x * frame.width,
    y: frame.y + share.y * frame.height,
    width: share.width * frame.width,
    height: share.height * frame.height,
  };
}
