import { inject } from '@angular/core';
import type { Finding } from '@arvex/core';
import { ProjectStore } from '../../data';
import type { FindingSource } from '../../readiness';
import { Units } from '../../session';
import { ClipSurvey } from './clip-survey';
import { Meter } from './meter';

/** Farther than this off the meter is taken for a mistake, stops. */
const MOST_STOPS_OFF = 2;

/** Exposures that are off the meter. */
export function exposureFindings(): FindingSource {
  const [store, meter] = [inject(ProjectStore), inject(Meter)];
  return () =>
    [...meter.readings().values()].flatMap(({ cameraId, over }): Finding[] => {
      const camera = store.project()?.cameras[cameraId];
      if (!camera || Math.abs(over) <= MOST_STOPS_OFF) return [];
      const message = `${camera.name} is ${Math.abs(over).toFixed(1)} stops ${over > 0 ? 'over' : 'under'} the meter`;
      const where = { topic: 'camera', part: 'exposure', cameraId } as const;
      return [{ code: 'exposure-off', ...where, message, mend: 'Look at the light' }];
    });
}

/** Things that the near or far clip cuts away in frame, and what stands before all of it. */
export function clipFindings(): FindingSource {
  const [store, survey, units] = [inject(ProjectStore), inject(ClipSurvey), inject(Units)];
  return () => {
    const seen = survey.seen();
    const camera = store.project()?.cameras[seen?.cameraId ?? ''];
    if (!camera) return [];
    const where = { topic: 'camera', part: 'place', cameraId: camera.id } as const;
    const clipped = (['near', 'far'] as const).flatMap((side): Finding[] => {
      const thing = seen?.[side];
      if (thing === undefined) return [];
      const message = `The ${side} clip of ${camera.name} cuts ${thing} in frame`;
      return [{ code: 'clipped', ...where, message, mend: 'Move the clip' }];
    });
    if (!seen?.covered) return clipped;
    const { name, distanceM } = seen.covered;
    const message = `${camera.name} sees nothing but ${name}, ${units.text(distanceM)} before the lens and not sharp`;
    return [...clipped, { code: 'view-covered', ...where, message, mend: 'Look at its place' }];
  };
}
