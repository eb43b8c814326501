import type { Camera, Move } from '../model';
import type { Pieces } from '../set';
import { unwrappedNear } from '../space';
import { flicksFromSeconds } from '../time';
import { channelValuesAt } from './channel-values';
import { sightOf } from './resolve-aim';

/** A heading is looked up so often at least; between two looks that differ much it is looked up more finely, flicks. */
const STEP = flicksFromSeconds(0.25);

const FINEST = flicksFromSeconds(1 / 192);

/** A heading that turns by more than this between two looks is looked at between them, degrees. */
const MUCH_DEG = 60;

/** Looks that are kept of one camera: an hour of a calm one. */
const MOST_LOOKS = 14_400;

/** Headings of a camera's sight from the scene's beginning on, each going on from the one before. */
interface Headings {
  readonly times: number[];
  readonly pans: number[];
}

interface Known {
  readonly move: Move | undefined;
  readonly placements: Pieces['placements'];
  readonly assets: Pieces['assets'];
  readonly headings: Headings;
}

const known = new WeakMap<Camera, Known>();

/**
 * The pan near which an aimed camera looks at a time, whole turns counted since the scene began: so its pan goes on from frame to
 * frame however often it goes round. It is counted once, as far as it is asked for.
 */
export function headingNear(camera: Camera, move: Move | undefined, pieces: Pieces, atFlicks: number): number {
  const { placements, assets } = pieces;
  let found = known.get(camera);
  if (!found || found.move !== move || found.placements !== placements || found.assets !== assets) {
    const first = panAt(camera, move, pieces, 0, camera.pose.panDeg);
    found = { move, placements, assets, headings: { times: [0], pans: [first] } };
    known.set(camera, found);
  }
  const { times, pans } = found.headings;
  while ((times.at(-1) ?? 0) < atFlicks && times.length < MOST_LOOKS) lookOn(camera, move, pieces, found.headings);
  return pans[nearest(times, atFlicks)] ?? camera.pose.panDeg;
}

/** One look more, as fine as the turning wants it. */
function lookOn(camera: Camera, move: Move | undefined, pieces: Pieces, { times, pans }: Headings): void {
  const [from, pan] = [times.at(-1) ?? 0, pans.at(-1) ?? 0];
  for (let step = STEP; ; step = Math.round(step / 2)) {
    const next = panAt(camera, move, pieces, from + step, pan);
    if (Math.abs(next - pan) > MUCH_DEG && step > FINEST) continue;
    times.push(from + step);
    pans.push(next);
    return;
  }
}

function panAt(camera: Camera, move: Move | undefined, pieces: Pieces, atFlicks: number, near: number): number {
  const sight = sightOf(camera, channelValuesAt(camera, move, atFlicks), pieces, atFlicks);
  return sight ? unwrappedNear(sight.panDeg, near) : near;
}

/** Index of the time that is nearest to one, of times that rise. */
function nearest(times: readonly number[], atFlicks: number): number {
  let [low, high] = [0, times.length - 1];
  while (high - low > 1) {
    const middle = (low + high) >>> 1;
    if ((times[middle] ?? 0) <= atFlicks) low = middle;
    else high = middle;
  }
  return Math.abs((times[high] ?? 0) - atFlicks) < Math.abs((times[low] ?? 0) - atFlicks) ? high : low;
}
