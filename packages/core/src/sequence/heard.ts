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

/** Times nearer to each other than this are one, seconds: a hundredth of a sample. */
const SAME_S = 1e-7;

/** What is heard between two times since playing began, seconds. Where the stretch loops one round follows the other without a gap. */
export function heardBetween(sounds: readonly Sound[], played: PlayedStretch, fromS: number, toS: number): HeardPart[] {
  const { firstS, endS, startS, loops } = played;
  const lengthS = endS - firstS;
  if (!(lengthS > SAME_S)) return []; // a stretch without length
  const parts: HeardPart[] = [];
  const begun = Math.max(0, fromS);
  // Rounds are counted in whole numbers: the end of one is the beginning of the next, to the last bit.
  for (let round = Math.floor((startS - firstS + begun) / lengthS + SAME_S); ; round++) {
    if (round > 0 && !loops) break;
    const roundAt = round * lengthS - (startS - firstS); // when this round begins, since playing began
    const [at, until] = [Math.max(begun, roundAt), Math.min(toS, roundAt + lengthS)];
    if (roundAt >= toS) break;
    if (until <= at) continue;
    const inside = firstS + (at - roundAt);
    parts.push(...sounds.flatMap((sound) => partOf(sound, inside, inside + until - at, at)));
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
