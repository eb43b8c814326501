import type { HeardOfPart, HeardPart, Project } from '@arvex/core';
import { SOUND_RATE } from '@arvex/core';
import { createWriteStream } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import type { FileStore } from '../../files/file-store';
import { samplesOf } from '../../media/read-sound';

/** Channels of what is mixed. */
export const SOUND_CHANNELS = 2;

/** So many samples are mixed at a time: an hour takes no more memory than a minute. */
const WINDOW = 20 * SOUND_RATE;
const FULL_SCALE = 32_768;

/**
 * Mixes what is heard with a part of an order into a file of plain samples (32 bit floats, little end first, channels side by side),
 * exactly as long as the pictures. @throws Error that names the sound which cannot be read.
 */
export async function mixSound(
  project: Project,
  heard: HeardOfPart,
  files: FileStore,
  target: string,
  signal: AbortSignal,
): Promise<void> {
  const pathOf = (part: HeardPart) => {
    const asset = project.assets[part.sound.assetId];
    if (!asset) throw new Error(`The sound ${part.sound.name} has lost its file.`);
    return files.path(asset.file.hash);
  };
  async function* windows() {
    for (let from = 0; from < heard.count; from += WINDOW) {
      const count = Math.min(WINDOW, heard.count - from);
      const sum = new Float32Array(count * SOUND_CHANNELS);
      for (const part of heard.parts) {
        await addPart(sum, from, part, pathOf(part), signal).catch((error: unknown) => {
          throw new Error(`${part.sound.name}: ${(error as Error).message}`, { cause: error });
        });
      }
      yield Buffer.from(sum.buffer);
    }
  }
  await pipeline(windows(), createWriteStream(target, { mode: 0o600 }), { signal });
}

/** Adds what of a part lies in a window that begins at sample `from`. */
async function addPart(
  sum: Float32Array,
  from: number,
  part: HeardPart,
  path: string,
  signal: AbortSignal,
): Promise<void> {
  const count = sum.length / SOUND_CHANNELS;
  const [first, last] = [Math.max(from, part.at), Math.min(from + count, part.at + part.count)];
  if (last <= first) return;
  const gain = gainsOf(part);
  const wanted = {
    from: part.fileFrom + first - part.at,
    count: last - first,
    rate: SOUND_RATE,
    channels: SOUND_CHANNELS,
  };
  const size = 2 * SOUND_CHANNELS;
  let at = first;
  let rest: Buffer = Buffer.alloc(0);
  for await (const chunk of samplesOf(path, wanted, signal)) {
    const bytes = rest.length === 0 ? (chunk as Buffer) : Buffer.concat([rest, chunk as Buffer]);
    const whole = bytes.length - (bytes.length % size);
    for (let from16 = 0; from16 < whole && at < last; from16 += size, at++) {
      const loud = gain(at - part.at) / FULL_SCALE;
      const place = (at - from) * SOUND_CHANNELS;
      for (let channel = 0; channel < SOUND_CHANNELS; channel++) {
        sum[place + channel] = (sum[place + channel] ?? 0) + loud * bytes.readInt16LE(from16 + 2 * channel);
      }
    }
    rest = Buffer.from(bytes.subarray(whole));
  }
}

/** How loud a part is so many samples after it begins: evenly between the times that it names. */
function gainsOf({ gains }: HeardPart): (after: number) => number {
  let next = 1;
  return (after) => {
    while (next < gains.length - 1 && (gains[next]?.[0] ?? 0) < after) next += 1;
    const [[begin, a], [end, b]] = [gains[next - 1] ?? [0, 1], gains[next] ?? gains[next - 1] ?? [0, 1]];
    return end <= begin ? b : a + (b - a) * Math.min(1, Math.max(0, (after - begin) / (end - begin)));
  };
}
