import { Readable, Writable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { promisify } from 'node:util';
import { crc32, createInflate, inflate } from 'node:zlib';

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
 * @param wanted the size that it has to have: of another one nothing is unpacked, and its size is answered. Without it any size is taken,
 *   and rows are unpacked in small pieces, so that a little file that says it is huge takes no memory.
 */
export async function checkedPng(bytes: Buffer, wanted?: PngFacts): Promise<PngFacts | undefined> {
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
  const size = { width: header.readUInt32BE(0), height: header.readUInt32BE(4) };
  if (wanted && (size.width !== wanted.width || size.height !== wanted.height)) return size;
  const expected = bytesOfRows(header);
  if (expected === undefined) return undefined;
  return (await (wanted ? unpackedWhole(data, expected) : unpackedInPieces(data, expected))) ? size : undefined;
}

/** Bytes of all rows with their filter types; `undefined` for what is no PNG (W3C PNG, 7.2 and 8.2). */
function bytesOfRows(header: Buffer): number | undefined {
  const [width, height] = [header.readUInt32BE(0), header.readUInt32BE(4)];
  const [depth, colour, interlaced] = [header.readUInt8(8), header.readUInt8(9), header.readUInt8(12)];
  const samples = SAMPLES[colour];
  if (samples === undefined || interlaced > 1 || width === 0 || height === 0) return undefined;
  const rows = (columns: number, lines: number) =>
    columns === 0 ? 0 : lines * (1 + Math.ceil((columns * samples * depth) / 8));
  if (interlaced === 0) return rows(width, height);
  return PASSES.reduce((sum, [x, y, stepX, stepY]) => {
    return sum + rows(Math.max(0, Math.ceil((width - x) / stepX)), Math.max(0, Math.ceil((height - y) / stepY)));
  }, 0);
}

/** Where each pass of an interlaced picture begins, and its steps (W3C PNG, 8.2). */
const PASSES = [
  [0, 0, 8, 8],
  [4, 0, 8, 8],
  [0, 4, 4, 8],
  [2, 0, 4, 4],
  [0, 2, 2, 4],
  [1, 0, 2, 2],
  [0, 1, 1, 2],
] as const;

/** Of a size that is wanted: in one piece where that is not too large, as many small ones have to be put together and cleared away. */
async function unpackedWhole(data: readonly Buffer[], expected: number): Promise<boolean> {
  const chunkSize = Math.min(expected + 1, LARGEST_PIECE);
  const rows = await unpacked(Buffer.concat(data), { maxOutputLength: expected + 1, chunkSize }).catch(() => undefined);
  return rows?.length === expected;
}

/** Counts what comes out and keeps none of it. */
async function unpackedInPieces(data: readonly Buffer[], expected: number): Promise<boolean> {
  let bytes = 0;
  const count = new Writable({
    write(chunk: Buffer, _encoding, done) {
      bytes += chunk.length;
      done(bytes > expected ? new Error('More rows than it says.') : null);
    },
  });
  return pipeline(Readable.from(data), createInflate(), count).then(
    () => bytes === expected,
    () => false,
  );
}
