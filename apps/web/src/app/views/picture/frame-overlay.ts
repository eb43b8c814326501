import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatMenuModule } from '@angular/material/menu';
import { MatTooltip } from '@angular/material/tooltip';
import type { CameraState, FilmWindow } from '@arvex/core';
import {
  aspectWithin,
  chosenSubject,
  placedAlike,
  deliveredWindow,
  deliveryAspect,
  DIVISIONS,
  filmBackWindow,
  lengthText,
  SAFE_AREAS,
  SHOT_SIZES,
  windowShare,
} from '@arvex/core';
import { ProjectStore } from '../../data';
import { Framing, Meter } from '../../features/cameras';
import { Playhead, Viewpoint, Workspace } from '../../session';
import { followDrag, signedDegrees } from '../../ui';

const FIT_NAMES = {
  'match-width': 'match width',
  'match-height': 'match height',
  'show-all': 'show all',
  fill: 'fill',
} as const;

/** Padding thinner than this is none, mm. */
const SEEN_MM = 0.005;
/** Room that a row of read-outs takes, and below what width of the frame they are too much, pixels. */
const READ_OUT_PX = 26;
/** Width of a letter of the read-outs, and of what lies about their parts. */
const [LETTER_PX, ABOUT_PX] = [6.95, 20];
const NARROW_PX = 300;
/** Room between a plate and what it stands beside, and what the tools at the right edge take, pixels. */
const INSET_PX = 8;
const TOOLS_PX = 44;
/** Aspects that share an edge write their names beside each other, pixels. */
const NAME_PX = 62;

interface Rect {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** The delivery frame on the picture: masked outside, with guides and the read-outs an operator asks for. */
@Component({
  selector: 'arvex-frame-overlay',
  imports: [MatMenuModule, MatTooltip],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './frame-overlay.html',
  styleUrl: './frame-overlay.scss',
})
export class FrameOverlay {
  private readonly store = inject(ProjectStore);
  private readonly playhead = inject(Playhead);
  private readonly viewpoint = inject(Viewpoint);
  protected readonly framing = inject(Framing);
  private readonly meter = inject(Meter);
  private readonly workspace = inject(Workspace);
  readonly state = input.required<CameraState>();
  /** What of the film plane fills the pane. */
  readonly window = input.required<FilmWindow>();
  readonly size = input.required<{ readonly width: number; readonly height: number }>();

  protected readonly guides = computed(() => this.state().guides);
  /** The delivered frame in pixels of the pane. */
  protected readonly frame = computed(() => this.inPixels(deliveredWindow(this.state())));
  /** All of the pane but the delivered frame: one path, which is painted far faster than a mask. */
  protected readonly outside = computed(() => box({ x: 0, y: 0, ...this.size() }) + box(this.frame()));
  protected readonly back = computed(() => this.inPixels(filmBackWindow(this.state())));
  protected readonly aspects = computed(() => {
    const aspect = deliveryAspect(this.state().framing.delivery);
    const frame = this.frame();
    return this.guides().aspects.map((guide, i) => {
      const rect = within(frame, aspectWithin(guide.aspect, aspect));
      // Wide ones write along their lower edge, one after another; tall ones under each other at their right side.
      const wide = guide.aspect >= aspect;
      const [nameX, nameY] = wide
        ? [rect.x + 6 + i * NAME_PX, rect.y + rect.height - 6]
        : [rect.x + rect.width - NAME_PX, rect.y + 16 + i * 15];
      return { ...guide, rect, outside: box(frame) + box(rect), nameX, nameY, name: `${guide.aspect.toFixed(2)} : 1` };
    });
  });
  protected readonly safe = computed(() =>
    SAFE_AREAS[this.guides().safe].map((share) =>
      within(this.frame(), { x: (1 - share) / 2, y: (1 - share) / 2, width: share, height: share }),
    ),
  );
  /** Thirds, halves and diagonals as one path; own lines as another, drawn otherwise. */
  protected readonly lines = computed(() => {
    const { divisions, diagonals } = this.guides();
    const { x, y, width, height } = this.frame();
    const shares = divisions.flatMap((division) => DIVISIONS[division]);
    const crossing = diagonals ? `M${x} ${y}L${x + width} ${y + height}M${x + width} ${y}L${x} ${y + height}` : '';
    return shares.map((share) => this.upright(share) + this.across(share)).join('') + crossing;
  });
  protected readonly ownLines = computed(() =>
    this.guides()
      .lines.map(({ axis, percent }) => (axis === 'upright' ? this.upright(percent / 100) : this.across(percent / 100)))
      .join(''),
  );

  private upright(share: number): string {
    const { x, y, width, height } = this.frame();
    return `M${x + width * share} ${y}v${height}`;
  }

  private across(share: number): string {
    const { x, y, width, height } = this.frame();
    return `M${x} ${y + height * share}h${width}`;
  }

  /** What of the frame lies beyond the film back, as one path; nothing where all of it is on it. */
  protected readonly beyond = computed(() => {
    const { used } = this.state().framing;
    if (used.cropXMm > -SEEN_MM && used.cropYMm > -SEEN_MM) return '';
    const [frame, back] = [this.frame(), this.back()];
    return box(frame) + box(overlap(frame, back));
  });
  protected readonly cross = computed(() => {
    const { x, y, width, height } = this.frame();
    const [cx, cy] = [x + width / 2, y + height / 2];
    return `M${cx - 11} ${cy}h22M${cx} ${cy - 11}v22`;
  });
  /** Where the meter reads a spot, while it does. */
  protected readonly spot = computed(() => {
    if (this.meter.mode() !== 'spot' || this.workspace.step() !== 'cameras') return undefined;
    const [[u, v], { x, y, width, height }] = [this.meter.spot(), this.frame()];
    return { x: x + u * width, y: y + v * height };
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
  private readonly placed = computed(() => this.state(), { equal: placedAlike });
  private readonly subject = computed(() => {
    const project = this.store.project();
    return project && chosenSubject(project, this.placed(), this.playhead.seen()?.sceneFlicks ?? 0);
  });
  /** The subject's shot size with what is wrong with it, headroom and look room. */
  protected readonly composition = computed(() => {
    const subject = this.subject();
    if (!subject) return undefined;
    const { placement, size, headroom, lookRoom, inFrame, cutAt, hidden } = subject;
    if (!inFrame) return { name: placement.name, trouble: `${placement.name} is out of frame` };
    const trouble = hidden ? `hidden by ${hidden.name}` : cutAt && JOINTS.has(cutAt) ? `cut at the ${cutAt}` : '';
    return {
      name: placement.name,
      size,
      trouble,
      room: headroom < 0 ? 'head cut' : `headroom ${(headroom * 100).toFixed(0)} %`,
      look: lookRoom ? `look room ${(lookRoom.share * 100).toFixed(0)} %` : '',
    };
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
  protected readonly sizes = SHOT_SIZES;
  /** How wide the read-outs are beside each other. */
  private readonly saidPx = computed(() => {
    const seen = this.composition();
    const said = [seen?.size, seen?.trouble, seen?.room, seen?.look, this.stance()].filter((one) => !!one);
    return said.reduce((sum, one) => sum + (one ?? '').length * LETTER_PX + ABOUT_PX, 0);
  });
  /** Read-outs stand below the frame where there is room, else along its lower edge; in a narrow frame there are fewer. */
  protected readonly readOuts = computed(() => {
    const { x, y, width, height } = this.frame();
    const stacked = width < this.saidPx() && width >= NARROW_PX;
    const needed = stacked ? 2 * READ_OUT_PX : READ_OUT_PX;
    const below = this.size().height - (y + height) >= needed;
    const top = below ? y + height : y + height - needed;
    return { left: x, top, width, height: needed, narrow: width < NARROW_PX, stacked, below };
  });

  /** The delivery stands in the frame's corner, but beside the tools. */
  protected readonly deliveryRight = computed(() =>
    Math.max(this.size().width - this.frame().x - this.frame().width + INSET_PX, TOOLS_PX + INSET_PX),
  );

  protected headroomPercent(): number {
    return Math.round((this.subject()?.headroom ?? 0) * 100);
  }

  /** Dragging the headroom up gives more of it: the head tilts. */
  protected dragHeadroom(event: PointerEvent): void {
    const from = this.subject()?.headroom;
    if (from === undefined || event.button !== 0) return;
    event.stopPropagation();
    const { height } = this.frame();
    let share = from;
    followDrag(
      event,
      ({ dy }) => this.framing.headroom((share = from - dy / height), false),
      (kept) => {
        if (this.framing.endPreview() && kept) this.framing.headroom(share, true);
      },
    );
  }

  protected nudgeHeadroom(event: Event, by: number): void {
    event.preventDefault();
    event.stopPropagation();
    const from = this.subject()?.headroom;
    if (from !== undefined) this.framing.headroom(from + by, true);
  }

  private inPixels(inner: FilmWindow): Rect {
    const { x, y, width, height } = windowShare(inner, this.window());
    const size = this.size();
    return { x: x * size.width, y: y * size.height, width: width * size.width, height: height * size.height };
  }
}

/** Cuts through joints look as if a limb were missing; between them nobody minds. */
const JOINTS: ReadonlySet<string> = new Set(['ankles', 'knees', 'hips', 'neck']);

const box = ({ x, y, width, height }: Rect): string => `M${x} ${y}h${width}v${height}h${-width}Z`;

function overlap(a: Rect, b: Rect): Rect {
  const [x, y] = [Math.max(a.x, b.x), Math.max(a.y, b.y)];
  const right = Math.min(a.x + a.width, b.x + b.width);
  const bottom = Math.min(a.y + a.height, b.y + b.height);
  return { x, y, width: Math.max(0, right - x), height: Math.max(0, bottom - y) };
}

function within(frame: Rect, share: Rect): Rect {
  return {
    x: frame.x + share.x * frame.width,
    y: frame.y + share.y * frame.height,
    width: share.width * frame.width,
    height: share.height * frame.height,
  };
}
