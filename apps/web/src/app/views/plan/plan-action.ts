import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { cameraAt, sceneTimeOf } from '@arvex/core';
import { OpenSequence, Workspace } from '../../session';
import { RiggingReport, ShotSelection } from '../../features/sequence';

/** How far over its place a tag stands, and the next one over it, pixels. */
const TAG_PX = 26;
const ROW_PX = 16;
/** Places of a way that are drawn, at most. */
const WAY_STEPS = 40;

/** A trouble as it is drawn, metres. */
interface Shown {
  readonly message: string;
  readonly said: string;
  readonly wayM: string;
  readonly xM: number;
  readonly yM: number;
  readonly tagM: number;
}

/** In the plan while shots are cut: the line of action of the shot in hand, and where its camera could not be. */
@Component({
  selector: 'g[arvexPlanAction]',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (line(); as shown) {
      <svg:line
        class="line"
        [attr.x1]="shown.fromM[0]"
        [attr.y1]="shown.fromM[1]"
        [attr.x2]="shown.toM[0]"
        [attr.y2]="shown.toM[1]"
        [attr.stroke-width]="2 * perPixel()"
        [attr.stroke-dasharray]="10 * perPixel() + ' ' + 5 * perPixel()"
      >
        <svg:title>Line of action</svg:title>
      </svg:line>
    }
    @for (one of troubles(); track one.message) {
      <svg:g class="trouble">
        <svg:title>{{ one.message }}</svg:title>
        <svg:polyline [attr.points]="one.wayM" [attr.stroke-width]="8 * perPixel()" />
        <svg:line
          [attr.x1]="one.xM"
          [attr.y1]="one.yM"
          [attr.x2]="one.xM"
          [attr.y2]="one.tagM"
          [attr.stroke-width]="1.5 * perPixel()"
        />
        <svg:text [attr.x]="one.xM" [attr.y]="one.tagM" [attr.font-size]="11.5 * perPixel()">{{ one.said }}</svg:text>
      </svg:g>
    }
  `,
  styles: `
    .line {
      stroke: var(--iris);
    }
    .trouble {
      stroke: var(--amber);

      polyline {
        fill: none;
        opacity: 0.6;
        stroke-linecap: round;
      }
      text {
        fill: var(--amber);
        stroke: var(--plan-ground);
        stroke-width: 3px;
        vector-effect: non-scaling-stroke;
        paint-order: stroke;
        text-anchor: middle;
      }
    }
  `,
})
export class PlanAction {
  readonly perPixel = input.required<number>();
  private readonly workspace = inject(Workspace);
  private readonly open = inject(OpenSequence);
  private readonly selection = inject(ShotSelection);
  private readonly report = inject(RiggingReport);
  private readonly cuts = computed(() => this.workspace.step() === 'sequence');

  protected readonly line = computed(() => {
    if (!this.cuts()) return undefined;
    const shot = this.open.project()?.shots[this.selection.acted()[0] ?? ''];
    return shot?.actionLine ?? this.open.sequence()?.actionLine ?? undefined;
  });
  /** Where the camera goes while it is in trouble, and a tag above the place where it is worst: metres, as the plan lies. */
  protected readonly troubles = computed<readonly Shown[]>(() => {
    const project = this.open.project();
    const placed = this.open.cut().shots.find(({ shot }) => shot.id === this.selection.acted()[0]);
    const cameraId = placed?.shot.cameraId;
    if (!this.cuts() || !project || !placed || cameraId == null) return [];
    const at = (frame: number): string => {
      const [x, , z] = cameraAt(project, cameraId, sceneTimeOf(placed, frame, project.head.rate)).positionM;
      return `${x},${z}`;
    };
    return (this.report.troubles() ?? []).map(({ message, atM, fromFrame, toFrame }, i) => {
      const first = fromFrame - project.head.firstFrame - placed.startFrame;
      const steps = Math.min(WAY_STEPS, Math.max(1, toFrame - fromFrame));
      const way = Array.from({ length: steps + 1 }, (_, k) =>
        at(first + Math.round((k / steps) * (toFrame - fromFrame))),
      );
      const tagM = atM[2] - (TAG_PX + i * ROW_PX) * this.perPixel();
      const said = message.replace(/, frames (\d+) to (\d+)$/, ' · $1–$2');
      return { message, wayM: way.join(' '), xM: atM[0], yM: atM[2], tagM, said };
    });
  });
}
