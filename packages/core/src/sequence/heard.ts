import type { Sequence, Sound } from '../model';
import { FLICKS_PER_SECOND } from '../time';

/** Samples a second in which sound is counted, played and mixed, whatever its file has. */
export const SOUND_RATE = 48_000;

const FLICKS_PER_SAMPLE = FLICKS_PER_SECOND / SOUND_RATE; // a whole number: 14 700

/** The sample that is heard at a time in flicks: the nearest one. */
export const sampleAt = (flicks: number): number => Math.round(flicks / FLICKS_PER_SAMPLE);
const sampleOf = (seconds: number): number => Math.round(seconds * SOUND_RATE);

/** A stretch of a sequence that plays, flicks from its beginning; round and round where it loops. */
export interface PlayedStretch {
  readonly firstFlicks: number;
  /** Its end, not included. */
  readonly endFlicks: number;
  /** Where playing began. */
  readonly startFlicks: number;
  readonly loops: boolean;
}

/** A part of a piece of sound that is heard without a break. Whole samples throughout. */
export interface HeardPart {
  readonly sound: Sound;
  /** Since playing began. */
  readonly at: number;
  readonly count: number;
  /** Where it begins in its file. */
  readonly fileFrom: number;
  /** How loud it is, times as it is in its file, at samples since its beginning: between them evenly. */
  readonly gains: readonly (readonly [after: number, gain: number])[];
}

/** Pieces that are not muted, nor in a muted lane. */
export function audible(sounds: readonly Sound[], { mutedLanes }: Pick<Sequence, 'mutedLanes'>): readonly Sound[] {
  return sounds.filter(({ muted, lane }) => !muted && !mutedLanes.includes(lane));
}

/**
 * What is heard between two samples since playing began, the second not included. Where the stretch loops, one round follows the other
 * without a gap, and no round strays from the pictures: each begins at the sample nearest to its own time.
 */
export function heardBetween(sounds: readonly Sound[], played: PlayedStretch, from: number, to: number): HeardPart[] {
  const { firstFlicks, endFlicks, startFlicks, loops } = played;
  const lengthFlicks = endFlicks - firstFlicks;
  if (!(lengthFlicks > 0)) return []; // a stretch without length
  /** When a round begins, since playing began. */
  const roundAt = (round: number) => sampleAt((round === 0 ? 0 : round * lengthFlicks) + firstFlicks - startFlicks);
  const parts: HeardPart[] = [];
  const begun = Math.max(0, from);
  const firstRound = Math.floor((begun * FLICKS_PER_SAMPLE + startFlicks - firstFlicks) / lengthFlicks);
  // One round earlier: its end is rounded, and may be heard still.
  for (let round = Math.max(0, firstRound - 1); round === 0 || loops; round++) {
    const at = roundAt(round);
    if (at >= to) break;
    const [begin, end] = [Math.max(begun, at), Math.min(to, roundAt(round + 1))];
    if (end <= begin) continue;
    const inside = sampleAt(firstFlicks) + begin - at;
    parts.push(...sounds.flatMap((sound) => partOf(sound, inside, inside + end - begin, begin)));
  }
  return parts;
}

/** What of a piece is heard between two samples of its sequence. */
function partOf(sound: Sound, fromSample: number, toSample: number, at: number): HeardPart[] {
  const [begins, length] = [sampleAt(sound.startFlicks), sampleOf(sound.lengthS)];
  const [from, to] = [Math.max(fromSample, begins), Math.min(toSample, begins + length)];
  if (to <= from) return [];
  const [after, count] = [from - begins, to - from];
  const corners = [sampleOf(sound.fadeInS), length - sampleOf(sound.fadeOutS)].filter(
    (corner) => corner > after && corner < after + count,
  );
  const gains = [after, ...corners, after + count].map((place) => [place - after, gainAt(sound, place)] as const);
  return [{ sound, at: at + from - fromSample, count, fileFrom: sampleOf(sound.trimS) + after, gains }];
}

/** How loud a piece is so many samples after its beginning, times as it is in its file: its gain, faded evenly at its ends. */
function gainAt({ gainDb, lengthS, fadeInS, fadeOutS }: Sound, after: number): number {
  const afterS = after / SOUND_RATE;
  const into = fadeInS === 0 ? 1 : Math.min(1, afterS / fadeInS);
  const out = fadeOutS === 0 ? 1 : Math.min(1, (lengthS - afterS) / fadeOutS);
  return 10 ** (gainDb / 20) * Math.max(0, Math.min(into, out));
}
