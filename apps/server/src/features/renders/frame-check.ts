import type { FrameFile, PictureFormatId, RenderJob } from '@arvex/core';
import { outputSize, PICTURE_FORMATS } from '@arvex/core';
import { checkedPng } from '../../files/png-check';

/**
 * What is wrong with a file of a frame, as the end of a sentence that begins with what it is to be; nothing where it is whole and of the
 * right size.
 */
export async function wrongFile(
  { order, part }: RenderJob,
  { format }: Pick<FrameFile, 'format'>,
  bytes: Buffer,
): Promise<string | undefined> {
  const { widthPx, heightPx } = outputSize(order, part);
  const size = await SIZES[format](bytes, { width: widthPx, height: heightPx });
  if (size?.width === widthPx && size.height === heightPx) return undefined;
  const got = size ? `${size.width} × ${size.height}` : `not a whole ${PICTURE_FORMATS[format].name}`;
  return `${widthPx} × ${heightPx}; this is ${got}.`;
}

interface Size {
  readonly width: number;
  readonly height: number;
}

/** Size of a file of each format; nothing where it is not whole. */
const SIZES: Readonly<
  Record<PictureFormatId, (bytes: Buffer, wanted: Size) => Size | undefined | Promise<Size | undefined>>
> = { png: checkedPng, jpeg: jpegSize, tiff: tiffSize, exr: exrSize };

/**
 * Size of a TIFF with one directory behind its strips, as ours have (TIFF revision 6.0, sections 2 and 3); `undefined` where the
 * directory or a strip is cut off.
 */
function tiffSize(bytes: Buffer): Size | undefined {
  if (bytes.length < 8 || bytes.toString('latin1', 0, 4) !== 'II*\0') return undefined;
  const at = bytes.readUInt32LE(4);
  if (at + 2 > bytes.length) return undefined;
  const count = bytes.readUInt16LE(at);
  if (at + 2 + count * 12 + 4 > bytes.length) return undefined;
  const values = new Map<number, number[]>();
  for (let i = 0; i < count; i++) {
    const entry = at + 2 + i * 12;
    const [tag, type, length] = [
      bytes.readUInt16LE(entry),
      bytes.readUInt16LE(entry + 2),
      bytes.readUInt32LE(entry + 4),
    ];
    const each = TIFF_BYTES[type];
    if (each === undefined) return undefined;
    const from = each * length > 4 ? bytes.readUInt32LE(entry + 8) : entry + 8;
    if (from + each * length > bytes.length) return undefined;
    if (each > 4) continue; // ratios say nothing of the size
    const read = (n: number) => (each === 2 ? bytes.readUInt16LE(from + n * 2) : bytes.readUInt32LE(from + n * 4));
    values.set(
      tag,
      Array.from({ length }, (_, n) => read(n)),
    );
  }
  const [width, height] = [values.get(256)?.[0], values.get(257)?.[0]];
  const [offsets, lengths] = [values.get(273) ?? [], values.get(279) ?? []];
  const isWhole = offsets.length > 0 && offsets.every((offset, i) => offset + (lengths[i] ?? Infinity) <= at);
  return width !== undefined && height !== undefined && isWhole ? { width, height } : undefined;
}

/** Bytes of the types of numbers that our directories have: short, long, ratio. */
const TIFF_BYTES: Readonly<Record<number, number>> = { 3: 2, 4: 4, 5: 8 };

/** Size of a JPEG by its frame header (ITU-T T.81, B.2.2); `undefined` where it does not begin and end as one. */
function jpegSize(bytes: Buffer): Size | undefined {
  if (bytes.length < 4 || bytes.readUInt16BE(0) !== 0xffd8 || bytes.readUInt16BE(bytes.length - 2) !== 0xffd9)
    return undefined;
  for (let at = 2; at + 9 < bytes.length;) {
    if (bytes[at] !== 0xff) return undefined;
    const marker = bytes[at + 1] ?? 0;
    // Start of frame of any process, but for tables (C4), reserved (C8) and conditioning (CC).
    if (marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker)) {
      return { height: bytes.readUInt16BE(at + 5), width: bytes.readUInt16BE(at + 7) };
    }
    at += 2 + bytes.readUInt16BE(at + 2);
  }
  return undefined;
}

/** Longest name of an attribute or a type, bytes (OpenEXR file layout, "Attribute names"). */
const LONGEST_NAME = 255;

/** Size of an OpenEXR file by its data window (OpenEXR file layout, "Header"); `undefined` where its chunks do not reach its end. */
function exrSize(bytes: Buffer): Size | undefined {
  if (bytes.length < 16 || bytes.readUInt32LE(0) !== 20_000_630) return undefined;
  let at = 8;
  let [size, linesAChunk]: [Size | undefined, number] = [undefined, 1];
  const word = () => {
    const end = bytes.subarray(0, at + LONGEST_NAME + 1).indexOf(0, at);
    if (end < 0) return undefined; // no name is as long
    const text = bytes.toString('latin1', at, end);
    at = end + 1;
    return text;
  };
  while (at < bytes.length && bytes[at] !== 0) {
    const name = word();
    const type = word();
    if (name === undefined || type === undefined || at + 4 > bytes.length) return undefined;
    const length = bytes.readUInt32LE(at);
    at += 4;
    if (at + length > bytes.length) return undefined;
    if (name === 'dataWindow') {
      const [left, top, right, bottom] = [0, 4, 8, 12].map((offset) => bytes.readInt32LE(at + offset)) as [
        number,
        number,
        number,
        number,
      ];
      size = { width: right - left + 1, height: bottom - top + 1 };
    }
    // ZIP packs 16 lines at a time, ZIPS and no compression one.
    if (name === 'compression') linesAChunk = bytes[at] === 3 ? 16 : 1;
    at += length;
  }
  if (!size) return undefined;
  const chunks = Math.ceil(size.height / linesAChunk);
  const last = at + 1 + 8 * (chunks - 1);
  if (last + 8 > bytes.length) return undefined;
  const lastAt = Number(bytes.readBigUInt64LE(last));
  if (lastAt + 8 > bytes.length) return undefined;
  return lastAt + 8 + bytes.readUInt32LE(lastAt + 4) === bytes.length ? size : undefined;
}
