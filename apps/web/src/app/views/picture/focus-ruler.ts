import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatTooltip } from '@angular/material/tooltip';
import { distanceAlongAxis, eyesM, lengthNumber, lengthText, subjectPointAt, subjectsIn } from '@arvex/core';
import { ProjectStore } from '../../data';
import { Focus, PictureTools } from '../../features/cameras';
import { Playhead, Viewpoint } from '../../session';
import { followDrag, shutterText, stopText } from '../../ui';
import type { Flag } from './ruler-flags';
import { flagsOf } from './ruler-flags';
import { distanceAt, FARTHEST_M, placeOf, ticksIn } from './ruler-scale';

/** What belongs to distance, along the picture's bottom edge: what is sharp, from near to far, and who stands where. */
@Component({
  selector: 'arvex-focus-ruler',
  imports: [MatIcon, MatMenuModule, MatTooltip],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './focus-ruler.html',
  styleUrl: './focus-ruler.scss',
})
export class FocusRuler {
  private readonly store = inject(ProjectStore);
  private readonly viewpoint = inject(Viewpoint);
  private readonly playhead = inject(Playhead);
  private readonly tools = inject(PictureTools);
  protected readonly focus = inject(Focus);

  protected readonly state = this.viewpoint.state;
  protected readonly unit = computed(() => this.store.project()?.head.displayUnit ?? 'm');
  protected readonly place = placeOf;
  protected readonly stopText = stopText;
  protected readonly shutterText = shutterText;
  protected readonly ticks = computed(() =>
    ticksIn(this.unit()).map(({ metres, text }) => ({ at: placeOf(metres), text })),
  );
  protected readonly band = computed(() => {
    const focus = this.state()?.focus;
    return focus && { from: placeOf(focus.nearM), to: placeOf(focus.farM) };
  });
  /** How far up the scale the lens does not focus, per cent. */
  protected readonly unreachable = computed(() => {
    const closestM = this.state()?.lens.kitLens?.closestM;
    return closestM === undefined ? 0 : placeOf(closestM);
  });
  protected readonly icon = computed(() => {
    const drivenBy = this.state()?.focus.drivenBy;
    return drivenBy === 'follow' ? 'link' : drivenBy === 'auto' ? 'frame_inspect' : 'touch_app';
  });
  /** Subjects in front of the camera, at their distance along its axis. */
  protected readonly flags = computed<Flag[]>(() => {
    const [project, state] = [this.store.project(), this.state()];
    if (!project || !state) return [];
    const atFlicks = this.playhead.glance()?.sceneFlicks ?? 0;
    return flagsOf(
      subjectsIn(project).map((one) => ({
        id: one.id,
        name: eyesM(one) === undefined ? one.name : `${one.name}, eyes`,
        distanceM: distanceAlongAxis(state, subjectPointAt(project, one, 'eyes', atFlicks)),
      })),
    );
  });

  protected length(metres: number): string {
    return lengthText(metres, this.unit());
  }

  protected number(metres: number): string {
    return lengthNumber(metres, this.unit());
  }

  protected hint({ standing }: Flag): string {
    return standing.map((one) => `${one.name}, ${this.length(one.distanceM)}`).join(' · ');
  }

  /** Dragging the scale focuses by hand. */
  protected begin(event: PointerEvent): void {
    if (!this.state() || event.button !== 0) return;
    let focusDistance = this.under(event, event.currentTarget as HTMLElement);
    this.focus.preview(focusDistance);
    this.follow(event, event.currentTarget as HTMLElement, {
      moved: (distance) => this.focus.preview((focusDistance = distance)),
      kept: () => this.focus.at(focusDistance),
    });
  }

  /** Dragging an edge of the band solves focus and f-stop that are sharp from there, or to there. */
  protected beginEdge(event: PointerEvent, edge: 'near' | 'far'): void {
    event.stopPropagation();
    const focus = this.state()?.focus;
    const scale = (event.currentTarget as HTMLElement).parentElement;
    if (!focus || !scale || event.button !== 0) return;
    let ends = { near: focus.nearM, far: focus.farM };
    this.follow(event, scale, {
      moved: (distance) => {
        ends = { ...ends, [edge]: edge === 'far' && distance >= FARTHEST_M ? Infinity : distance };
        const solved = this.tools.solve(ends.near, ends.far);
        if (solved) this.focus.preview(solved.focusM, solved.fStop);
      },
      kept: () => {
        if (ends.far > ends.near) this.tools.holdBetween(ends.near, ends.far);
      },
    });
  }

  protected nudge(event: Event, factor: number): void {
    event.preventDefault();
    event.stopPropagation();
    this.focus.at((this.state()?.focus.distanceM ?? 1) * factor);
  }

  private follow(
    event: PointerEvent,
    scale: HTMLElement,
    { moved, kept }: { moved: (distanceM: number) => void; kept: () => void },
  ): void {
    followDrag(
      event,
      (drag) => moved(this.under(drag.event, scale)),
      (isKept) => {
        if (this.focus.endPreview() && isKept) kept();
      },
    );
  }

  /** Distance under the pointer, metres. */
  private under({ clientX }: PointerEvent, scale: HTMLElement): number {
    const box = scale.getBoundingClientRect();
    return distanceAt((clientX - box.left) / box.width);
  }
}
