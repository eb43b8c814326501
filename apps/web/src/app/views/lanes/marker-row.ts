import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { flicksAtFrame, framesInFlicks, setMarker } from '@arvex/core';
import { ProjectStore } from '../../data';
import { CutEdits, MarkerTaps } from '../../features/sequence';
import { Playhead } from '../../session';
import { followDrag } from '../../ui';
import { LaneScale } from './lane-scale';

/** Markers over the lanes: pressed to go there, pulled to another frame. */
@Component({
  selector: 'arvex-marker-row',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (one of markers(); track one.id) {
      <span
        [style.left.px]="one.left"
        [title]="one.name + ' ' + one.number"
        (pointerdown)="press($event, one.id, one.frame)"
      ></span>
    }
  `,
  styles: `
    span {
      position: absolute;
      top: 8px;
      z-index: 1;
      width: 14px;
      height: 14px;
      margin-left: -7px;
      cursor: ew-resize;
      touch-action: none;
    }
    span::before {
      content: '';
      position: absolute;
      inset: 2px;
      border-radius: 50% 50% 50% 0;
      background: var(--amber);
      transform: rotate(-45deg);
    }
  `,
})
export class MarkerRow {
  private readonly store = inject(ProjectStore);
  private readonly taps = inject(MarkerTaps);
  private readonly edits = inject(CutEdits);
  private readonly playhead = inject(Playhead);
  private readonly scale = inject(LaneScale);
  private readonly pulled = signal<{ readonly id: string; readonly frame: number } | undefined>(undefined);

  protected readonly markers = computed(() => {
    const head = this.store.project()?.head;
    if (!head) return [];
    const pulled = this.pulled();
    return this.taps.markers().flatMap(({ id, name, atFlicks }) => {
      const frame = pulled?.id === id ? pulled.frame : framesInFlicks(atFlicks, head.rate);
      if (!this.scale.isSeen(frame, frame)) return [];
      return [{ id, name, frame, number: head.firstFrame + frame, left: this.scale.x(frame) }];
    });
  });

  protected press(event: PointerEvent, id: string, frame: number): void {
    if (event.button !== 0) return;
    event.stopPropagation();
    followDrag(
      event,
      ({ dx }) => this.pulled.set({ id, frame: Math.max(0, frame + Math.round(dx / this.scale.framePx())) }),
      (kept) => {
        const pulled = this.pulled();
        this.pulled.set(undefined);
        const rate = this.store.project()?.head.rate;
        if (!pulled || !rate) this.playhead.goTo(frame);
        else if (kept)
          this.edits.run((project) => setMarker(project, id, { atFlicks: flicksAtFrame(pulled.frame, rate) }));
      },
    );
  }
}
