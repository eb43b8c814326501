import type { SoundFile } from '@arvex/core';
import { LONGEST_SOUND_S } from '@arvex/core';
import { execFile, spawn } from 'node:child_process';
import type { Readable } from 'node:stream';
import { promisify } from 'node:util';
import * as z from 'zod';
import { Problem } from '../../http/problem';

const run = promisify(execFile);

/** Containers that are taken, by the name that ffprobe gives them, and what they may hold. */
const MEDIA_TYPES: readonly (readonly [format: string, mediaType: SoundFile['mediaType']])[] = [
  ['wav', 'audio/wav'],
  ['mp3', 'audio/mpeg'],
  ['mov', 'audio/mp4'],
  ['aac', 'audio/aac'],
  ['flac', 'audio/flac'],
  ['ogg', 'audio/ogg'],
];

/** How long a file may take to be decoded whole, milliseconds. */
const LONGEST_DECODING_MS = 120_000;
/** What a file says of its length and what is in it may differ by this share: frames of a codec are not cut. */
const LENGTH_SHARE = 0.02;
/** What is decoded before what is asked for, so that a codec that looks back has what it needs, seconds. */
const RUN_UP_S = 0.5;

const probeSchema = z.object({
  format: z.object({ format_name: z.string(), duration: z.coerce.number().optional() }),
  streams: z.array(z.object({ codec_type: z.string() })),
});

/**
 * What a file of sound is, decoded whole: nothing that is cut off comes in.
 * @throws Problem `invalid-sound` that says what is wrong with it.
 */
export async function soundFacts(path: string): Promise<Pick<SoundFile, 'kind' | 'durationS' | 'mediaType'>> {
  const { format, streams } = await probed(path);
  const mediaType = MEDIA_TYPES.find(([name]) => format.format_name.split(',').includes(name))?.[1];
  if (!mediaType || !streams.some((stream) => stream.codec_type === 'audio')) {
    throw new Problem('invalid-sound', 'This is no sound. Bring in WAV, MP3, AAC, FLAC or OGG.');
  }
  const durationS = await decodedSeconds(path);
  if (durationS <= 0) throw new Problem('invalid-sound', 'There is no sound in this file.');
  if (durationS > LONGEST_SOUND_S) {
    throw new Problem(
      'invalid-sound',
      `The sound lasts ${Math.round(durationS / 60)} minutes; up to 60 are taken. Cut it.`,
    );
  }
  const said = format.duration;
  if (said !== undefined && said * (1 - LENGTH_SHARE) - 0.1 > durationS) {
    const message = `The file is cut off: it says ${said.toFixed(1)} s and holds ${durationS.toFixed(1)}. Export it again.`;
    throw new Problem('invalid-sound', message);
  }
  return { kind: 'sound', durationS, mediaType };
}

async function probed(path: string): Promise<z.infer<typeof probeSchema>> {
  const options = [
    '-v',
    'error',
    '-show_entries',
    'format=format_name,duration:stream=codec_type',
    '-of',
    'json',
    path,
  ];
  try {
    const { stdout } = await run('ffprobe', options, { timeout: LONGEST_DECODING_MS });
    return probeSchema.parse(JSON.parse(stdout));
  } catch (error) {
    if (isMissing(error)) throw error;
    throw new Problem(
      'invalid-sound',
      'This is no sound, or its file is damaged. Bring in WAV, MP3, AAC, FLAC or OGG.',
    );
  }
}

/** How much sound really comes out of a file, seconds. @throws Problem where decoding stumbles. */
async function decodedSeconds(path: string): Promise<number> {
  const options = ['-hide_banner', '-nostdin', '-v', 'error', '-xerror', '-i', path];
  const out = ['-map', '0:a:0', '-progress', 'pipe:1', '-f', 'null', '-'];
  try {
    const { stdout } = await run('ffmpeg', [...options, ...out], { timeout: LONGEST_DECODING_MS });
    const microseconds = [...stdout.matchAll(/out_time_us=(\d+)/g)].at(-1)?.[1];
    return Number(microseconds ?? 0) / 1e6;
  } catch (error) {
    if (isMissing(error)) throw error;
    const said = (error as { stderr?: string }).stderr?.trim().split('\n').at(-1) ?? '';
    throw new Problem(
      'invalid-sound',
      `The sound cannot be decoded to its end${said ? ` (${said.slice(-120)})` : ''}. Export it again.`,
    );
  }
}

/** ffmpeg itself is not there: that is no fault of the file. */
const isMissing = (error: unknown): boolean => (error as { code?: unknown }).code === 'ENOENT';

/** A part of a sound as plain samples. */
export interface Part {
  readonly fromS: number;
  readonly seconds: number;
  /** Samples a second, and how many at a time: one for one channel, two for two. */
  readonly rate: number;
  readonly channels: number;
}

/** Samples of a part of a file: 16 bits, little end first, channels side by side. */
export function samplesOf(path: string, { fromS, seconds, rate, channels }: Part, signal: AbortSignal): Readable {
  const runUp = Math.min(fromS, RUN_UP_S);
  const trim = `atrim=start=${runUp.toFixed(6)}:duration=${seconds.toFixed(6)}`;
  const ffmpeg = spawn(
    'ffmpeg',
    [
      ...['-hide_banner', '-nostdin', '-v', 'error'],
      ...['-ss', (fromS - runUp).toFixed(6), '-i', path, '-map', '0:a:0'],
      ...['-af', `${trim},aresample=${rate}`, '-ac', String(channels), '-f', 's16le', 'pipe:1'],
    ],
    { stdio: ['ignore', 'pipe', 'ignore'], signal },
  );
  ffmpeg.once('error', (error) => ffmpeg.stdout.destroy(error));
  return ffmpeg.stdout;
}
