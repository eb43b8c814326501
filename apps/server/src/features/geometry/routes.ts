import { geometryFileSchema, problemSchema } from '@arvex/core';
import { mostBytesOf } from '@arvex/interchange/tables';
import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import * as z from 'zod';
import { Problem } from '../../problem/problem';
import { A_YEAR_S, storeUpload } from '../../http/upload';
import type { Ground } from '../../ground/ground';
import type { MeasureGeometry } from './measure-geometry';
import { measureHere } from './measure-geometry';

const tags = ['geometry'];

export interface GeometryOptions {
  /** Largest geometry file taken, bytes. */
  readonly geometryLimit?: number;
  /** In this thread when left out. */
  readonly measure?: MeasureGeometry;
}

/** Geometry files by content. */
export const geometryRoutes =
  ({ geometryLimit = mostBytesOf('geometry'), measure = measureHere }: GeometryOptions) =>
  ({ files }: Pick<Ground, 'files'>): FastifyPluginAsyncZod =>
  async (app) => {
    app.post(
      '/geometry',
      {
        schema: {
          tags,
          summary: 'Send a GLB (multipart, field "file"); it is measured and kept',
          consumes: ['multipart/form-data'],
          response: { 201: geometryFileSchema, default: problemSchema },
        },
      },
      async (request, reply) => {
        const stored = await storeUpload(request, files, geometryLimit, 'Geometry files');
        const gone = new AbortController();
        request.raw.socket.once('close', () => gone.abort());
        const facts = await measure(files.path(stored.hash), stored.hash, gone.signal).catch(async (error: unknown) => {
          await files.discard(stored);
          throw error;
        });
        return reply.code(201).send(facts);
      },
    );

    app.get(
      '/geometry/:hash',
      { schema: { tags, summary: 'A geometry file', params: z.object({ hash: z.string().regex(/^[0-9a-f]{64}$/) }) } },
      async ({ params }, reply) => {
        if (!(await files.has(params.hash))) throw new Problem('not-found', 'There is no such geometry file.');
        // The name is the content: it never changes.
        reply.header('cache-control', `public, max-age=${A_YEAR_S}, immutable`).type('model/gltf-binary');
        return reply.send(files.read(params.hash));
      },
    );
  };
