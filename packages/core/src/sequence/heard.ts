import type { Sequence, Sound } from '../model';
import { FLICKS_PER_SECOND } from '../time';

/** A stretch of a sequence that plays, seconds from its beginning; round and round where it loops. */
export interface PlayedStretch {
  readonly firstS: number;
  /** Its end, not included. */
  readonly endS: number;
  /** Where playing began. */
  readonly startS: number;
  readonly loops: boolean;
}

/** A part of a piece of sound that is heard without a break. Seconds throughout. */
export interface HeardPart {
  readonly sound: Sound;
  /** Since playing began. */
  readonly atS: number;
  readonly seconds: number;
  /** Where it begins in its file. */
  readonly fileS: number;
  /** How loud it is, times as it is in its file, at times since its beginning: between them evenly. */
  readonly gains: readonly (readonly [afterS: number, gain: number])[];
}

/** Pieces that are not muted, nor in a muted lane. */
export function audible(sounds: readonly Sound[], { mutedLanes }: Pick<Sequence, 'mutedLanes'>): readonly Sound[] {
  return sounds.filter(({ muted, lane }) => !muted && !mutedLanes.includes(lane));
}

/** What is heard between two times since playing began, seconds. */
export function heardBetween(sounds: readonly Sound[], played: PlayedStretch, fromS: number, toS: number): HeardPart[] {
  const { firstS, endS, startS, loops } = played;
  const round = endS - firstS;
  const parts: HeardPart[] = [];
  for (let at = Math.max(0, fromS); at < toS;) {
    const gone = startS - firstS + at;
    if (gone >= round && !loops) break;
    const inside = firstS + (gone % round);
    const until = Math.min(toS, at + endS - inside);
    parts.push(...sounds.flatMap((sound) => partOf(sound, inside, inside + until - at, at)));
    if (until <= at) break; // a stretch without length
    at = until;
  }
  return parts;
}

/** What of a piece is heard between two times of its sequence. */
function partOf(sound: Sound, fromS: number, toS: number, atS: number): HeardPart[] {
  const begins = sound.startFlicks / FLICKS_PER_SECOND;
  const [from, to] = [Math.max(fromS, begins), Math.min(toS, begins + sound.lengthS)];
  if (to <= from) return [];
  const after = from - begins;
  const corners = [sound.fadeInS, sound.lengthS - sound.fadeOutS].filter((at) => at > after && at < after + to - from);
  const gains = [after, ...corners, after + to - from].map((at) => [at - after, gainAt(sound, at)] as const);
  return [{ sound, atS: atS + from - fromS, seconds: to - from, fileS: sound.trimS + after, gains }];
}

/** How loud a piece is so long after its beginning, times as it is in its file: its gain, faded evenly at its ends. */
function gainAt({ gainDb, lengthS, fadeInS, fadeOutS }: Sound, afterS: number): number {
  const into = fadeInS === 0 ? 1 : Math.min(1, afterS / fadeInS);
  const out = fadeOutS === 0 ? 1 : Math.min(1, (lengthS - afterS) / fadeOutS);
  return 10 ** (gainDb / 20) * Math.max(0, Math.min(into, out));
}
