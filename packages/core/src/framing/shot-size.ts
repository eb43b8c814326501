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

/** Parts of a standing figure from its feet up, each with the share of its height, from the top, at which it ends. */
const PARTS = [
  ['ankles', 1],
  ['shins', 0.93],
  ['knees', 0.78],
  ['thighs', 0.68],
  ['hips', 0.53],
  ['waist', 0.44],
  ['chest', 0.34],
  ['shoulders', 0.22],
  ['neck', 0.155],
  ['face', 0.13],
] as const;

export type CutAt = (typeof PARTS)[number][0];

/** Where a standing figure is cut by the frame's lower edge. @param shown share of its height that is seen, from the top. */
export function cutAt(shown: number): CutAt {
  return PARTS.findLast(([, from]) => shown <= from)?.[0] ?? 'ankles';
}

/** Headroom of a usual composition, share of the frame: with it a cut figure fills the rest. */
const USUAL_HEADROOM = 0.08;

/**
 * Shot size of a figure whose lower part is out of frame: as near as the cut says, however much air is over its head.
 * @param frameShare height of the frame at the subject over the subject's height; @param shown share of its height that is seen.
 */
export function shotSizeCut(frameShare: number, shown: number): ShotSize {
  return shotSize(Math.min(frameShare, shown / (1 - USUAL_HEADROOM)));
}

/** Height of the frame over the height of a subject that is composed as each size. */
export const USUAL_FRAME: Readonly<Record<ShotSize, number>> = {
  'extreme close-up': 0.11,
  'close-up': 0.19,
  'medium close-up': 0.31,
  medium: 0.48,
  'medium wide': 0.7,
  full: 1.15,
  wide: 2.2,
  'very wide': 5.5,
  'extreme wide': 12,
};

/** All shot sizes, from the closest. */
export const SHOT_SIZES = Object.keys(USUAL_FRAME) as readonly ShotSize[];

/** Headroom a subject of a size is usually given, share of the frame's height: the closest cut into the hair, wide ones have sky. */
export function usualHeadroom(size: ShotSize): number {
  const closest: Partial<Record<ShotSize, number>> = { 'extreme close-up': -0.12, 'close-up': 0.02 };
  const farthest: Partial<Record<ShotSize, number>> = { wide: 0.3, 'very wide': 0.5, 'extreme wide': 0.55 };
  return closest[size] ?? farthest[size] ?? USUAL_HEADROOM;
}
