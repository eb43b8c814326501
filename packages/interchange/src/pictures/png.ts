import { encode } from 'fast-png';

/** Pixels as they are shown, rows from the top, three channels or four. */
export interface ShownPicture {
  readonly widthPx: number;
  readonly heightPx: number;
  readonly channels: 3 | 4;
  readonly data: Uint8Array | Uint16Array;
}

/** A picture as PNG of as many bits as it has, not interlaced, in sRGB. The same pixels make the same bytes. */
export function pngOf({ widthPx: width, heightPx: height, channels, data }: ShownPicture, pixelAspect = 1): Uint8Array {
  return tellPng(encode({ width, height, channels, data, depth: data instanceof Uint16Array ? 16 : 8 }), pixelAspect);
}

/** Bytes of the signature and of the header, which stands first: what is told of the pixels comes after it. */
const HEAD_BYTES = 33;
/** Length, name and checksum of a chunk. */
const AROUND_BYTES = 12;
/** Pixels along a unit that nobody names: only their ratio says something. */
const ASPECT_UNITS = 1000;

/**
 * A PNG that says that its numbers are sRGB, and how wide its pixels are where they are not square (PNG, third edition, 11.3.2.5
 * and 11.3.4.3). What it says already stays as it is.
 * @param pixelAspect width of a pixel by its height.
 */
export function tellPng(png: Uint8Array, pixelAspect = 1): Uint8Array {
  const told = namesOf(png);
  const added: Uint8Array[] = [];
  if (!told.has('sRGB') && !told.has('iCCP')) added.push(chunkOf('sRGB', new Uint8Array([0])));
  if (pixelAspect !== 1 && !told.has('pHYs')) {
    const data = new Uint8Array(9);
    const view = new DataView(data.buffer);
    view.setUint32(0, ASPECT_UNITS);
    view.setUint32(4, Math.round(ASPECT_UNITS * pixelAspect));
    added.push(chunkOf('pHYs', data));
  }
  const parts = [png.subarray(0, HEAD_BYTES), ...added, png.subarray(HEAD_BYTES)];
  const whole = new Uint8Array(parts.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const part of parts) {
    whole.set(part, at);
    at += part.length;
  }
  return whole;
}

/** Names of the chunks before the pixels. */
function namesOf(png: Uint8Array): ReadonlySet<string> {
  const view = new DataView(png.buffer, png.byteOffset, png.byteLength);
  const names = new Set<string>();
  for (let at = 8; at + AROUND_BYTES <= png.length; at += AROUND_BYTES + view.getUint32(at)) {
    const name = String.fromCharCode(...png.subarray(at + 4, at + 8));
    if (name === 'IDAT') break;
    names.add(name);
  }
  return names;
}

function chunkOf(name: string, data: Uint8Array): Uint8Array {
  const chunk = new Uint8Array(AROUND_BYTES + data.length);
  const view = new DataView(chunk.buffer);
  view.setUint32(0, data.length);
  chunk.set(
    [...name].map((letter) => letter.charCodeAt(0)),
    4,
  );
  chunk.set(data, 8);
  view.setUint32(8 + data.length, checksum(chunk.subarray(4, 8 + data.length)));
  return chunk;
}

/** CRC-32 of some bytes (PNG, third edition, 5.5). */
function checksum(bytes: Uint8Array): number {
  let crc = 0xffff_ffff;
  for (const byte of bytes) {
    crc ^= byte;
    for (let bit = 0; bit < 8; bit++) crc = crc & 1 ? (crc >>> 1) ^ 0xedb8_8320 : crc >>> 1;
  }
  return (crc ^ 0xffff_ffff) >>> 0;
}
