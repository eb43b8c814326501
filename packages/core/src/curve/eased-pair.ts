import type { Key } from './curve';

/** How a move begins and ends: shares of its length (0 to 1) over which it gathers and loses speed, and a settle after it. */
export interface Easing {
  readonly easeIn: number;
  readonly easeOut: number;
  /** Seconds that the end is drawn out over, so that the camera never stops dead. */
  readonly settleS: number;
}

export const EASING_DEFAULTS: Easing = { easeIn: 0.35, easeOut: 0.35, settleS: 0.5 };

/** Least length of an ease's handle as a share of the way: a Bézier without any begins at full speed. */
const LINEAR_SHARE = 1 / 3;

/**
 * Two keys from one value to another with an ease: the second stands `settleS` after the move's own length. The same shares
 * for all channels of a move, so that they stay in step: value = from + (to − from) · e(t) for one and the same e.
 */
export function easedPair(
  from: number,
  to: number,
  { atFlicks, lengthFlicks, settleFlicks }: { atFlicks: number; lengthFlicks: number; settleFlicks: number },
  { easeIn, easeOut }: Easing,
): readonly [Key, Key] {
  const whole = lengthFlicks + settleFlicks;
  const rise = to - from;
  const out =
    easeIn > 0
      ? { flicks: Math.round(easeIn * lengthFlicks), value: 0 }
      : { flicks: Math.round(whole * LINEAR_SHARE), value: rise * LINEAR_SHARE };
  const into =
    easeOut > 0 || settleFlicks > 0
      ? { flicks: -Math.round(Math.min(whole, easeOut * lengthFlicks + settleFlicks)), value: 0 }
      : { flicks: -Math.round(whole * LINEAR_SHARE), value: -rise * LINEAR_SHARE };
  return [
    { atFlicks, value: from, shape: 'free', in: { flicks: 0, value: 0 }, out },
    { atFlicks: atFlicks + whole, value: to, shape: 'free', in: into, out: { flicks: 0, value: 0 } },
  ];
}
