import type { SoundFile } from '@arvex/core';
import { LONGEST_SOUND_S } from '@arvex/core';
import { execFile, spawn } from 'node:child_process';
import type { Readable } from 'node:stream';
import { PassThrough } from 'node:stream';
import { availableParallelism } from 'node:os';
import { promisify } from 'node:util';
import * as z from 'zod';
import { Problem } from '../problem/problem';
import { Slots } from '../turns/slots';

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

/** Nothing but these containers is opened, and nothing but the file itself: no list that leads elsewhere. */
const ONLY_SOUNDS = [
  ...['-protocol_whitelist', 'file,pipe'],
  ...['-format_whitelist', 'wav,mp3,mov,mp4,m4a,3gp,3g2,mj2,aac,flac,ogg'],
] as const;

/** Sounds that are read at once: each takes a processor. */
const reading = new Slots(Math.max(1, availableParallelism() - 1), 16);

const probeSchema = z.object({
  format: z.object({ format_name: z.string(), duration: z.coerce.number().optional() }),
  streams: z.array(z.object({ codec_type: z.string() })),
});

/**
 * What a file of sound is, decoded whole: nothing that is cut off comes in.
 * @param signal ends the reading with it. @throws Problem `invalid-sound` that says what is wrong with it; `busy` where too many wait.
 */
export function soundFacts(
  path: string,
  signal?: AbortSignal,
): Promise<Pick<SoundFile, 'kind' | 'durationS' | 'mediaType'>> {
  return reading.within(() => factsOf(path, signal));
}

async function factsOf(path: string, signal: AbortSignal | undefined) {
  const { format, streams } = await probed(path, signal);
  const mediaType = MEDIA_TYPES.find(([name]) => format.format_name.split(',').includes(name))?.[1];
  if (!mediaType || !streams.some((stream) => stream.codec_type === 'audio')) {
    throw new Problem('invalid-sound', 'This is no sound. Bring in WAV, MP3, AAC, FLAC or OGG.');
  }
  const durationS = await decodedSeconds(path, signal);
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
  return { kind: 'sound' as const, durationS, mediaType };
}

async function probed(path: string, signal: AbortSignal | undefined): Promise<z.infer<typeof probeSchema>> {
  const options = [
    ...['-v', 'error', ...ONLY_SOUNDS],
    '-show_entries',
    'format=format_name,duration:stream=codec_type',
    '-of',
    'json',
    path,
  ];
  try {
    const { stdout } = await run('ffprobe', options, { timeout: LONGEST_DECODING_MS, signal });
    return probeSchema.parse(JSON.parse(stdout));
  } catch (error) {
    if (isMissing(error) || signal?.aborted) throw error;
    throw new Problem(
      'invalid-sound',
      'This is no sound, or its file is damaged. Bring in WAV, MP3, AAC, FLAC or OGG.',
    );
  }
}

/** How much sound really comes out of a file, seconds. @throws Problem where decoding stumbles. */
async function decodedSeconds(path: string, signal: AbortSignal | undefined): Promise<number> {
  const options = ['-hide_banner', '-nostdin', '-v', 'error', '-xerror', ...ONLY_SOUNDS, '-i', path];
  const out = ['-map', '0:a:0', '-progress', 'pipe:1', '-f', 'null', '-'];
  try {
    const { stdout } = await run('ffmpeg', [...options, ...out], { timeout: LONGEST_DECODING_MS, signal });
    const microseconds = [...stdout.matchAll(/out_time_us=(\d+)/g)].at(-1)?.[1];
    return Number(microseconds ?? 0) / 1e6;
  } catch (error) {
    if (isMissing(error) || signal?.aborted) throw error;
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
export interface SamplesWanted {
  /** The first one, and how many, counted at their own rate. */
  readonly from: number;
  readonly count: number;
  /** Samples a second. */
  readonly rate: number;
  readonly channels: number;
}

/**
 * Samples of a part of a file: 16 bits, little end first, channels side by side. The stream fails where the file cannot be decoded; past
 * its end there is nothing.
 */
export function samplesOf(path: string, { from, count, rate, channels }: SamplesWanted, signal: AbortSignal): Readable {
  const runUp = Math.min(from, Math.round(RUN_UP_S * rate));
  const trim = `atrim=start_sample=${runUp}:end_sample=${runUp + count}`;
  const ffmpeg = spawn(
    'ffmpeg',
    [
      ...['-hide_banner', '-nostdin', '-v', 'error', '-xerror', ...ONLY_SOUNDS],
      ...['-ss', ((from - runUp) / rate).toFixed(6), '-i', path, '-map', '0:a:0'],
      ...['-af', `aresample=${rate},${trim}`, '-ac', String(channels), '-f', 's16le', 'pipe:1'],
    ],
    { stdio: ['ignore', 'pipe', 'pipe'], signal },
  );
  let said = '';
  ffmpeg.stderr.on('data', (chunk: Buffer) => (said = `${said}${chunk.toString()}`.slice(-MESSAGE_LENGTH)));
  // What ends without having been read whole ends with a word: silence in its place would be taken for the sound.
  const samples = new PassThrough();
  ffmpeg.stdout.pipe(samples, { end: false });
  ffmpeg.once('error', (error) => samples.destroy(error));
  ffmpeg.once('close', (code) => {
    if (code === 0) samples.end();
    else samples.destroy(new Error(`The sound cannot be decoded: ${lastLine(said) || `ffmpeg ended with ${code}`}`));
  });
  samples.once('close', () => ffmpeg.kill('SIGKILL')); // nobody listens any more
  return samples;
}

/** The same, all of it. @throws Problem `invalid-sound` where the file cannot be decoded. */
export async function decoded(path: string, part: SamplesWanted, signal: AbortSignal): Promise<Buffer> {
  const chunks: Buffer[] = [];
  try {
    for await (const chunk of samplesOf(path, part, signal)) chunks.push(chunk as Buffer);
  } catch (error) {
    if (signal.aborted || isMissing(error)) throw error;
    throw new Problem('invalid-sound', `${(error as Error).message}. Bring it in again.`);
  }
  return Buffer.concat(chunks);
}

const MESSAGE_LENGTH = 500;

function lastLine(said: string): string {
  return said.trim().split('\n').at(-1)?.slice(-120) ?? '';
}
