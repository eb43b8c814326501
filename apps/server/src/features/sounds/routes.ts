import { assetFileSchema, LONGEST_SOUND_S, problemSchema } from '@arvex/core';
import { mostBytesOf, namesOf } from '@arvex/interchange/tables';
import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import * as z from 'zod';
import { Problem } from '../../problem/problem';
import { A_YEAR_S, storeUpload } from '../../http/upload';
import type { Ground } from '../../ground/ground';
import { decoded, soundFacts } from '../../media/read-sound';

const tags = ['sounds'];
/** Samples that are answered at once, bytes. */
const SAMPLES_LIMIT = 64 * 1024 * 1024;

const partSchema = z.object({
  /** The first sample, and how many, at the rate that is asked for. */
  from: z.coerce.number().int().min(0).default(0),
  count: z.coerce
    .number()
    .int()
    .min(1)
    .max(LONGEST_SOUND_S * 96_000),
  rate: z.coerce.number().int().min(1000).max(96_000).default(48_000),
  channels: z.coerce.number().int().min(1).max(2).default(2),
});

/** Files of sound by content, and their samples. */
export const soundRoutes =
  ({ files }: Pick<Ground, 'files'>): FastifyPluginAsyncZod =>
  async (app) => {
    app.post(
      '/sounds',
      {
        schema: {
          tags,
          summary: `Send a ${namesOf('sound')} of up to an hour (multipart, field "file")`,
          consumes: ['multipart/form-data'],
          response: { 201: assetFileSchema, default: problemSchema },
        },
      },
      async (request, reply) => {
        const stored = await storeUpload(request, files, mostBytesOf('sound'), 'Sounds');
        const leaving = new AbortController();
        reply.raw.once('close', () => leaving.abort());
        const facts = await soundFacts(files.path(stored.hash), leaving.signal).catch(async (error: unknown) => {
          await files.discard(stored);
          throw error;
        });
        return reply.code(201).send({ hash: stored.hash, bytes: stored.bytes, ...facts });
      },
    );

    app.get(
      '/sounds/:hash/samples',
      {
        schema: {
          tags,
          summary: 'Samples of a part of a sound: 16 bits, little end first, channels side by side',
          params: z.object({ hash: z.string().regex(/^[0-9a-f]{64}$/) }),
          querystring: partSchema,
        },
      },
      async ({ params, query }, reply) => {
        if (!(await files.has(params.hash))) throw new Problem('not-found', 'There is no such sound.');
        if (query.count * query.channels * 2 > SAMPLES_LIMIT)
          throw new Problem('too-large', 'So many samples are not answered at once. Ask for a shorter part.');
        const leaving = new AbortController();
        reply.raw.once('close', () => leaving.abort());
        // Whole before a byte is answered: what cannot be decoded is said, and no browser keeps it for a year.
        const samples = await decoded(files.path(params.hash), query, leaving.signal);
        reply.header('cache-control', `public, max-age=${A_YEAR_S}, immutable`).type('application/octet-stream');
        return reply.send(samples);
      },
    );
  };
