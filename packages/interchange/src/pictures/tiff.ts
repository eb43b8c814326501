import { zlibSync } from 'fflate';
import type { ShownPicture } from './png';

/** Tags of the picture's directory, by TIFF revision 6.0; Deflate and the predictor of 16 bits by its technical notes of 2002. */
const TAG = {
  width: 256,
  height: 257,
  bitsPerSample: 258,
  compression: 259,
  photometric: 262,
  stripOffsets: 273,
  samplesPerPixel: 277,
  rowsPerStrip: 278,
  stripByteCounts: 279,
  xResolution: 282,
  yResolution: 283,
  planar: 284,
  resolutionUnit: 296,
  predictor: 317,
  extraSamples: 338,
} as const;

const [SHORT, LONG, RATIONAL] = [3, 4, 5] as const;
const BYTES = { [SHORT]: 2, [LONG]: 4, [RATIONAL]: 8 } as const;
const [DEFLATE, RGB, CHUNKY, NO_UNIT, DIFFERENCES] = [8, 2, 1, 1, 2] as const;
/** Pixels along a unit that nobody names: only their ratio says something. */
const ASPECT_UNITS = 1000;
const HEADER_BYTES = 8;
/** About so much of a picture is packed at once, bytes: readers take strips one by one. */
const STRIP_BYTES = 1 << 18;

/** What is in the directory: numbers of one type under a tag. */
type Entry = readonly [tag: number, type: keyof typeof BYTES, values: readonly number[]];

/**
 * A picture as TIFF of as many bits as it has (little-endian, strips packed with Deflate after horizontal differences), in sRGB. The
 * same pixels make the same bytes.
 * @param pixelAspect width of a pixel by its height; 1 when left out.
 * @param alpha whether colours of a picture with four channels are multiplied with their alpha; `straight` when left out.
 */
export function tiffOf(
  picture: ShownPicture,
  { pixelAspect = 1, alpha = 'straight' }: { pixelAspect?: number; alpha?: 'straight' | 'premultiplied' } = {},
): Uint8Array {
  const { widthPx, heightPx, channels, data } = picture;
  const rowBytes = widthPx * channels * data.BYTES_PER_ELEMENT;
  const rows = Math.max(1, Math.min(heightPx, Math.floor(STRIP_BYTES / rowBytes)));
  const strips: Uint8Array[] = [];
  for (let top = 0; top < heightPx; top += rows) strips.push(strip(picture, top, Math.min(rows, heightPx - top)));
  const offsets: number[] = [];
  let at = HEADER_BYTES;
  for (const { length } of strips) {
    offsets.push(at);
    at += length + (length % 2); // everything begins at an even place
  }
  const entries: Entry[] = [
    [TAG.width, LONG, [widthPx]],
    [TAG.height, LONG, [heightPx]],
    [TAG.bitsPerSample, SHORT, Array<number>(channels).fill(8 * data.BYTES_PER_ELEMENT)],
    [TAG.compression, SHORT, [DEFLATE]],
    [TAG.photometric, SHORT, [RGB]],
    [TAG.stripOffsets, LONG, offsets],
    [TAG.samplesPerPixel, SHORT, [channels]],
    [TAG.rowsPerStrip, LONG, [rows]],
    [TAG.stripByteCounts, LONG, strips.map(({ length }) => length)],
    [TAG.xResolution, RATIONAL, [ASPECT_UNITS, 1]],
    [TAG.yResolution, RATIONAL, [Math.round(ASPECT_UNITS * pixelAspect), 1]],
    [TAG.planar, SHORT, [CHUNKY]],
    [TAG.resolutionUnit, SHORT, [NO_UNIT]],
    [TAG.predictor, SHORT, [DIFFERENCES]],
    ...(channels === 4 ? [[TAG.extraSamples, SHORT, [alpha === 'premultiplied' ? 1 : 2]] as const] : []),
  ];
  const directory = directoryAt(entries, at);
  const whole = new Uint8Array(at + directory.length);
  const view = new DataView(whole.buffer);
  whole.set([0x49, 0x49], 0);
  view.setUint16(2, 42, true);
  view.setUint32(4, at, true);
  strips.forEach((bytes, i) => whole.set(bytes, offsets[i]));
  whole.set(directory, at);
  return whole;
}

/** Some rows, each value as its difference from the pixel to the left, packed. */
function strip({ widthPx, channels, data }: ShownPicture, top: number, count: number): Uint8Array {
  const row = widthPx * channels;
  const some = data.slice(top * row, (top + count) * row);
  for (let y = 0; y < count; y++) {
    for (let i = (y + 1) * row - 1; i >= y * row + channels; i--) some[i] = (some[i] ?? 0) - (some[i - channels] ?? 0);
  }
  return zlibSync(littleEndian(some));
}

function littleEndian(values: Uint8Array | Uint16Array): Uint8Array {
  if (values instanceof Uint8Array) return values;
  const bytes = new Uint8Array(values.length * 2);
  values.forEach((value, i) => {
    bytes[2 * i] = value & 0xff;
    bytes[2 * i + 1] = value >> 8;
  });
  return bytes;
}

/** A directory that stands at a place of the file, with the values that do not fit into its entries behind it. */
function directoryAt(entries: readonly Entry[], start: number): Uint8Array {
  const entriesEnd = 2 + entries.length * 12 + 4;
  const sizeOf = ([, type, values]: Entry) => BYTES[type] * (type === RATIONAL ? values.length / 2 : values.length);
  const beside = entries.map(sizeOf).filter((size) => size > 4);
  const bytes = new Uint8Array(entriesEnd + beside.reduce((sum, size) => sum + size, 0));
  const view = new DataView(bytes.buffer);
  view.setUint16(0, entries.length, true);
  let free = entriesEnd;
  entries.forEach((entry, i) => {
    const [tag, type, values] = entry;
    const at = 2 + i * 12;
    view.setUint16(at, tag, true);
    view.setUint16(at + 2, type, true);
    view.setUint32(at + 4, type === RATIONAL ? values.length / 2 : values.length, true);
    let to = at + 8;
    if (sizeOf(entry) > 4) {
      view.setUint32(to, start + free, true);
      to = free;
      free += sizeOf(entry);
    }
    const each = type === SHORT ? 2 : 4;
    values.forEach((value, n) => {
      if (type === SHORT) view.setUint16(to + n * each, value, true);
      else view.setUint32(to + n * each, value, true);
    });
  });
  return bytes;
}
