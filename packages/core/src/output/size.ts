import type { Rate } from '../time';
import type { RenderOrder } from './order';
import type { OrderPart } from './part';

/** Pixels of a picture. */
export interface PictureSize {
  readonly widthPx: number;
  readonly heightPx: number;
}

const even = (px: number) => 2 * Math.ceil(px / 2);

/** Height of each of the two bars outside the delivered frame, pixels; none where nothing is written there. */
export function barHeightPx({ burnIns }: RenderOrder, frameHeightPx: number): number {
  if (!burnIns?.outside || burnIns.items.length === 0) return 0;
  return even(frameHeightPx * burnIns.size * BAR_LINES);
}

/** A bar is so many times as high as its line. */
const BAR_LINES = 1.8;

/**
 * Where a burn-in lies in a picture of which the bars are part, share of its height: outside the frame in the middle of the nearer bar.
 * @param bar height of each bar, share of the frame's; 0 without.
 */
export function burnInPlace({ y }: { readonly y: number }, bar: number): number {
  if (bar === 0) return y;
  const middle = bar / 2 / (1 + 2 * bar);
  return y < 0.5 ? middle : 1 - middle;
}

/** One eye's whole picture: the delivered frame, or a panorama in its place. */
export function eyeSize(order: RenderOrder, part: Pick<OrderPart, 'frameWidthPx' | 'frameHeightPx'>): PictureSize {
  const { panorama } = order;
  if (!panorama) return { widthPx: part.frameWidthPx, heightPx: part.frameHeightPx };
  const { widthPx } = panorama;
  if (panorama.kind === 'sphere') return { widthPx, heightPx: Math.round(widthPx / 2) };
  if (panorama.kind === 'cylinder') {
    const heightPx = (widthPx * Math.tan((panorama.heightDeg * Math.PI) / 360)) / Math.PI;
    return { widthPx, heightPx: even(heightPx) };
  }
  const face = Math.round(widthPx / 4);
  if (panorama.cube === 'cross') return { widthPx: 4 * face, heightPx: 3 * face };
  return panorama.cube === 'strip' ? { widthPx: 6 * face, heightPx: face } : { widthPx: face, heightPx: face };
}

/** The whole picture that leaves, with both eyes and with bars. */
export function outputSize(order: RenderOrder, part: Pick<OrderPart, 'frameWidthPx' | 'frameHeightPx'>): PictureSize {
  const { widthPx, heightPx } = eyeSize(order, part);
  const layout = order.stereo?.layout;
  const both = {
    widthPx: layout === 'side-by-side' ? 2 * widthPx : widthPx,
    heightPx: layout === 'over-under' ? 2 * heightPx : heightPx,
  };
  return { ...both, heightPx: both.heightPx + 2 * barHeightPx(order, both.heightPx) };
}

/** The rate of a movie that has every so many-th frame: it goes on at its true speed. */
export function movieRate(order: RenderOrder, rate: Rate): Rate {
  return { frames: rate.frames, seconds: rate.seconds * order.frames.step };
}
