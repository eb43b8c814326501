import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import type { Camera } from '@arvex/core';
import { cameraLane, camerasInOrder, camerasSeenIn, throwPiece } from '@arvex/core';
import { CutEdits, LiveSwitch, ShotSelection } from '../../features/sequence';
import { remembered } from '../../data';
import { OpenSequence, Playhead } from '../../session';
import { cameraColour, IconButton } from '../../ui';
import { LaneScale } from './lane-scale';
import * as z from 'zod';

const ROW_PX = 28;
/** Height of what stands above the lanes of cameras, pixels. */
const ABOVE_PX = 78;

/** A lane for each camera: all of its move faint, what the cut shows of it solid. Pressing it while the cut plays cuts to it. */
@Component({
  selector: 'arvex-camera-lanes',
  imports: [IconButton],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './camera-lanes.html',
  styleUrl: './camera-lanes.scss',
})
export class CameraLanes {
  private readonly open = inject(OpenSequence);
  private readonly playhead = inject(Playhead);
  private readonly edits = inject(CutEdits);
  private readonly live = inject(LiveSwitch);
  private readonly selection = inject(ShotSelection);
  protected readonly scale = inject(LaneScale);
  protected readonly colour = cameraColour;
  protected readonly rowPx = ROW_PX;
  /** Whether cameras that the cut does not show have lanes too. */
  protected readonly all = remembered('lanes-all', z.boolean(), true);

  private readonly cameras = computed<readonly Camera[]>(() => {
    const project = this.open.project();
    if (!project) return [];
    const shown = camerasSeenIn(project, this.open.id());
    return camerasInOrder(project).filter(({ id }) => this.all() || shown.has(id));
  });
  protected readonly heightPx = computed(() => this.cameras().length * ROW_PX);
  /** The lanes that are seen, each with what lies in it. */
  protected readonly lanes = computed(() => {
    const project = this.open.project();
    if (!project) return [];
    const first = Math.max(0, Math.floor((this.scale.scrollTopPx() - ABOVE_PX) / ROW_PX));
    const count = Math.ceil(this.scale.heightPx() / ROW_PX) + 2;
    return this.cameras()
      .slice(first, first + count)
      .map((camera, i) => {
        const { used, moves } = cameraLane(project, this.open.id(), camera.id);
        return { camera, topPx: (first + i) * ROW_PX, used: this.scale.drawn(used), moves: this.scale.drawn(moves) };
      });
  });
  protected readonly current = computed(() => this.selection.current()?.shot);
  /** Cameras whose piece under the shot at the playhead was thrown away. */
  protected readonly away = computed(() => new Set(this.current()?.without ?? []));

  /** Cuts to the camera: at the frame that is seen. */
  protected switch(camera: Camera): void {
    this.live.to(camera.id);
  }

  /** A press in a lane: live while it plays, else the playhead goes there. */
  protected press(event: MouseEvent, camera: Camera): void {
    if (this.playhead.playing()) this.live.to(camera.id);
    else this.goTo(event);
  }

  /** Goes to the place and cuts to the camera there. */
  protected cutThere(event: MouseEvent, camera: Camera): void {
    this.goTo(event);
    this.live.to(camera.id);
  }

  private goTo(event: MouseEvent): void {
    const box = (event.currentTarget as Element).getBoundingClientRect();
    this.playhead.goTo(Math.floor((event.clientX - box.left) / this.scale.framePx()));
  }

  protected throwAway(camera: Camera): void {
    const shot = this.current();
    if (shot) this.edits.run((project) => throwPiece(project, shot.id, camera.id, !this.away().has(camera.id)));
  }
}
