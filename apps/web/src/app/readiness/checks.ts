import { computed, inject, Injectable } from '@angular/core';
import type { Finding, Project, Step } from '@arvex/core';
import { cutOf, findingsOf } from '@arvex/core';
import { Metering } from '../features/cameras';
import { Playhead } from '../session';
import { ProjectStore } from '../data';
import { Selection } from '../session';
import { Viewing } from '../session';
import { Watching } from '../features/cameras';

/** Farther than this off the meter is taken for a mistake, stops. */
const MOST_STOPS_OFF = 2;

/** Readiness: what would spoil the output, and the way to each mend. */
@Injectable({ providedIn: 'root' })
export class Checks {
  private readonly store = inject(ProjectStore);
  private readonly playhead = inject(Playhead);
  private readonly viewing = inject(Viewing);
  private readonly selection = inject(Selection);
  private readonly metering = inject(Metering);
  private readonly watching = inject(Watching);

  readonly all = computed<readonly Finding[]>(() => {
    const project = this.store.project();
    return project ? [...findingsOf(project), ...this.measured(project)] : [];
  });

  /** What only the picture can tell: exposure off the meter, things that the clips cut. */
  private measured(project: Project): Finding[] {
    const found: Finding[] = [];
    for (const { cameraId, over } of this.metering.readings().values()) {
      const camera = project.cameras[cameraId];
      if (!camera || Math.abs(over) <= MOST_STOPS_OFF) continue;
      const message = `${camera.name} is ${Math.abs(over).toFixed(1)} stops ${over > 0 ? 'over' : 'under'} the meter`;
      found.push({
        code: 'exposure-off',
        step: 'cameras',
        card: 'exposure',
        cameraId,
        message,
        mend: 'Look at the light',
      });
    }
    const cut = this.watching.cut();
    const camera = project.cameras[cut?.cameraId ?? ''];
    for (const side of ['near', 'far'] as const) {
      const thing = cut?.[side];
      if (!camera || thing === undefined) continue;
      const message = `The ${side} clip of ${camera.name} cuts ${thing} in frame`;
      found.push({
        code: 'clipped',
        step: 'cameras',
        card: 'place',
        cameraId: camera.id,
        message,
        mend: 'Move the clip',
      });
    }
    return found;
  }

  in(step: Step): readonly Finding[] {
    return this.all().filter((finding) => finding.step === step);
  }

  /** Goes to where a finding is mended. */
  mend(finding: Finding): void {
    const project = this.store.project();
    if (finding.fix && project) {
      this.store.commit(finding.fix(project));
      return;
    }
    this.viewing.step.set(finding.step);
    if (finding.card) this.viewing.openCard.set(finding.card);
    if (finding.cameraId !== undefined) this.playhead.lookThrough(finding.cameraId);
    if (finding.placementId !== undefined) this.selection.set(finding.placementId);
    if (finding.shotId === undefined) return;
    this.playhead.toMode('cut');
    const place =
      project && cutOf(project, this.playhead.sequenceId()).shots.find(({ shot }) => shot.id === finding.shotId);
    if (place) this.playhead.goTo(place.startFrame);
  }
}
