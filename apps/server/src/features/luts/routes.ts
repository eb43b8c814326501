import { lutFileSchema, problemSchema } from '@arvex/core';
import { InterchangeError, readingCube } from '@arvex/interchange/looks';
import { CUBE_BYTES } from '@arvex/interchange/tables';
import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { readFile } from 'node:fs/promises';
import * as z from 'zod';
import { Problem } from '../../problem/problem';
import { A_YEAR_S, storeUpload } from '../../http/upload';
import { doneInTurns } from '../../turns/in-turns';
import type { Ground } from '../../ground/ground';

const tags = ['luts'];

/** 3D tables of colours by content. */
export const lutRoutes =
  ({ files }: Pick<Ground, 'files'>): FastifyPluginAsyncZod =>
  async (app) => {
    app.post(
      '/luts',
      {
        schema: {
          tags,
          summary: 'Send a 3D table of colours, .cube (multipart, field "file")',
          consumes: ['multipart/form-data'],
          response: { 201: lutFileSchema, default: problemSchema },
        },
      },
      async (request, reply) => {
        const stored = await storeUpload(request, files, CUBE_BYTES, 'Tables of colours');
        const { hash, bytes } = stored;
        try {
          const { size } = await doneInTurns(readingCube(await readFile(files.path(hash), 'utf8')));
          return reply.code(201).send({ kind: 'lut', hash, bytes, size });
        } catch (error) {
          await files.discard(stored);
          throw error instanceof InterchangeError
            ? new Problem('invalid-lut', error.message, { field: 'file' })
            : error;
        }
      },
    );

    app.get(
      '/luts/:hash',
      {
        schema: {
          tags,
          summary: 'A 3D table of colours',
          params: z.object({ hash: z.string().regex(/^[0-9a-f]{64}$/) }),
        },
      },
      async ({ params }, reply) => {
        if (!(await files.has(params.hash))) throw new Problem('not-found', 'There is no such table of colours.');
        reply.header('cache-control', `public, max-age=${A_YEAR_S}, immutable`).type('text/plain; charset=utf-8');
        return reply.send(files.read(params.hash));
      },
    );
  };
