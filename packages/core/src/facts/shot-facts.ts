import type { CameraState } from '../camera';
import { cameraAt, sceneOfMark } from '../camera';
import type { ShotSize } from '../framing';
import { chosenSubject } from '../framing';
import type { Project, Shot } from '../model';
import { moveOf } from '../model';
import { filmBackName } from '../optics';
import type { CutShot } from '../sequence';
import { cutOf, cutTimecode, pictureAt, sceneTimeOf, shotFrameAt } from '../sequence';
import { dot, difference, turned } from '../space';
import { framesInFlicks, framesPerSecond, rateLabel, timecodeAtFrame } from '../time';
import type { DisplayUnit } from '../units';
import { lengthText } from '../units';
import type { Cell } from './frames-table';
import { csvLine } from './frames-table';

/** A shot as a shot list tells it. */
export interface ShotFacts {
  readonly placed: CutShot;
  /** Its place in the cut, from 1. */
  readonly place: number;
  readonly camera: string;
  readonly lensMm: number | undefined;
  readonly stop: number | undefined;
  readonly back: string;
  readonly heightM: number | undefined;
  readonly size: ShotSize | undefined;
  readonly subject: string;
  /** What the camera does: `push in 1.5 m, 3 s`. */
  readonly move: string;
  readonly frames: number;
  readonly seconds: number;
  /** Frame of the cut that is its picture. */
  readonly pictureFrame: number;
}

/** All shots of a cut as a shot list tells them. */
export function shotFacts(project: Project, sequenceId: string): ShotFacts[] {
  return cutOf(project, sequenceId).shots.map((placed, i) => {
    const { shot, frameCount } = placed;
    const camera = project.cameras[shot.cameraId ?? ''];
    const at = pictureFrameOf(project, placed);
    const sceneFlicks = sceneTimeOf(placed, at, project.head.rate);
    const state = camera && cameraAt(project, camera.id, sceneFlicks, undefined, shot.variationId);
    const subject = state && chosenSubject(project, state, sceneFlicks);
    return {
      placed,
      place: i + 1,
      camera: camera ? `${camera.number} ${camera.name}` : (project.sequences[shot.insideId ?? '']?.name ?? ''),
      lensMm: state?.lens.focalLengthMm,
      stop: state?.focus.fStop,
      back: state ? filmBackName(state.filmBack) : '',
      heightM: state?.positionM[1],
      size: subject?.size,
      subject: subject?.placement.name ?? '',
      move: camera ? moveWords(project, placed) : '',
      frames: frameCount,
      seconds: frameCount / framesPerSecond(project.head.rate),
      pictureFrame: placed.startFrame + at,
    };
  });
}

/** The frame of a shot, from 0, that is its picture; its middle where the mark it stood at is not seen in it any more. */
function pictureFrameOf(project: Project, placed: CutShot): number {
  const { shot, frameCount } = placed;
  const middle = Math.floor(frameCount / 2);
  if (shot.poster.kind !== 'mark') return { first: 0, middle, last: frameCount - 1 }[shot.poster.kind];
  const { markId } = shot.poster;
  const move = moveOf(project, shot.cameraId ?? '');
  const mark = move?.marks.find(({ id }) => id === markId);
  return mark ? (shotFrameAt(placed, sceneOfMark(move, mark), project.head.rate) ?? middle) : middle;
}

/** Less than this is no move: metres, degrees, share of the focal length. */
const [LEAST_M, LEAST_DEG, LEAST_ZOOM] = [0.08, 2, 0.03];
/** So many moves are told, the largest first. */
const MOST_TOLD = 2;
/** A metre of travel is as much as so many degrees, and as so much of the focal length. */
const [DEG_A_METRE, ZOOM_A_METRE] = [15, 0.3];

/** What a shot's camera does, in words: from its first frame to its last, and how long it takes. */
function moveWords(project: Project, placed: CutShot): string {
  const { cameraId, variationId } = placed.shot;
  if (cameraId === null) return '';
  const { rate, displayUnit } = project.head;
  const stateAt = (frame: number) =>
    cameraAt(project, cameraId, sceneTimeOf(placed, frame, rate), undefined, variationId);
  const [first, last] = [stateAt(0), stateAt(placed.frameCount - 1)];
  const told = [...travels(first, last, displayUnit), ...turns(first, last), ...zooms(first, last)]
    .sort((a, b) => b.weight - a.weight)
    .slice(0, MOST_TOLD);
  if (told.length === 0) return 'still';
  const seconds = Number((placed.frameCount / framesPerSecond(rate)).toFixed(1));
  return `${told.map(({ words }) => words).join(' and ')}, ${seconds} s`;
}

interface Told {
  readonly words: string;
  readonly weight: number;
}

function travels(first: CameraState, last: CameraState, unit: DisplayUnit): Told[] {
  const way = difference(last.positionM, first.positionM);
  const into = turned([0, 0, -1], first.quaternion);
  const flat = Math.hypot(into[0], into[2]) || 1;
  const ahead = (way[0] * into[0] + way[2] * into[2]) / flat;
  const aside = dot(way, turned([1, 0, 0], first.quaternion));
  const told = (metres: number, plus: string, minus: string): Told[] =>
    Math.abs(metres) < LEAST_M
      ? []
      : [{ words: `${metres > 0 ? plus : minus} ${lengthText(Math.abs(metres), unit)}`, weight: Math.abs(metres) }];
  return [
    ...told(ahead, 'push in', 'pull out'),
    ...told(aside, 'truck right', 'truck left'),
    ...told(way[1], 'rise', 'sink'),
  ];
}

function turns(first: CameraState, last: CameraState): Told[] {
  const told = (angle: number, plus: string, minus: string): Told[] =>
    Math.abs(angle) < LEAST_DEG
      ? []
      : [
          {
            words: `${angle > 0 ? plus : minus} ${Math.abs(angle).toFixed(0)}°`,
            weight: Math.abs(angle) / DEG_A_METRE,
          },
        ];
  return [
    ...told(last.panDeg - first.panDeg, 'pan right', 'pan left'),
    ...told(last.tiltDeg - first.tiltDeg, 'tilt up', 'tilt down'),
    ...told(last.rollDeg - first.rollDeg, 'roll clockwise', 'roll counter-clockwise'),
  ];
}

function zooms(first: CameraState, last: CameraState): Told[] {
  const [from, to] = [first.lens.focalLengthMm, last.lens.focalLengthMm];
  const share = Math.abs(Math.log(to / from));
  if (share < LEAST_ZOOM) return [];
  const words = `zoom ${to > from ? 'in' : 'out'} ${from.toFixed(0)} to ${to.toFixed(0)} mm`;
  return [{ words, weight: share / ZOOM_A_METRE }];
}

/** Columns of a shot list, by the names that its head gives them. */
export const SHOT_COLUMNS = {
  place: 'No.',
  sceneName: 'Scene',
  name: 'Shot',
  description: 'Description',
  spoken: 'Dialogue',
  camera: 'Camera',
  lens: 'Lens',
  back: 'Film back',
  height: 'Height',
  size: 'Size',
  subject: 'Subject',
  move: 'Move',
  take: 'Take',
  stop: 'f-stop',
  from: 'From',
  to: 'To',
  timecodeIn: 'Timecode in',
  timecodeOut: 'Timecode out',
  sceneFrame: 'Scene frame',
  rate: 'Rate',
  scene: 'Scene time',
  frames: 'Frames',
  seconds: 'Seconds',
} as const;

export type ShotColumn = keyof typeof SHOT_COLUMNS;

/** A shot's value in each column: numbers as numbers, in mm, metres and seconds, so that they sort and add up. */
export function shotCells(project: Project, facts: ShotFacts): Readonly<Record<ShotColumn, Cell>> {
  const { placed, lensMm, heightM } = facts;
  const { shot } = placed;
  const { rate, firstFrame } = project.head;
  const rounded = (value: number | undefined, digits: number) =>
    value === undefined ? null : Number(value.toFixed(digits));
  return {
    place: facts.place,
    sceneName: shot.scene,
    name: shot.name,
    description: shot.description,
    spoken: shot.spoken,
    camera: facts.camera,
    lens: rounded(lensMm, 1),
    back: facts.back,
    height: rounded(heightM, 2),
    size: facts.size ?? null,
    subject: facts.subject,
    move: facts.move,
    take: shot.takeName,
    stop: rounded(facts.stop, 1),
    from: firstFrame + placed.startFrame,
    to: firstFrame + placed.startFrame + placed.frameCount - 1,
    timecodeIn: cutTimecode(project, shot.sequenceId, placed.startFrame),
    // As editors count: the frame after its last.
    timecodeOut: cutTimecode(project, shot.sequenceId, placed.startFrame + placed.frameCount),
    sceneFrame: firstFrame + framesInFlicks(placed.sceneStartFlicks, rate),
    rate: rateLabel(rate),
    scene: timecodeAtFrame(Math.max(0, framesInFlicks(placed.sceneStartFlicks, rate)), rate),
    frames: facts.frames,
    seconds: rounded(facts.seconds, 2),
  };
}

/** A shot list as CSV (RFC 4180): a head, then a line for each shot. */
export function shotListCsv(project: Project, facts: readonly ShotFacts[], columns: readonly ShotColumn[]): string {
  const head = csvLine(columns.map((column) => SHOT_COLUMNS[column]));
  return (
    head +
    facts
      .map((one) => {
        const cells = shotCells(project, one);
        return csvLine(columns.map((column) => cells[column]));
      })
      .join('')
  );
}

/** What a shot's picture shows. */
export function posterOf(project: Project, sequenceId: string, { pictureFrame }: ShotFacts) {
  const seen = pictureAt(project, sequenceId, pictureFrame);
  const { cameraId = null, variationId = null, sceneFlicks = 0 } = seen ?? {};
  return { cameraId, variationId, sceneFlicks };
}

/** Names of the pictures that may be chosen for a shot: of its frames, and of the marks that it shows. */
export function postersFor(
  project: Project,
  placed: CutShot,
): readonly { readonly poster: Shot['poster']; readonly name: string }[] {
  const move = moveOf(project, placed.shot.cameraId ?? '');
  const marks = (move?.marks ?? []).filter(
    (mark) => shotFrameAt(placed, sceneOfMark(move, mark), project.head.rate) !== undefined,
  );
  return [
    { poster: { kind: 'first' }, name: 'first frame' },
    { poster: { kind: 'middle' }, name: 'middle frame' },
    { poster: { kind: 'last' }, name: 'last frame' },
    ...marks.map(({ id, name }) => ({ poster: { kind: 'mark' as const, markId: id }, name: `mark ${name}` })),
  ];
}
