import { sceneSpanOf } from '../camera';
import { possibleTime } from '../light';
import type { Placement, Project } from '../model';
import { camerasInOrder, moveOf } from '../model';
import { stretchesOf } from '../sequence';
import { guessUnit, placementBox } from '../set';
import type { Vector } from '../space';
import { cameraFindings } from './camera-findings';
import { coverageFindings } from './coverage';
import type { Finding } from './finding';
import { isMeant } from './meant';

/** All findings of a project that nobody called meant, in the order of the work. */
export function findingsOf(project: Project): Finding[] {
  const ofCuts = coverageFindings(project).filter((finding) => !isMeant(project, finding));
  return [...setFindings(project), ...cameraFindings(project), ...moveFindings(project), ...ofCuts];
}

function setFindings(project: Project): Finding[] {
  const placements = Object.values(project.placements);
  const sunless = Object.values(project.sets).filter(
    ({ sunFrom, sunPlace }) => sunFrom === 'place' && possibleTime(sunPlace.localTime) !== sunPlace.localTime,
  );
  if (sunless.length > 0) {
    const at = sunless.map(({ sunPlace }) => sunPlace.localTime.replace('T', ' ')).join(', ');
    const message = `There is no ${at}: the sun stands as on the nearest day`;
    return [
      { code: 'sun-impossible', topic: 'set', part: 'daylight', message, mend: 'Choose the date' },
      ...standing(project, placements),
    ];
  }
  return standing(project, placements);
}

function standing(project: Project, placements: readonly Placement[]): Finding[] {
  if (!placements.some((placement) => placement.visible)) {
    return [{ code: 'set-empty', topic: 'set', message: 'Nothing stands in the set', mend: 'Put something in it' }];
  }
  return placements
    .filter(({ piece }) => piece.kind === 'geometry')
    .filter((placement) => guessUnit(sizeOf(project, placement)) !== undefined)
    .map(({ id, name }) => ({
      code: 'size-implausible',
      topic: 'set',
      part: 'piece',
      message: `${name} has an unlikely size; its file may be in another unit`,
      mend: 'Look at its size',
      placementId: id,
    }));
}

function sizeOf(project: Project, placement: Placement): Vector {
  const { minM, maxM } = placementBox(project, placement);
  return [maxM[0] - minM[0], maxM[1] - minM[1], maxM[2] - minM[2]];
}

/** A move none of whose time is in a shot of its camera plays to nobody. */
function moveFindings(project: Project): Finding[] {
  return camerasInOrder(project).flatMap((camera) => {
    const own = stretchesOf(project, camera.id);
    const [from, to] = sceneSpanOf(moveOf(project, camera.id)) ?? [0, 0];
    if (own.length === 0 || from === to) return [];
    const seen = own.some(({ fromFlicks, toFlicks }) => fromFlicks <= to && toFlicks > from);
    if (seen) return [];
    const message = `No shot of ${camera.name} shows its move`;
    return [
      { code: 'move-outside-shots', topic: 'move', message, mend: 'Look at its move', cameraId: camera.id } as const,
    ];
  });
}
