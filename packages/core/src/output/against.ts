import { cameraFindings, coverageFindings, isMeant } from '../checks';
import type { Finding } from '../checks';
import type { Project } from '../model';
import { cutOf, pictureAt } from '../sequence';
import { chosenFormats, LARGEST_SIDE_PX, MOVIE_FORMATS, PICTURE_FORMATS } from './formats';
import { frameViews } from './frame-files';
import type { OrderNumber } from './names';
import { nameProblems } from './names';
import type { RenderOrder } from './order';
import type { OrderPart } from './part';
import { framesOfPart } from './part';
import { outputSize } from './size';

/** Frames of one part, at most: more than an hour at 24 a second. */
const MOST_PART_FRAMES = 100_000;

/** What stands against an order: what it cannot be given with, and what one may go on with knowingly. */
export interface Against {
  readonly stops: boolean;
  readonly message: string;
  /** What of the order is to be changed. */
  readonly where?: 'what' | 'frames' | 'size' | 'formats' | 'names' | 'places' | 'background' | 'panorama' | 'stereo';
  /** What of the work is to be mended. */
  readonly finding?: Finding;
}

/** Findings without which nothing can be rendered. */
const STOPPING: ReadonlySet<Finding['code']> = new Set(['sequence-empty', 'shot-without-camera']);

/** Everything that stands against an order, what stops it first. */
export function againstOrder(
  project: Project,
  order: RenderOrder,
  parts: readonly OrderPart[],
  number: OrderNumber,
): Against[] {
  const steps = checkingOrder(project, order, parts, number);
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}

/** The same in steps, none of which takes long, whatever is ordered: between two of them others are served. */
export function* checkingOrder(
  project: Project,
  order: RenderOrder,
  parts: readonly OrderPart[],
  number: OrderNumber,
): Generator<void, Against[]> {
  const found = workAgainst(project, order, parts);
  yield;
  if (parts.length === 0) found.push(...nothingToRender(order));
  found.push(...sizeAgainst(order, parts), ...formatsAgainst(order, parts));
  yield;
  for (const { message } of nameProblems(project, order, parts, number)) {
    found.push({ stops: true, where: 'names', message });
  }
  return found.sort((a, b) => Number(b.stops) - Number(a.stops));
}

function nothingToRender({ what, frames }: RenderOrder): Against[] {
  if (frames.range) {
    const message = `No frame lies between ${frames.range.first} and ${frames.range.last}. Choose other frames.`;
    return [{ stops: true, where: 'frames', message }];
  }
  const none = {
    cut: 'The cut has no shots',
    shots: 'No shot is chosen that is there',
    cameras: 'No camera is chosen that is there',
  };
  const message = `${what.kind in none ? none[what.kind as keyof typeof none] : 'This frame is not there'}.`;
  return [{ stops: true, where: 'what', message }];
}

/** What readiness knows of the shots and cameras that are rendered. */
function workAgainst(project: Project, order: RenderOrder, parts: readonly OrderPart[]): Against[] {
  const { what } = order;
  const shots = new Set<string>();
  const cameras = new Set<string>();
  for (const { subject } of parts) {
    if (subject.kind === 'camera') cameras.add(subject.cameraId);
    else if (subject.kind === 'shot') shots.add(subject.shotId);
    else if (what.kind !== 'still') cutOf(project, subject.sequenceId).shots.forEach(({ shot }) => shots.add(shot.id));
  }
  if (what.kind === 'still') {
    const seen = pictureAt(project, what.sequenceId, what.frame);
    if (seen?.shot) shots.add(seen.shot.id);
  }
  for (const id of shots) {
    const cameraId = project.shots[id]?.cameraId;
    if (cameraId != null) cameras.add(cameraId);
  }
  const sequenceId = 'sequenceId' in what ? what.sequenceId : undefined;
  const ofShots = coverageFindings(project)
    .filter((finding) => !isMeant(project, finding))
    .filter(({ shotId, code }) =>
      shotId === undefined ? code === 'sequence-empty' && isEmpty(project, sequenceId) : shots.has(shotId),
    );
  const ofCameras = cameraFindings(project).filter(
    ({ cameraId, code }) => code === 'delivery-unset' || (cameraId !== undefined && cameras.has(cameraId)),
  );
  return [...ofShots, ...ofCameras].map((finding) => ({
    stops: STOPPING.has(finding.code),
    message: finding.message,
    finding,
  }));
}

function isEmpty(project: Project, sequenceId: string | undefined): boolean {
  return sequenceId !== undefined && cutOf(project, sequenceId).shots.length === 0;
}

function sizeAgainst(order: RenderOrder, parts: readonly OrderPart[]): Against[] {
  const found: Against[] = [];
  for (const part of parts) {
    const { widthPx, heightPx } = outputSize(order, part);
    const count = framesOfPart(part);
    if (
      widthPx > LARGEST_SIDE_PX * 2 ||
      heightPx > LARGEST_SIDE_PX * 2 ||
      widthPx * heightPx > LARGEST_SIDE_PX ** 2 / 2
    ) {
      const message = `${part.title} would be ${widthPx} × ${heightPx}; up to ${LARGEST_SIDE_PX} × ${LARGEST_SIDE_PX / 2} pixels are drawn. Make it smaller.`;
      found.push({ stops: true, where: 'size', message });
    }
    if (count > MOST_PART_FRAMES) {
      const message = `${part.title} has ${count} frames; one run takes up to ${MOST_PART_FRAMES}. Choose a range.`;
      found.push({ stops: true, where: 'frames', message });
    }
    const odd = widthPx % 2 === 1 || heightPx % 2 === 1;
    if (
      odd &&
      order.oddSizes === 'refuse' &&
      order.formats.movies.some(({ codec }) => MOVIE_FORMATS[codec].wantsEven)
    ) {
      const message = `${part.title} would be ${widthPx} × ${heightPx}, and H.264 wants even sizes. Change it, or let a row be added.`;
      found.push({ stops: true, where: 'size', message });
    }
  }
  return found.slice(0, 3);
}

function formatsAgainst(order: RenderOrder, parts: readonly OrderPart[]): Against[] {
  const { formats, background, panorama, stereo, places, look, shading } = order;
  const { movies, layers } = formats;
  const found: Against[] = [];
  const stops = (where: Against['where'] & string, message: string) => found.push({ stops: true, where, message });
  const chosen = chosenFormats(formats.pictures);
  const linear = chosen.filter(({ format }) => format.holds === 'linear');
  const [light] = linear;
  if (movies.length === 0 && chosen.length === 0)
    stops('formats', 'Nothing would be made. Choose a movie or pictures.');
  if (!places.zip && !places.folder) stops('places', 'There is no place for it to go. Choose a zip or a folder.');
  if (background.kind === 'transparent') {
    for (const { codec } of movies) {
      const { hasAlpha, codecName } = MOVIE_FORMATS[codec];
      if (!hasAlpha)
        stops('formats', `${codecName} has no transparency. Choose ${CLEAR_MOVIES}, or another background.`);
    }
    for (const { format } of chosen) {
      if (format.hasAlpha) continue;
      stops('formats', `${format.name} has no transparency. Choose ${CLEAR_PICTURES}, or another background.`);
    }
  }
  if (frameViews(order).length > 2 && movies.length > 0)
    stops('formats', 'Six faces are no movie. Lay them as a cross or a strip, or choose pictures.');
  const widest = Math.max(0, ...parts.map((part) => outputSize(order, part).widthPx));
  const narrow = movies
    .map(({ codec }) => MOVIE_FORMATS[codec].largestSidePx)
    .find((most) => panorama && widest > most);
  if (narrow !== undefined)
    stops('formats', `No movie is wider than ${narrow} pixels. Choose pictures, or a smaller panorama.`);
  if (layers.lightGroups && !light) stops('formats', 'Light groups are kept apart in EXR. Choose it.');
  if (stereo?.layout === 'anaglyph' && light)
    stops('stereo', 'An anaglyph is for the eye and has no linear light. Leave EXR out, or choose two files.');
  if (panorama && background.kind === 'transparent' && background.shadow)
    stops('background', 'All round no shadow is caught. Leave the shadows out, or choose a flat picture.');
  if (panorama && light && (layers.depth || layers.masks))
    stops('formats', 'Depth and masks are of flat pictures. Leave them out of a panorama.');
  if (panorama && (shading === 'lines' || shading === 'lines-over' || shading === 'depth'))
    stops('panorama', 'Lines and depth are of flat pictures. Choose another shading for a panorama.');
  for (const { format } of chosen) {
    const most = format.largestSidePx;
    // What no format holds is said of the size itself.
    if (most < LARGEST_SIDE_PX && widest > most && widest <= LARGEST_SIDE_PX)
      stops('formats', `${format.name} is written up to ${most} pixels wide. Make it smaller, or choose PNG.`);
  }
  if (!look && light && linear.length === chosen.length && movies.length === 0)
    found.push({ stops: false, where: 'formats', message: 'EXR is linear light: the look is never in it.' });
  return found;
}

const either = (names: readonly string[]): string => names.join(' or ');
/** What can be chosen in the place of formats without transparency. */
const CLEAR_MOVIES = either(Object.values(MOVIE_FORMATS).flatMap(({ hasAlpha, words }) => (hasAlpha ? [words] : [])));
const CLEAR_PICTURES = either(
  Object.values(PICTURE_FORMATS).flatMap(({ hasAlpha, holds, name }) => (hasAlpha && holds === 'shown' ? [name] : [])),
);
