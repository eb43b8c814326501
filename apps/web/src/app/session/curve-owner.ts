import { computed, inject, Injectable, signal } from '@angular/core';
import { Playhead } from './playhead';
import { Viewpoint } from './viewpoint';

/** Whose curves the graph and the time table show: those of a thing of the set, or the edited camera's. */
@Injectable({ providedIn: 'root' })
export class CurveOwner {
  private readonly viewpoint = inject(Viewpoint);
  private readonly playhead = inject(Playhead);
  private readonly chosen = signal<{ readonly thingId: string; readonly cameraId: string | undefined } | undefined>(
    undefined,
  );

  /** The thing; whoever looks through another camera alone has to do with that one's curves. */
  readonly thingId = computed(() => {
    const chosen = this.chosen();
    const isLeft = this.playhead.mode() === 'camera' && chosen?.cameraId !== this.viewpoint.camera()?.id;
    return isLeft ? undefined : chosen?.thingId;
  });

  /** Shows the curves of a thing of the set; of the camera without one. */
  show(thingId: string | undefined): void {
    this.chosen.set(thingId === undefined ? undefined : { thingId, cameraId: this.viewpoint.camera()?.id });
  }
}
