import type { FrameFile, Lease } from '@arvex/core';
import {
  frameKeySchema,
  keptFramesSchema,
  leaseSchema,
  PICTURE_FORMATS,
  problemSchema,
  projectSchema,
  rendererNameSchema,
  renderJobSchema,
  renderSchema,
  takenFramesSchema,
} from '@arvex/core';
import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { randomUUID } from 'node:crypto';
import * as z from 'zod';
import { Problem } from '../../problem/problem';
import { renderParams } from '../../http/schemas';
import { renderEvent } from '../../events/project-events';
import { wrongFile } from './frame-check';
import type { RenderHouse } from './render-house';

const tags = ['renders'];
const FRAME_TYPES = Object.values(PICTURE_FORMATS).map(({ mediaType }) => mediaType);
/** Problems that say that a file of a frame was not kept. */
const NOT_KEPT: ReadonlySet<string> = new Set(['lease-lost', 'render-over']);
/** Largest file of a frame: sixteen thousand pixels in floats. */
const FRAME_LIMIT = 1024 * 1024 * 1024;
const frameParams = z.object({ render: z.uuid(), index: z.coerce.number().int().min(0).max(10_000_000) });
const fileParams = frameParams.extend({ role: z.string().min(1).max(200) });
const leaseQuery = z.object({ lease: z.uuid() });
const fileQuery = leaseQuery.extend({ key: frameKeySchema.optional() });
const leaseParams = z.object({ render: z.uuid(), lease: z.uuid() });
const countSchema = z.object({
  count: z.number().int().min(1).max(64),
  renderer: rendererNameSchema.optional(),
  graphics: z.string().min(1).max(160).optional(),
});
const rendererParams = z.object({ renderer: rendererNameSchema });

/** What renderers ask and send: leases on frames, and the files of frames. */
export const frameRoutes =
  ({ orders, renders, queue, desk, kept, files, events }: RenderHouse): FastifyPluginAsyncZod =>
  async (app) => {
    // As large as the route lets it be: only the one that takes frames takes more than a little.
    for (const type of FRAME_TYPES) {
      app.addContentTypeParser(type, { parseAs: 'buffer' }, (_request, body, done) => done(null, body));
    }

    /** Frames for a renderer; none, and no render, where nothing is to be drawn just now. */
    const leased = async (
      { count, renderer, graphics }: z.infer<typeof countSchema>,
      renderId?: string,
    ): Promise<Lease> => {
      const held = await queue.lease({ kinds: ['draw'], count, worker: renderer, graphics, renderId });
      const nothing = { leaseId: randomUUID(), renderId: renderId ?? null, frames: [], seconds: queue.leaseSeconds };
      return held ? { ...held, frames: [...held.frames] } : nothing;
    };

    app.get(
      '/renders/:render/job',
      {
        schema: {
          tags,
          summary: 'What a renderer has to know of a render',
          params: renderParams,
          response: { 200: renderJobSchema, default: problemSchema },
        },
      },
      ({ params }) => orders.job(params.render),
    );

    app.get(
      '/renders/:render/project',
      {
        schema: {
          tags,
          summary: 'The project as it was when the order was given',
          params: renderParams,
          response: { 200: projectSchema, default: problemSchema },
        },
        serializerCompiler: () => JSON.stringify,
      },
      async ({ params }) => orders.projectOf((await renders.get(params.render)).orderId),
    );

    app.post(
      '/leases',
      {
        schema: {
          tags,
          summary: 'Take a lease on some frames of whatever is first in line',
          body: countSchema,
          response: { 200: leaseSchema, default: problemSchema },
        },
      },
      ({ body }) => leased(body),
    );

    app.post(
      '/renderers/:renderer/begin',
      {
        schema: {
          tags,
          summary: 'Say that a renderer begins anew: others may have at once what it held before',
          params: rendererParams,
          response: { 200: z.object({ freed: z.number() }), default: problemSchema },
        },
      },
      async ({ params }) => ({ freed: await queue.begin(params.renderer) }),
    );

    app.post(
      '/renders/:render/leases',
      {
        schema: {
          tags,
          summary: 'Take a lease on some frames of one render',
          params: renderParams,
          body: countSchema,
          response: { 200: leaseSchema, default: problemSchema },
        },
      },
      ({ params, body }) => leased(body, params.render),
    );

    app.post(
      '/renders/:render/leases/:lease',
      {
        schema: {
          tags,
          summary: 'Say that the renderer of a lease still lives: it goes on for as long as a new one',
          params: leaseParams,
          response: { 200: z.object({ seconds: z.number() }), default: problemSchema },
        },
      },
      async ({ params }) => ({ seconds: await queue.extend({ renderId: params.render, leaseId: params.lease }) }),
    );

    app.delete(
      '/renders/:render/leases/:lease',
      {
        schema: {
          tags,
          summary: 'Give the frames of a lease back that were not made',
          params: leaseParams,
          response: { 200: z.object({ leaseId: z.uuid() }), default: problemSchema },
        },
      },
      async ({ params }) => {
        await queue.release({ renderId: params.render, leaseId: params.lease });
        return { leaseId: params.lease };
      },
    );

    app.post(
      '/renders/:render/leases/:lease/kept',
      {
        schema: {
          tags,
          summary: 'Take frames that were made before under the same keys; those that are said are done',
          params: leaseParams,
          body: keptFramesSchema,
          response: { 200: takenFramesSchema, default: problemSchema },
        },
      },
      async ({ params, body }) => ({ taken: await kept.take(params.render, params.lease, body) }),
    );

    app.post(
      '/renders/:render/frames/:index/failure',
      {
        schema: {
          tags,
          summary: 'Say that a frame could not be made; the third time it is left, and the rest goes on',
          params: frameParams,
          querystring: leaseQuery,
          body: z.object({ why: z.string().min(1).max(1000) }),
          response: { 200: renderSchema, default: problemSchema },
        },
      },
      async ({ params, query, body }) => {
        await queue.fail({ renderId: params.render, leaseId: query.lease }, params.index, body.why);
        const render = await renders.get(params.render);
        events.publish(render.projectId, renderEvent(render.id));
        return render;
      },
    );

    app.put(
      '/renders/:render/frames/:index/:role',
      {
        bodyLimit: FRAME_LIMIT,
        // Before a byte of the file is read: who has no right to send it is told so at once.
        onRequest: async ({ params, query }) => {
          const { render, index } = frameParams.parse(params);
          await queue.mustHold({ renderId: render, leaseId: leaseQuery.parse(query).lease }, index);
        },
        schema: {
          tags,
          summary: 'Send one of the files of a frame; with the last of them the frame is done',
          consumes: FRAME_TYPES,
          params: fileParams,
          querystring: fileQuery,
          response: { 200: z.object({ done: z.boolean() }), default: problemSchema },
        },
      },
      async ({ params, query, body, headers }) => {
        const { render: id, index, role } = params;
        const { job, wanted, pathOf } = await desk.of(id);
        const file = wanted.find((one) => one.role === role);
        if (!file) throw new Problem('not-found', `A frame of this render has no file "${role}".`, { field: 'role' });
        if (!Buffer.isBuffer(body) || !headers['content-type']?.startsWith(PICTURE_FORMATS[file.format].mediaType))
          throw new Problem('wrong-type', `Send this file as ${PICTURE_FORMATS[file.format].mediaType}.`);
        const wrong = await wrongFile(job, file, body);
        if (wrong !== undefined) throw new Problem('invalid-picture', `Frame ${index} is to be ${wrong}`);
        const stored = await files.write([body]);
        const { hash, bytes } = stored;
        const made = { index, role, path: await pathOf(index, file), hash, bytes, key: query.key };
        const roles = wanted.map((one: FrameFile) => one.role);
        const lease = { renderId: id, leaseId: query.lease };
        await queue.keep(job.projectId, lease, made, roles).catch(async (error: unknown) => {
          // Only where it is sure that nothing was kept: a commit whose answer was lost may have been made all the same.
          if (error instanceof Problem && NOT_KEPT.has(error.code)) await files.discard(stored);
          throw error;
        });
        events.publish(job.projectId, renderEvent(id));
        return { done: true };
      },
    );
  };
