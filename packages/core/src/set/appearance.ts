import type { Placement, Project } from '../model';
import { fingerprintOf } from '../model';
import { isMoving, isShown, placementAt } from './placement-at';

/** The part of a project that a picture of its set is drawn from. */
type DrawnTables = Pick<Project, 'sets' | 'assets' | 'placements'>;

interface Standing {
  /** What does not change over time. */
  readonly fingerprint: string;
  readonly moving: readonly Placement[];
}

const known = new WeakMap<DrawnTables['placements'], { seen: DrawnTables; standing: Standing }>();

/**
 * A text that is the same for two scene times, or two states of a project, only where the set looks alike at them: what things are,
 * how they are lit, and where those that move are just then. Names, locks and who is a subject are not seen.
 * @param atFlicks scene time in flicks.
 */
export function appearanceAt(seen: DrawnTables, atFlicks: number): string {
  const { fingerprint, moving } = standing(seen);
  if (moving.length === 0) return fingerprint;
  return fingerprint + fingerprintOf(moving.map(({ id }) => placementAt(seen, id, atFlicks)));
}

/** The same for one time after another costs no more than the things that move. */
function standing(seen: DrawnTables): Standing {
  const found = known.get(seen.placements);
  if (found?.seen.sets === seen.sets && found.seen.assets === seen.assets) return found.standing;
  const placements = Object.values(seen.placements).filter((placement) => isShown(seen, placement));
  const moving = placements.filter((placement) => isMoving(seen, placement));
  const still = new Set(placements);
  moving.forEach((placement) => still.delete(placement));
  const fingerprint = fingerprintOf([
    Object.values(seen.sets).map((set) => ({ ...set, revision: 0, name: 0 })),
    Object.values(seen.assets).map(({ id, file }) => [id, file.hash]),
    [...still].map(looks),
    moving.map((placement) => ({ ...looks(placement), motion: 0, positionM: 0, panDeg: 0, tiltDeg: 0, rollDeg: 0 })),
  ]);
  const made = { fingerprint, moving };
  known.set(seen.placements, { seen, standing: made });
  return made;
}

function looks(placement: Placement): object {
  return { ...placement, revision: 0, name: 0, locked: 0, subject: 0 };
}
