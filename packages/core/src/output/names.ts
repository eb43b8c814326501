import { wornVariation } from '../camera';
import { fileNamePart } from '../facts';
import type { Project } from '../model';
import { pictureAt } from '../sequence';
import { chosenFormats } from './formats';
import type { RenderOrder } from './order';
import type { OrderPart } from './part';
import { framesOfPart, partFrame } from './part';

/** What is known of an order once it is given. */
export interface OrderNumber {
  /** `v001`. */
  readonly version: string;
  /** Day on which it was given, `2026-11-27`. */
  readonly date: string;
}

/** The day of an order, as it is where it is given. */
export function dayOf(now: Date): string {
  const two = (n: number) => String(n).padStart(2, '0');
  return `${now.getFullYear()}-${two(now.getMonth() + 1)}-${two(now.getDate())}`;
}

/** Words that stand for something in a name, and what they stand for. */
export const NAME_WORDS = {
  project: 'the project',
  sequence: 'the sequence',
  shot: 'the shot',
  camera: 'the camera',
  take: 'the take of the shot',
  variation: 'the variation that is seen, or main',
  version: 'the version, counted up',
  part: 'the sequence, shot or camera that is rendered',
  frame: 'the frame, four digits; {frame:6} has six',
  date: 'the day of the order',
} as const;
type NameWord = keyof typeof NAME_WORDS;

/** `{word}`, or `{word:digits}`. */
const WORD = /\{([a-z]+)(?::(\d{1,2}))?\}/g;

const FRAME_DIGITS = 4;

/** What its words stand for at one frame. */
type Meanings = Readonly<Record<Exclude<NameWord, 'frame'>, string>> & { readonly frame: number | string };

/** Words of a pattern that stand for nothing. */
function unknownWords(pattern: string): string[] {
  return [...pattern.matchAll(/\{([^}]*)\}?/g)]
    .filter(([whole, inner]) => {
      const word = inner?.split(':')[0] ?? '';
      return !Object.hasOwn(NAME_WORDS, word) || !new RegExp(`^${WORD.source}$`).test(whole);
    })
    .map(([whole]) => whole);
}

function filled(pattern: string, meanings: Meanings): string {
  return pattern.replace(WORD, (whole, word: string, digits?: string) => {
    if (!Object.hasOwn(meanings, word)) return whole;
    const meaning = meanings[word as NameWord];
    if (word === 'frame' && typeof meaning === 'number') {
      const text = String(Math.abs(meaning)).padStart(Number(digits ?? FRAME_DIGITS), '0');
      return meaning < 0 ? `-${text}` : text;
    }
    return fileNamePart(String(meaning));
  });
}

/** What the words of a name stand for, of a part or of one of its frames. */
function meaningsOf(project: Project, part: OrderPart, number: OrderNumber, index?: number): Meanings {
  const { subject } = part;
  const sequenceId = subject.kind === 'camera' ? undefined : subject.sequenceId;
  const frame = index === undefined ? undefined : partFrame(part, index);
  const shot = frame && shotOf(project, part, frame);
  const cameraId =
    subject.kind === 'camera' ? subject.cameraId : frame?.kind === 'slate' ? frame.cameraId : shot?.cameraId;
  const camera = project.cameras[cameraId ?? ''];
  return {
    project: project.head.name,
    sequence: project.sequences[sequenceId ?? '']?.name ?? part.title,
    shot: shot?.name ?? (subject.kind === 'camera' ? part.title : 'gap'),
    camera: camera?.name ?? (shot?.insideId != null ? (project.sequences[shot.insideId]?.name ?? '') : 'none'),
    take: shot?.takeName ?? 'a',
    variation: camera ? (wornVariation(camera, variationOf(part, shot))?.name ?? 'main') : 'main',
    version: number.version,
    part: part.title,
    date: number.date,
    frame: frame === undefined ? '' : calledBy(frame),
  };
}

/** What a frame is called by in a name: its number, or the place of a slate. */
function calledBy(frame: ReturnType<typeof partFrame>): number | string {
  return frame.kind === 'slate' ? `slate-${String(frame.place).padStart(2, '0')}` : frame.number;
}

/** The variation that a part asks for, else its shot. */
function variationOf({ subject }: OrderPart, shot: ReturnType<typeof shotOf>): string | null {
  return (subject.kind === 'cut' ? null : subject.variationId) ?? shot?.variationId ?? null;
}

/** The shot that a frame of a part is of; nobody's in a gap, and of a camera by itself. */
export function shotOf(project: Project, { subject }: OrderPart, frame: ReturnType<typeof partFrame>) {
  if (frame.kind === 'slate') return frame.shotId === null ? undefined : project.shots[frame.shotId];
  if (subject.kind === 'shot') return project.shots[subject.shotId];
  return subject.kind === 'cut' ? pictureAt(project, subject.sequenceId, frame.source)?.shot : undefined;
}

/** Folder of a part, without a `/` at its ends. */
export function folderOf(project: Project, order: RenderOrder, part: OrderPart, number: OrderNumber): string {
  const { folder } = order.names;
  return filled(folder, meaningsOf(project, part, number))
    .replace(/\/{2,}/g, '/')
    .replace(/^\/|\/$/g, '');
}

/** Name of a frame's file, without ending. */
export function frameFileName(
  project: Project,
  order: RenderOrder,
  part: OrderPart,
  number: OrderNumber,
  index: number,
): string {
  return filled(order.names.frames, meaningsOf(project, part, number, index));
}

/** Name of a movie's file, without ending. */
export function movieFileName(project: Project, order: RenderOrder, part: OrderPart, number: OrderNumber): string {
  return filled(order.names.movie, meaningsOf(project, part, number, 0));
}

/** What stands against a set of names, in words that say the way out. */
export interface NameProblem {
  /** Which pattern of the order is to be changed. */
  readonly where: keyof RenderOrder['names'];
  readonly message: string;
}

/** Characters that some file system refuses (Windows, macOS, Linux), and those that have no print. */
// eslint-disable-next-line no-control-regex -- these are what it looks for
const REFUSED = /[<>:"\\|?*\u0000-\u001f\u007f]/;

/** Names that Windows keeps for devices, whatever their ending. */
const DEVICE = /^(con|prn|aux|nul|com[0-9]|lpt[0-9])(\.|$)/i;

/** Longest name of one file or folder on common file systems, bytes, with room for an ending; and of a whole path. */
const [MOST_NAME_BYTES, MOST_PATH_BYTES] = [200, 240];

/** Everything that keeps the names of an order from becoming files. */
export function nameProblems(
  project: Project,
  order: RenderOrder,
  parts: readonly OrderPart[],
  number: OrderNumber,
): NameProblem[] {
  const { names } = order;
  const found: NameProblem[] = [];
  for (const where of ['folder', 'frames', 'movie'] as const) {
    const [unknown] = unknownWords(names[where]);
    if (unknown !== undefined) {
      found.push({ where, message: `${unknown} stands for nothing in a name. Use ${wordsSaid(where)}.` });
    }
  }
  if (names.folder.includes('{frame'))
    found.push({ where: 'folder', message: 'A folder has no frame; take {frame} out.' });
  if (names.frames.includes('/'))
    found.push({ where: 'frames', message: 'Write folders in the folder’s name, not here.' });
  if (names.movie.includes('/'))
    found.push({ where: 'movie', message: 'Write folders in the folder’s name, not here.' });
  if (found.length > 0) return found;
  return [...refusedNames(project, order, parts, number), ...sharedNames(project, order, parts, number)];
}

const wordsSaid = (where: keyof RenderOrder['names']) =>
  (Object.keys(NAME_WORDS) as NameWord[])
    .filter((word) => where === 'frames' || word !== 'frame')
    .map((word) => `{${word}}`)
    .join(' ');

function refusedNames(project: Project, order: RenderOrder, parts: readonly OrderPart[], number: OrderNumber) {
  const found = new Map<keyof RenderOrder['names'], string>();
  // As UTF-8: each byte that is not plain is written as % and two digits.
  const bytes = (text: string) => encodeURIComponent(text).replace(/%../g, '_').length;
  for (const part of parts) {
    const folder = folderOf(project, order, part, number);
    const frame = frameFileName(project, order, part, number, 0);
    const movie = movieFileName(project, order, part, number);
    const all = [
      ...folder
        .split('/')
        .filter(Boolean)
        .map((one) => ['folder', one] as const),
      ['frames', frame] as const,
      ['movie', movie] as const,
    ];
    for (const [where, name] of all) {
      const refused = REFUSED.exec(name)?.[0];
      if (refused !== undefined)
        found.set(where, `"${name}" has ${JSON.stringify(refused)}, which some file systems refuse. Take it out.`);
      else if (DEVICE.test(name))
        found.set(where, `"${name}" is a name that Windows keeps for a device. Choose another.`);
      else if (/^\.|[. ]$/.test(name)) found.set(where, `"${name}" begins or ends with a dot or a space. Take it off.`);
      else if (bytes(name) > MOST_NAME_BYTES)
        found.set(where, `"${name.slice(0, 40)}…" is longer than ${MOST_NAME_BYTES} bytes. Shorten it.`);
      else if (bytes(folder) + bytes(name) > MOST_PATH_BYTES)
        found.set('folder', `"${folder}/${name}" is longer than ${MOST_PATH_BYTES} bytes. Shorten it.`);
    }
  }
  return [...found].map(([where, message]): NameProblem => ({ where, message }));
}

/** Files that would be written twice. Names that differ only in capitals are one file to some file systems. */
function sharedNames(
  project: Project,
  order: RenderOrder,
  parts: readonly OrderPart[],
  number: OrderNumber,
): NameProblem[] {
  const { formats, names } = order;
  const makesFrames = chosenFormats(formats.pictures).length > 0;
  const several = parts.find((part) => framesOfPart(part) > 1);
  if (makesFrames && several && !names.frames.includes('{frame')) {
    const frame = frameFileName(project, order, several, number, 0);
    const message = `Several frames of ${several.title} would be ${frame}. Put {frame} in the name.`;
    return [{ where: 'frames', message }];
  }
  const inFolders = new Map<string, OrderPart[]>();
  for (const part of parts) {
    const key = folderOf(project, order, part, number).toLowerCase();
    inFolders.set(key, [...(inFolders.get(key) ?? []), part]);
  }
  // The frames of one part have numbers of their own, and its slates too: only parts in one folder can meet.
  for (const together of inFolders.values()) {
    if (together.length < 2) continue;
    const both = (one: OrderPart, other: OrderPart, name: string) =>
      `${one.title} and ${other.title} would both be ${name}. Put {part} in a name.`;
    const facts = firstShared(together, (part) => fileNamePart(part.title));
    if (facts) return [{ where: 'folder', message: both(...facts.parts, `${facts.name}.json`) }];
    const movies =
      formats.movies.length > 0 && firstShared(together, (part) => movieFileName(project, order, part, number));
    if (movies) return [{ where: 'movie', message: both(...movies.parts, movies.name) }];
    const frames =
      makesFrames &&
      sharedFrame(
        together,
        (part) => filled(order.names.frames, { ...meaningsOf(project, part, number, 0), frame: '#' }),
        (part, index) => frameFileName(project, order, part, number, index),
      );
    if (frames) return [{ where: 'frames', message: both(...frames.parts, frames.name) }];
  }
  return [];
}

interface Shared {
  readonly parts: readonly [OrderPart, OrderPart];
  readonly name: string;
}

/** The first two parts with one name. */
function firstShared(parts: readonly OrderPart[], nameOf: (part: OrderPart) => string): Shared | undefined {
  const owners = new Map<string, OrderPart>();
  for (const part of parts) {
    const name = nameOf(part);
    const owner = owners.get(name.toLowerCase());
    if (owner) return { parts: [owner, part], name };
    owners.set(name.toLowerCase(), part);
  }
  return undefined;
}

/**
 * Two parts of which a frame has one name. Within a part only the number of the frame changes in it (a cut is no part beside others): of
 * parts that are called alike but for the number, the numbers are compared.
 */
function sharedFrame(
  parts: readonly OrderPart[],
  baseOf: (part: OrderPart) => string,
  nameOf: (part: OrderPart, index: number) => string,
): Shared | undefined {
  const alike = new Map<string, OrderPart[]>();
  for (const part of parts) {
    const base = baseOf(part).toLowerCase();
    alike.set(base, [...(alike.get(base) ?? []), part]);
  }
  for (const some of alike.values()) {
    if (some.length < 2) continue;
    const owners = new Map<number | string, OrderPart>();
    for (const part of some) {
      const count = Math.min(MOST_LOOKED_AT, framesOfPart(part));
      for (let index = 0; index < count; index++) {
        const called = calledBy(partFrame(part, index));
        const owner = owners.get(called);
        if (owner && owner !== part) return { parts: [owner, part], name: nameOf(part, index) };
        owners.set(called, part);
      }
    }
  }
  return undefined;
}

/** So many frames of a part are looked at for names that are shared: those that share one share the first of them. */
const MOST_LOOKED_AT = 2000;
