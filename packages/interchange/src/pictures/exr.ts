import { unzlibSync, zlibSync } from 'fflate';
import { DataUtils } from 'three';
import { InterchangeError } from '../error';
import type { ExrAttributes } from './exr-header';
import { headerBytes, readHeader } from './exr-header';

/** Linear pixels: RGBA, rows from the top. */
export interface LinearPicture {
  readonly widthPx: number;
  readonly heightPx: number;
  readonly pixels: Float32Array;
}

/** One channel of a file: `R`, `Z`, or of a layer `light-lantern.R`. */
export interface ExrChannel {
  readonly name: string;
  readonly depth: 'half' | 'float';
  /** Every `step`th value from `first` on, rows from the top; all of them where these are left out. */
  readonly values: Float32Array;
  readonly first?: number;
  readonly step?: number;
}

/** A file as it is written: one part, any channels. */
export interface ExrPicture {
  readonly widthPx: number;
  readonly heightPx: number;
  readonly channels: readonly ExrChannel[];
  /** What is said of the picture beside its channels. */
  readonly about?: ExrAttributes;
}

/** A file as it was read: channels by name, each with all its values, rows from the top. */
export interface ReadExr {
  readonly widthPx: number;
  readonly heightPx: number;
  readonly channels: ReadonlyMap<string, Float32Array>;
}

/** The largest number that half floats hold. */
const MOST_HALF = 65_504;

/** Rows that are packed together (OpenEXR file layout, "ZIP_COMPRESSION"). */
const ROWS_A_CHUNK = 16;

/**
 * A picture as OpenEXR: one part of scan lines, packed by ZIP (OpenEXR file layout, version 2). Half floats end at 65 504: what is brighter
 * is that bright.
 */
export function writeExr({ widthPx, heightPx, channels, about = {} }: ExrPicture): Uint8Array {
  // The format wants them in the order of their names.
  const sorted = [...channels].sort((a, b) => (a.name < b.name ? -1 : 1));
  const header = headerBytes({ widthPx, heightPx }, sorted, about);
  const rowBytes = sorted.reduce((sum, { depth }) => sum + widthPx * bytesOf(depth), 0);
  const chunks: Uint8Array[] = [];
  for (let y = 0; y < heightPx; y += ROWS_A_CHUNK) {
    const rows = Math.min(ROWS_A_CHUNK, heightPx - y);
    const raw = new Uint8Array(rows * rowBytes);
    const view = new DataView(raw.buffer);
    let at = 0;
    for (let row = y; row < y + rows; row++) {
      for (const channel of sorted) at = putRow(view, at, channel, row, widthPx);
    }
    chunks.push(chunkOf(y, raw));
  }
  return joined(header, chunks);
}

const bytesOf = (depth: ExrChannel['depth']) => (depth === 'half' ? 2 : 4);

function putRow(view: DataView, from: number, channel: ExrChannel, row: number, widthPx: number): number {
  const { values, depth, first = 0, step = 1 } = channel;
  let [at, place] = [from, first + row * widthPx * step];
  for (let x = 0; x < widthPx; x++, place += step) {
    const value = values[place] ?? 0;
    if (depth === 'half') {
      view.setUint16(at, DataUtils.toHalfFloat(Math.max(-MOST_HALF, Math.min(MOST_HALF, value))), true);
      at += 2;
    } else {
      view.setFloat32(at, value, true);
      at += 4;
    }
  }
  return at;
}

/** Rows as they are packed: bytes taken apart into halves, each as its difference from the one before, then deflated. */
function chunkOf(y: number, raw: Uint8Array): Uint8Array {
  const half = (raw.length + 1) >> 1;
  const apart = new Uint8Array(raw.length);
  for (let i = 0; i < raw.length; i++) apart[(i & 1 ? half : 0) + (i >> 1)] = raw[i] ?? 0;
  for (let i = raw.length - 1; i > 0; i--) apart[i] = ((apart[i] ?? 0) - (apart[i - 1] ?? 0) + 384) & 255;
  const packed = zlibSync(apart, { level: 4 });
  // What does not get smaller is kept as it is.
  const data = packed.length < raw.length ? packed : raw;
  const chunk = new Uint8Array(8 + data.length);
  const view = new DataView(chunk.buffer);
  view.setInt32(0, y, true);
  view.setInt32(4, data.length, true);
  chunk.set(data, 8);
  return chunk;
}

/** Header, where each chunk begins, and the chunks. */
function joined(header: Uint8Array, chunks: readonly Uint8Array[]): Uint8Array {
  const begins = header.length + 8 * chunks.length;
  const whole = new Uint8Array(begins + chunks.reduce((sum, { length }) => sum + length, 0));
  const view = new DataView(whole.buffer);
  whole.set(header);
  let at = begins;
  for (const [i, chunk] of chunks.entries()) {
    view.setBigUint64(header.length + 8 * i, BigInt(at), true);
    whole.set(chunk, at);
    at += chunk.length;
  }
  return whole;
}

/** Reads a file of one part of scan lines, not packed or packed by ZIP. @throws InterchangeError where it is another one, or cut off. */
export function readExr(bytes: Uint8Array): ReadExr {
  const { widthPx, heightPx, top, channels, rowsAChunk, end } = readHeader(bytes);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const found = new Map(channels.map(({ name }) => [name, new Float32Array(widthPx * heightPx)]));
  const rowBytes = channels.reduce((sum, { depth }) => sum + widthPx * (depth === 'half' ? 2 : 4), 0);
  const chunks = Math.ceil(heightPx / rowsAChunk);
  for (let chunk = 0; chunk < chunks; chunk++) {
    const offset = end + 8 * chunk;
    const begin = offset + 8 <= bytes.length ? Number(view.getBigUint64(offset, true)) : bytes.length;
    if (begin + 8 > bytes.length) throw cutOff();
    const [y, size] = [view.getInt32(begin, true) - top, view.getInt32(begin + 4, true)];
    const rows = Math.min(rowsAChunk, heightPx - y);
    const data = bytes.subarray(begin + 8, begin + 8 + size);
    if (data.length < size || y < 0 || rows <= 0) throw cutOff();
    const raw = size < rows * rowBytes ? unpacked(data, rows * rowBytes) : data;
    const values = new DataView(raw.buffer, raw.byteOffset, raw.byteLength);
    let at = 0;
    for (let row = y; row < y + rows; row++) {
      for (const { name, depth } of channels) {
        const into = found.get(name) as Float32Array;
        for (let x = 0; x < widthPx; x++) {
          into[row * widthPx + x] =
            depth === 'half' ? DataUtils.fromHalfFloat(values.getUint16(at, true)) : values.getFloat32(at, true);
          at += depth === 'half' ? 2 : 4;
        }
      }
    }
  }
  return { widthPx, heightPx, channels: found };
}

function unpacked(data: Uint8Array, length: number): Uint8Array {
  const apart = unzlibSync(data, { out: new Uint8Array(length) });
  if (apart.length < length) throw cutOff();
  for (let i = 1; i < length; i++) apart[i] = ((apart[i] ?? 0) + (apart[i - 1] ?? 0) - 128) & 255;
  const raw = new Uint8Array(length);
  const half = (length + 1) >> 1;
  for (let i = 0; i < length; i++) raw[i] = apart[(i & 1 ? half : 0) + (i >> 1)] ?? 0;
  return raw;
}

const cutOff = () => new InterchangeError('The OpenEXR file is cut off. Export it again.');

/** A picture of four channels as OpenEXR. */
export function exrOf({ widthPx, heightPx, pixels }: LinearPicture, depth: 'half' | 'float'): Uint8Array {
  const channels = ['R', 'G', 'B', 'A'].map((name, first) => ({ name, depth, values: pixels, first, step: 4 }));
  return writeExr({ widthPx, heightPx, channels });
}

/**
 * A picture of OpenEXR as floats: its colours, or one channel in all three. @param layer whose channels are read; the picture's own when
 * left out. @throws InterchangeError where it cannot be read, or has no such layer.
 */
export function pictureOfExr(bytes: ArrayBuffer, layer = ''): LinearPicture {
  const { widthPx, heightPx, channels } = readExr(new Uint8Array(bytes));
  const named = (name: string) => channels.get(layer === '' ? name : `${layer}.${name}`);
  const grey = named('Y') ?? named('Z');
  const parts = [named('R') ?? grey, named('G') ?? grey, named('B') ?? grey, named('A')];
  if (!parts[0])
    throw new InterchangeError(`The OpenEXR file has no ${layer === '' ? 'colours' : `layer "${layer}"`}.`);
  const pixels = new Float32Array(widthPx * heightPx * 4).fill(1);
  for (const [c, values] of parts.entries()) {
    if (values) for (let i = 0; i < values.length; i++) pixels[i * 4 + c] = values[i] ?? 0;
  }
  return { widthPx, heightPx, pixels };
}
