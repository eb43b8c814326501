import { promisify } from 'node:util';
import { crc32, inflate } from 'node:zlib';

/** Signature of a PNG, and the parts of a chunk (W3C PNG, 5.2 and 5.3). */
const SIGNATURE = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
const CHUNK_BYTES = 12;
const HEADER_BYTES = 13;

/** Samples of a pixel by its colour type (W3C PNG, 11.2.2). */
const SAMPLES: Readonly<Record<number, number>> = { 0: 1, 2: 3, 3: 1, 4: 2, 6: 4 };

const unpacked = promisify(inflate);

/** Rows are unpacked in pieces of up to so many bytes. */
const LARGEST_PIECE = 64 * 1024 * 1024;

/** What a whole PNG is. */
export interface PngFacts {
  readonly width: number;
  readonly height: number;
}

/**
 * Size in pixels of a PNG that is whole: one header first and one end last, every chunk as its CRC says, all of its rows there.
 * `undefined` for anything else. Rows are unpacked beside the event loop.
 */
export async function checkedPng(bytes: Buffer): Promise<PngFacts | undefined> {
  if (!bytes.subarray(0, SIGNATURE.length).equals(SIGNATURE)) return undefined;
  const data: Buffer[] = [];
  let header: Buffer | undefined;
  let at = SIGNATURE.length;
  for (;;) {
    if (at + CHUNK_BYTES > bytes.length) return undefined;
    const length = bytes.readUInt32BE(at);
    const end = at + CHUNK_BYTES + length;
    if (end > bytes.length) return undefined;
    const type = bytes.toString('latin1', at + 4, at + 8);
    if (crc32(bytes.subarray(at + 4, end - 4)) !== bytes.readUInt32BE(end - 4)) return undefined;
    const isHeader = type === 'IHDR';
    if (isHeader !== (header === undefined)) return undefined;
    if (isHeader) header = bytes.subarray(at + 8, end - 4);
    if (type === 'IDAT') data.push(bytes.subarray(at + 8, end - 4));
    at = end;
    if (type === 'IEND') break;
  }
  if (at !== bytes.length || header?.length !== HEADER_BYTES) return undefined;
  return rowsAreThere(header, data);
}

async function rowsAreThere(header: Buffer, data: readonly Buffer[]): Promise<PngFacts | undefined> {
  const [width, height] = [header.readUInt32BE(0), header.readUInt32BE(4)];
  const [depth, colour, interlaced] = [header.readUInt8(8), header.readUInt8(9), header.readUInt8(12)];
  const samples = SAMPLES[colour];
  // What this application's own renderers send is not interlaced.
  if (samples === undefined || interlaced !== 0 || width === 0 || height === 0) return undefined;
  const expected = height * (1 + Math.ceil((width * samples * depth) / 8));
  // In one piece where that is not too large: many small ones have to be put together, and cleared away.
  const chunkSize = Math.min(expected + 1, LARGEST_PIECE);
  const rows = await unpacked(Buffer.concat(data), { maxOutputLength: expected + 1, chunkSize }).catch(() => undefined);
  return rows?.length === expected ? { width, height } : undefined;
}
