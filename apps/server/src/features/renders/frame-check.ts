import type { FrameFile, RenderJob } from '@arvex/core';
import { outputSize } from '@arvex/core';
import { checkedPng } from '../../files/png-check';

/**
 * What is wrong with a file of a frame, as the end of a sentence that begins with what it is to be; nothing where it is whole and of the
 * right size.
 */
export async function wrongFile(
  { order, part }: RenderJob,
  { ending }: FrameFile,
  bytes: Buffer,
): Promise<string | undefined> {
  const { widthPx, heightPx } = outputSize(order, part);
  const size =
    ending === 'png'
      ? await checkedPng(bytes, { width: widthPx, height: heightPx })
      : ending === 'jpg'
        ? jpegSize(bytes)
        : exrSize(bytes);
  if (size?.width === widthPx && size.height === heightPx) return undefined;
  const kind = { png: 'PNG', jpg: 'JPEG', exr: 'OpenEXR' }[ending];
  const got = size ? `${size.width} × ${size.height}` : `not a whole ${kind}`;
  return `${widthPx} × ${heightPx}; this is ${got}.`;
}

interface Size {
  readonly width: number;
  readonly height: number;
}

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
