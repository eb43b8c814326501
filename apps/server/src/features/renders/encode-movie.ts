import type { MovieFormat, Render } from '@arvex/core';
import { SOUND_RATE } from '@arvex/core';
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { createReadStream } from 'node:fs';
import type { Writable } from 'node:stream';
import { SOUND_CHANNELS } from './mix-sound';

const MESSAGE_LENGTH = 2000;
/** Groups of pictures that one steps through at once last so long, seconds. */
const SHORT_GROUP_S = 0.5;

/** What a movie is made of. */
export interface MovieSource {
  /** PNG files in their order. */
  readonly pictures: readonly string[];
  readonly rate: Render['rate'];
  /** Plain samples: 32 bit floats, {@link SOUND_RATE}, {@link SOUND_CHANNELS}. */
  readonly sound: string | undefined;
  /** Width of a pixel over its height. */
  readonly pixelAspect: number;
  /** Of the first picture. */
  readonly timecode: string;
  /** Whether the pictures have transparency that the movie keeps. */
  readonly transparent: boolean;
}

/** Quality 1 to 100 as the constant rate factor of each codec, about alike to the eye; 65 is without visible loss. */
const RATE_FACTORS: Readonly<Record<MovieFormat['codec'], (quality: number) => number>> = {
  h264: (quality) => Math.round(40 - 0.34 * quality),
  vp9: (quality) => Math.round(57 - 0.44 * quality),
};

/**
 * Encodes PNG files, in their order, at `target`: one frame each, at exactly their rate, BT.709 limited range, H.264 with AAC in
 * MP4 that plays before it is loaded whole, or VP9 with Opus in WebM. An odd size gets a row or a column more, as 4:2:0 wants it.
 * @throws Error with what ffmpeg said.
 */
export async function encodeMovie(
  { pictures, rate, sound, transparent, pixelAspect, timecode }: MovieSource,
  format: MovieFormat,
  target: string,
  signal: AbortSignal,
): Promise<void> {
  const exactRate = `${rate.frames}/${rate.seconds}`;
  const even = 'pad=ceil(iw/2)*2:ceil(ih/2)*2';
  const scale = 'scale=out_color_matrix=bt709:out_range=tv:flags=accurate_rnd+full_chroma_int';
  // Said to the thousandth, as players read it.
  const aspect = `setsar=${Math.round(pixelAspect * 1000)}/1000`;
  const perSecond = rate.frames / rate.seconds;
  const group = format.shortGroups ? ['-g', String(Math.max(1, Math.round(perSecond * SHORT_GROUP_S)))] : [];
  const ffmpeg = spawn(
    'ffmpeg',
    [
      ...['-hide_banner', '-loglevel', 'error', '-nostdin', '-xerror', '-progress', 'pipe:1', '-y'],
      ...['-f', 'image2pipe', '-framerate', exactRate, '-c:v', 'png', '-i', 'pipe:0'],
      ...(sound === undefined
        ? []
        : ['-f', 'f32le', '-ar', String(SOUND_RATE), '-ac', String(SOUND_CHANNELS), '-i', sound]),
      ...['-vf', `${even},${scale},${aspect}`, '-pix_fmt', transparent ? 'yuva420p' : 'yuv420p'],
      ...videoCodec(format),
      ...group,
      ...['-color_primaries', 'bt709', '-color_trc', 'bt709', '-colorspace', 'bt709', '-color_range', 'tv'],
      ...['-fps_mode', 'passthrough'],
      ...(sound === undefined ? [] : soundCodec(format)),
      ...['-metadata', `timecode=${timecode}`],
      ...(format.codec === 'h264' ? ['-timecode', timecode, '-movflags', '+faststart', '-f', 'mp4'] : ['-f', 'webm']),
      target,
    ],
    { stdio: ['pipe', 'pipe', 'pipe'], signal },
  );
  let [said, told] = ['', ''];
  ffmpeg.stderr.on('data', (chunk: Buffer) => (said = `${said}${chunk.toString()}`.slice(-MESSAGE_LENGTH)));
  ffmpeg.stdout.on('data', (chunk: Buffer) => (told = `${told}${chunk.toString()}`.slice(-MESSAGE_LENGTH)));
  const exit = new Promise<number | null>((resolve, reject) => ffmpeg.once('error', reject).once('close', resolve));
  exit.catch(() => undefined); // met below; without this a failing pipe would leave it unhandled
  const unread = await feed(ffmpeg.stdin, pictures).then(
    () => undefined,
    (error: unknown) => error,
  );
  if (unread instanceof Unreadable) ffmpeg.kill('SIGKILL');
  const code = await exit;
  if (unread instanceof Unreadable) throw unread;
  if (code !== 0) throw new Error(explained(said.trim()) || `ffmpeg ended with ${code}.`);
  const made = Number(/frame=\s*(\d+)(?![\s\S]*frame=)/.exec(told)?.[1]);
  if (made !== pictures.length) throw new Error(`The movie has ${made} frames instead of ${pictures.length}.`);
}

function videoCodec({ codec, by }: MovieFormat): string[] {
  const names = {
    h264: ['libx264', '-preset', 'veryfast'],
    vp9: ['libvpx-vp9', '-row-mt', '1', '-cpu-used', '5', '-deadline', 'good'],
  };
  const rate = by.kind === 'rate' ? `${Math.round(by.megabits * 1000)}k` : undefined;
  const how = by.kind === 'quality' ? ['-crf', String(RATE_FACTORS[codec](by.quality))] : ['-b:v', rate ?? ''];
  // Constant quality of VP9 wants to hear that no rate is asked for; transparency goes without frames that are never shown.
  const own = codec === 'vp9' ? [...(by.kind === 'quality' ? ['-b:v', '0'] : []), '-auto-alt-ref', '0'] : [];
  return ['-c:v', ...names[codec], ...how, ...own];
}

function soundCodec({ codec }: MovieFormat): string[] {
  return codec === 'h264' ? ['-c:a', 'aac', '-b:a', '192k'] : ['-c:a', 'libopus', '-b:a', '160k'];
}

/** What ffmpeg says, with the way out where it is known. */
function explained(said: string): string {
  const encoder = /Unknown encoder '([^']+)'/.exec(said)?.[1];
  if (encoder !== undefined) {
    return `The ffmpeg of this machine has no encoder ${encoder}. Install Debian’s ffmpeg, or choose another movie format.`;
  }
  return /No space left/i.test(said) ? 'The disk is full. Make room and try again.' : said;
}

/** A picture that cannot be read. What ffmpeg says of its own input it says itself. */
class Unreadable extends Error {
  constructor(picture: number, cause: unknown) {
    super(`Frame ${picture + 1} cannot be read: ${(cause as Error).message}`, { cause });
  }
}

async function feed(input: Writable, pictures: readonly string[]): Promise<void> {
  const broken = once(input, 'error').then(([error]) => Promise.reject(error as Error));
  broken.catch(() => undefined);
  for (const [i, picture] of pictures.entries()) {
    const source = createReadStream(picture);
    const read = source[Symbol.asyncIterator]() as AsyncIterator<Buffer>;
    for (;;) {
      const next = await read.next().catch((cause: unknown) => {
        throw new Unreadable(i, cause);
      });
      if (next.done) break;
      if (!input.write(next.value)) await Promise.race([once(input, 'drain'), broken]);
    }
  }
  input.end();
}
