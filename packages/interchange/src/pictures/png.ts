import { encode } from 'fast-png';

/** Pixels as they are shown, rows from the top, three channels or four. */
export interface ShownPicture {
  readonly widthPx: number;
  readonly heightPx: number;
  readonly channels: 3 | 4;
  readonly data: Uint8Array | Uint16Array;
}

/** A picture as PNG of as many bits as it has, not interlaced. The same pixels make the same bytes. */
export function pngOf({ widthPx: width, heightPx: height, channels, data }: ShownPicture): Uint8Array {
  return encode({ width, height, channels, data, depth: data instanceof Uint16Array ? 16 : 8 });
}
