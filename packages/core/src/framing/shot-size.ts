/** Names of shot sizes from the closest, each with the largest share of the subject's height that its frame shows. */
const SIZES = [
  ['extreme close-up', 0.13],
  ['close-up', 0.24],
  ['medium close-up', 0.38],
  ['medium', 0.56],
  ['medium wide', 0.8],
  ['full', 1.35],
  ['wide', 3.5],
  ['very wide', 9],
] as const;

export type ShotSize = (typeof SIZES)[number][0] | 'extreme wide';

/**
 * Shot size by how much of a standing subject the frame is high: the chest is a medium close-up, head to toe is full.
 * @param frameShare height of the frame at the subject over the subject's height.
 */
export function shotSize(frameShare: number): ShotSize {
  return SIZES.find(([, most]) => frameShare <= most)?.[0] ?? 'extreme wide';
}
