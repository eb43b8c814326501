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
    { stdio: ['pipe', 'ignore', 'pipe'], signal },
  );
  let said = '';
  ffmpeg.stderr.on('data', (chunk: Buffer) => (said = `${said}${chunk.toString()}`.slice(-MESSAGE_LENGTH)));
  const exit = new Promise<number | null>((resolve, reject) => ffmpeg.once('error', reject).once('close', resolve));
  exit.catch(() => undefined); // met below; without this a failing pipe would leave it unhandled
  await feed(ffmpeg.stdin, pictures).catch(() => undefined); // ffmpeg says why it closed its input
  const code = await exit;
  if (code !== 0) throw new Error(said.trim() || `ffmpeg ended with ${code}.`);
}

async function feed(input: Writable, pictures: readonly string[]): Promise<void> {
  const broken = once(input, 'error').then(([error]) => Promise.reject(error as Error));
  broken.catch(() => undefined);
  for (const picture of pictures) {
    for await (const chunk of createReadStream(picture)) {
      if (!input.write(chunk)) await Promise.race([once(input, 'drain'), broken]);
    }
  }
  input.end();
}
