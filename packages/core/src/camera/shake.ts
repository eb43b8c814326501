import type { Handheld } from '../model';
import type { HeadAngles, Vector } from '../space';
import { FLICKS_PER_SECOND } from '../time';

/** How a hand strays at a moment: metres in the camera's axes, degrees on its head. */
export interface Shake {
  readonly moveM: Vector;
  readonly turn: HeadAngles;
}

/** Octaves of the noise: each faster and fainter than the one before. Ratios are not whole, so that nothing recurs. */
const OCTAVES: readonly { readonly pace: number; readonly strength: number }[] = [
  { pace: 1, strength: 1 },
  { pace: 2.13, strength: 0.45 },
  { pace: 4.37, strength: 0.18 },
];

/** Brings the octaves' sum to about a quarter of the amount (root mean square 0.27): it is reached now and then, and seldom passed. */
const GAIN = 1.7;

/** How a hand strays at a scene time; nothing when it is off. The same on every machine for the same seed. */
export function shakeAt(hand: Handheld, amount: number, atFlicks: number): Shake | undefined {
  const strength = amount * fade(hand, atFlicks);
  if (!hand.on || strength === 0) return undefined;
  const seconds = atFlicks / FLICKS_PER_SECOND;
  const axis = (size: number, hz: number, i: number): number =>
    size === 0 || hz === 0 ? 0 : size * strength * handNoise(hand.seed, i, seconds * hz);
  const { moveMm, moveHz, turnDeg, turnHz } = hand;
  return {
    moveM: [
      axis(moveMm[0], moveHz[0], 0) / 1000,
      axis(moveMm[1], moveHz[1], 1) / 1000,
      axis(moveMm[2], moveHz[2], 2) / 1000,
    ],
    turn: {
      panDeg: axis(turnDeg[0], turnHz[0], 3),
      tiltDeg: axis(turnDeg[1], turnHz[1], 4),
      rollDeg: axis(turnDeg[2], turnHz[2], 5),
    },
  };
}

function fade({ fromFlicks, toFlicks, fadeInS, fadeOutS }: Handheld, atFlicks: number): number {
  const since = fromFlicks === null ? Infinity : (atFlicks - fromFlicks) / FLICKS_PER_SECOND;
  const until = toFlicks === null ? Infinity : (toFlicks - atFlicks) / FLICKS_PER_SECOND;
  if (since < 0 || until < 0) return 0;
  return eased(fadeInS > 0 ? since / fadeInS : 1) * eased(fadeOutS > 0 ? until / fadeOutS : 1);
}

const eased = (share: number): number => {
  const u = Math.max(0, Math.min(1, share));
  return u * u * (3 - 2 * u);
};

/** Smooth noise about 0 in octaves. Only adds, multiplies and whole-number mixing: alike to the last bit everywhere. */
function handNoise(seed: number, axis: number, at: number): number {
  // Bits of the seed that would be shifted out are mixed in again, so that no two seeds are alike.
  const own = (Math.imul(seed, 128) ^ Math.imul(seed >>> 25, 0x9e3779b1)) + axis * 16;
  let sum = 0;
  OCTAVES.forEach(({ pace, strength }, octave) => {
    sum += strength * gradientNoise((own + octave) >>> 0, at * pace + octave * 17.3);
  });
  return GAIN * sum;
}

/** Gradient noise on a line, within ±1/2 (Perlin, 2002: quintic fade). */
function gradientNoise(seed: number, at: number): number {
  const cell = Math.floor(at);
  const f = at - cell;
  const fade = f * f * f * (f * (f * 6 - 15) + 10);
  const left = slope(seed, cell) * f;
  const right = slope(seed, cell + 1) * (f - 1);
  return left + (right - left) * fade;
}

/** A slope from −1 to 1 for a whole number: a finaliser that mixes all bits (Wellons, "prospecting for hash functions"). */
function slope(seed: number, cell: number): number {
  let x = (Math.imul(seed, 0x9e3779b1) + Math.imul(cell | 0, 0x85ebca77)) >>> 0;
  x = Math.imul(x ^ (x >>> 16), 0x21f0aaad);
  x = Math.imul(x ^ (x >>> 15), 0x735a2d97);
  x = (x ^ (x >>> 15)) >>> 0;
  return x / 0x7fffffff - 1;
}
