import type { PictureFile } from '@arvex/core';
import { pictureFileSchema, problemSchema } from '@arvex/core';
import { mostBytesOf, namesOf } from '@arvex/interchange/tables';
import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { imageSize } from 'image-size';
import { open, readFile } from 'node:fs/promises';
import * as z from 'zod';
import { Problem } from '../../problem/problem';
import { A_YEAR_S, storeUpload } from '../../http/upload';
import { checkedPng } from '../../files/png-check';
import type { Ground } from '../../ground/ground';

const tags = ['pictures'];
/** Largest side, pixels: what graphics take as one texture. */
const LARGEST_SIDE_PX = 16_384;
/** Headers of pictures, with all their metadata, come within the first so many bytes. */
const HEADER_BYTES = 1024 * 1024;

const MEDIA_TYPES: Readonly<Record<string, PictureFile['mediaType']>> = {
  png: 'image/png',
  jpg: 'image/jpeg',
  webp: 'image/webp',
};

/** Reference pictures by content. */
export const pictureRoutes =
  ({ files }: Pick<Ground, 'files'>): FastifyPluginAsyncZod =>
  async (app) => {
    app.post(
      '/pictures',
      {
        schema: {
          tags,
          summary: `Send a ${namesOf('picture')} (multipart, field "file")`,
          consumes: ['multipart/form-data'],
          response: { 201: pictureFileSchema, default: problemSchema },
        },
      },
      async (request, reply) => {
        const stored = await storeUpload(request, files, mostBytesOf('picture'), 'Pictures');
        const facts = await wholePicture(files.path(stored.hash)).catch(async (error: unknown) => {
          await files.discard(stored);
          throw error;
        });
        return reply.code(201).send({ hash: stored.hash, bytes: stored.bytes, ...facts });
      },
    );

    app.get(
      '/pictures/:hash',
      { schema: { tags, summary: 'A picture file', params: z.object({ hash: z.string().regex(/^[0-9a-f]{64}$/) }) } },
      async ({ params }, reply) => {
        if (!(await files.has(params.hash))) throw new Problem('not-found', 'There is no such picture.');
        const { mediaType } = await pictureFacts(files.path(params.hash));
        reply.header('cache-control', `public, max-age=${A_YEAR_S}, immutable`).type(mediaType);
        return reply.send(files.read(params.hash));
      },
    );
  };

/** Size and type of a picture that is whole. @throws Problem `invalid-picture`. */
async function wholePicture(path: string): Promise<Awaited<ReturnType<typeof pictureFacts>>> {
  const facts = await pictureFacts(path);
  const bytes = await readFile(path);
  const isWhole =
    facts.mediaType === 'image/png'
      ? (await checkedPng(bytes)) !== undefined
      : facts.mediaType === 'image/jpeg'
        ? endsAsJpeg(bytes)
        : bytes.length >= bytes.readUInt32LE(4) + RIFF_HEADER_BYTES;
  if (!isWhole)
    throw new Problem('invalid-picture', 'The picture is cut off, or damaged. Save it again, and send that.');
  return facts;
}

/** Of WebP, before the size that it says (RIFF). */
const RIFF_HEADER_BYTES = 8;

/** Whether the pictures of a JPEG begin, and end after that (ITU-T T.81, B.1.1.3): a preview in its header ends before. */
function endsAsJpeg(bytes: Buffer): boolean {
  for (let at = 2; at + 4 <= bytes.length;) {
    if (bytes[at] !== 0xff) return false;
    const marker = bytes[at + 1];
    if (marker === 0xda) return bytes.indexOf(Buffer.from([0xff, 0xd9]), at) >= 0;
    at += 2 + bytes.readUInt16BE(at + 2);
  }
  return false;
}

/** Size and type of a picture, from its header. @throws Problem `invalid-picture`. */
async function pictureFacts(path: string): Promise<Pick<PictureFile, 'kind' | 'widthPx' | 'heightPx' | 'mediaType'>> {
  const handle = await open(path, 'r');
  const { bytesRead, buffer } = await handle
    .read(Buffer.alloc(HEADER_BYTES), 0, HEADER_BYTES, 0)
    .finally(() => handle.close());
  let facts: { type?: string; width: number; height: number; orientation?: number } | undefined;
  try {
    facts = imageSize(buffer.subarray(0, bytesRead));
  } catch {
    facts = undefined; // said below, as for a type that is not taken
  }
  const mediaType = MEDIA_TYPES[facts?.type ?? ''];
  if (!facts || !mediaType) throw new Problem('invalid-picture', `This is not a ${namesOf('picture')} picture.`);
  const { width, height } = facts;
  if (width < 1 || height < 1 || Math.max(width, height) > LARGEST_SIDE_PX) {
    throw new Problem(
      'invalid-picture',
      `The picture is ${width} × ${height}; up to ${LARGEST_SIDE_PX} pixels each way are taken. Make it smaller.`,
    );
  }
  // A picture taken on its side is shown upright (EXIF orientations 5 to 8).
  const turned = (facts.orientation ?? 1) >= 5;
  return { kind: 'picture', widthPx: turned ? height : width, heightPx: turned ? width : height, mediaType };
}
