import { inject, Injectable } from '@angular/core';
import type { RigKind } from '@arvex/core';
import { bakeRig, changeRig, rigAround } from '@arvex/core';
import { StageHost } from '../../drawing';
import { Viewpoint } from '../../session';
import { Moves } from './moves';

/** Height over the camera from which the ground under it is looked for, metres. */
const OVER_M = 0.5;

/** Putting the edited camera on another rig. */
@Injectable({ providedIn: 'root' })
export class Rigs {
  private readonly viewpoint = inject(Viewpoint);
  private readonly moves = inject(Moves);
  private readonly host = inject(StageHost);

  /** Puts the camera on another rig, from the pose that is seen; it goes the way it went, and how closely is said. */
  async put(kind: RigKind): Promise<void> {
    const [state, camera] = [this.viewpoint.state(), this.viewpoint.camera()];
    if (!state || !camera || camera.rig.kind === kind) return;
    const [x, y, z] = state.positionM;
    const [ground] = await this.host.groundUnder([[x, y, z]], OVER_M, []);
    this.moves.editClosely((project, cameraId, atFlicks) =>
      changeRig(project, cameraId, rigAround(project, cameraId, kind, atFlicks, ground ?? 0), atFlicks),
    );
  }

  bake(): void {
    this.moves.editClosely((project, cameraId, at) => bakeRig(project, cameraId, at));
  }
}
