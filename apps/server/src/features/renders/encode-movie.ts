import type { Rate } from '@arvex/core';
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { createReadStream } from 'node:fs';
import type { Writable } from 'node:stream';

/** Quality of H.264: visually without loss for previsualisation, still quick on two cores. */
const CONSTANT_RATE_FACTOR = '18';
const MESSAGE_LENGTH = 2000;

/**
 * Encodes PNG files, in their order, as H.264 in an MP4 at `target`: one frame each, at exactly `rate`,
 * BT.709 limited range, ready to be played before it is loaded whole.
 * @throws Error with what ffmpeg said.
 */
export async function encodeMovie(
  pictures: readonly string[],
  rate: Rate,
  target: string,
  signal: AbortSignal,
): Promise<void> {
  const exactRate = `${rate.frames}/${rate.seconds}`;
  const ffmpeg = spawn(
    'ffmpeg',
    [
      '-hide_banner',
      '-loglevel',
      'error',
      '-nostdin',
      '-xerror',
      '-progress',
      'pipe:1',
      '-y',
      '-f',
      'image2pipe',
      '-framerate',
      exactRate,
      '-c:v',
      'png',
      '-i',
      'pipe:0',
      '-vf',
      'scale=out_color_matrix=bt709:out_range=tv:flags=accurate_rnd+full_chroma_int',
      '-pix_fmt',
      'yuv420p',
      '-c:v',
      'libx264',
      '-preset',
      'veryfast',
      '-crf',
      CONSTANT_RATE_FACTOR,
      '-color_primaries',
      'bt709',
      '-color_trc',
      'bt709',
      '-colorspace',
      'bt709',
      '-color_range',
      'tv',
      '-fps_mode',
      'passthrough',
      '-movflags',
      '+faststart',
      '-f',
      'mp4',
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
  if (code !== 0) throw new Error(said.trim() || `ffmpeg ended with ${code}.`);
  const made = Number(/frame=\s*(\d+)(?![\s\S]*frame=)/.exec(told)?.[1]);
  if (made !== pictures.length) throw new Error(`The movie has ${made} frames instead of ${pictures.length}.`);
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
