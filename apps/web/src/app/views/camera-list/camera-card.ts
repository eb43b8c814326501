import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, output } from '@angular/core';
import { MatTooltip } from '@angular/material/tooltip';
import type { Camera, CameraState } from '@arvex/core';
import { inSight, Thumbnail } from '../../drawing';
import { LiveSwitch } from '../../features/sequence';
import { Playhead, Viewpoint } from '../../session';
import { cameraColour, cameraLine } from '../../ui';

/** A picture's shape while its camera is not there yet. */
const NO_FILM = { widthMm: 16, heightMm: 9 };

/** A camera as it sees the playhead's time: its picture, its name and its lens. Out of sight it stays as it was. */
@Component({
  selector: 'arvex-camera-card',
  imports: [MatTooltip, Thumbnail],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './camera-card.html',
  styleUrl: './camera-card.scss',
})
export class CameraCard {
  private readonly playhead = inject(Playhead);
  private readonly viewpoint = inject(Viewpoint);

  readonly camera = input.required<Camera>();
  readonly ticked = input.required<boolean>();
  /** It is to be compared, or no longer. */
  readonly tick = output();

  private readonly live = inject(LiveSwitch);
  private readonly isSeen = inSight();
  private readonly state = linkedSignal<boolean, CameraState | undefined>({
    source: this.isSeen,
    computation: (seen, before) => (seen ? this.viewpoint.stateOf(this.camera().id) : before?.value),
  });
  /** While the cut plays, a press cuts to the camera there. */
  protected press(): void {
    if (this.playhead.playing() && this.playhead.mode() === 'cut') this.live.to(this.camera().id);
    else this.playhead.lookThrough(this.camera().id);
  }

  protected readonly colour = computed(() => cameraColour(this.camera().number));
  protected readonly flicks = computed(() => this.playhead.glance()?.sceneFlicks ?? 0);
  protected readonly line = computed(() => {
    const state = this.state();
    return state ? cameraLine(state) : '';
  });
  protected readonly aspect = computed(() => {
    const { widthMm, heightMm } = this.state()?.framing.used ?? NO_FILM;
    return widthMm / heightMm;
  });
}
