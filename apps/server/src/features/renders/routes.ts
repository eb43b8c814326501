import type { Project } from '@arvex/core';
import {
  cutOf,
  fileNamePart,
  leaseSchema,
  pageOf,
  pageQuerySchema,
  problemSchema,
  projectSchema,
  renderOrderSchema,
  renderSchema,
} from '@arvex/core';
import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { basename, dirname } from 'node:path';
import * as z from 'zod';
import { Problem } from '../../http/problem';
import { projectParams, renderParams } from '../../http/schemas';
import type { Services } from '../../services';
import { renderEvent } from '../events/project-events';
import { framesArchive } from './frames-archive';
import { checkedPng } from './png-check';

const tags = ['renders'];
const FRAME_LIMIT = 128 * 1024 * 1024;
const frameParams = z.object({ render: z.uuid(), index: z.coerce.number().int().min(0).max(10_000_000) });
const leaseQuery = z.object({ lease: z.uuid() });
const leaseParams = z.object({ render: z.uuid(), lease: z.uuid() });

/** Renders: a list of frames that renderers lease, make and send, and the movie and archive made of them. */
export const renderRoutes =
  ({ projects, renders, leases, finisher, files, events, room }: Services): FastifyPluginAsyncZod =>
  async (app) => {
    /** Tells everybody that a render went on. @returns how it is now. */
    const told = async (id: string) => {
      const render = await renders.get(id);
      events.publish(render.projectId, renderEvent(id));
      return render;
    };
    // As large as the route lets it be: only the one that takes frames takes more than a little.
    app.addContentTypeParser('image/png', { parseAs: 'buffer' }, (_request, body, done) => done(null, body));

    app.post(
      '/projects/:project/renders',
      {
        schema: {
          tags,
          summary: 'Render a cut',
          params: projectParams,
          body: renderOrderSchema,
          response: { 201: renderSchema, default: problemSchema },
        },
      },
      async ({ params, body }, reply) => {
        const project = await projects.load(params.project);
        mustBeReady(project, body.sequenceId);
        const id = await renders.create(project, body.sequenceId, body.share);
        events.publish(params.project, renderEvent(id));
        return reply.code(201).send(await renders.get(id));
      },
    );

    app.get(
      '/projects/:project/renders',
      {
        schema: {
          tags,
          summary: 'Renders of a project, newest first',
          params: projectParams,
          querystring: pageQuerySchema,
          response: { 200: pageOf(renderSchema), default: problemSchema },
        },
      },
      ({ params, query }) => renders.list(params.project, query.offset, query.limit),
    );

    app.get(
      '/renders/:render',
      {
        schema: {
          tags,
          summary: 'One render',
          params: renderParams,
          response: { 200: renderSchema, default: problemSchema },
        },
      },
      ({ params }) => renders.get(params.render),
    );

    app.get(
      '/renders/:render/project',
      {
        schema: {
          tags,
          summary: 'The project as it was when the render was asked for',
          params: renderParams,
          response: { 200: projectSchema, default: problemSchema },
        },
        serializerCompiler: () => JSON.stringify,
      },
      ({ params }) => renders.snapshot(params.render),
    );

    app.post(
      '/renders/:render/leases',
      {
        schema: {
          tags,
          summary: 'Take a lease on some frames',
          params: renderParams,
          body: z.object({ count: z.number().int().min(1).max(64) }),
          response: {
            200: leaseSchema,
            default: problemSchema,
          },
        },
      },
      ({ params, body }) => leases.lease(params.render, body.count),
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
      async ({ params }) => ({ seconds: await leases.extend(params.render, params.lease) }),
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
        await leases.release(params.render, params.lease);
        return { leaseId: params.lease };
      },
    );

    app.post(
      '/renders/:render/frames/:index/failure',
      {
        schema: {
          tags,
          summary: 'Say that a frame could not be made; the third time ends its render',
          params: frameParams,
          querystring: leaseQuery,
          body: z.object({ why: z.string().min(1).max(1000) }),
          response: { 200: renderSchema, default: problemSchema },
        },
      },
      async ({ params, query, body }) => {
        await leases.frameFailed(params.render, params.index, query.lease, body.why);
        return told(params.render);
      },
    );

    app.put(
      '/renders/:render/frames/:index',
      {
        bodyLimit: FRAME_LIMIT,
        // Before a byte of the frame is read: who has no right to send it is told so at once.
        onRequest: async ({ params, query }) => {
          const { render, index } = frameParams.parse(params);
          await leases.mustHold(render, index, leaseQuery.parse(query).lease);
        },
        schema: {
          tags,
          summary: 'Send a finished frame as PNG',
          consumes: ['image/png'],
          params: frameParams,
          querystring: leaseQuery,
          response: { 200: renderSchema, default: problemSchema },
        },
      },
      async ({ params, query, body }) => {
        const render = await renders.get(params.render);
        if (!Buffer.isBuffer(body)) throw new Problem('wrong-type', 'Send the frame as image/png.');
        const size = await checkedPng(body);
        if (size?.width !== render.widthPx || size.height !== render.heightPx) {
          const got = size ? `${size.width} × ${size.height}` : 'not a whole PNG';
          throw new Problem(
            'invalid-picture',
            `Frame ${params.index} is to be ${render.widthPx} × ${render.heightPx}; this is ${got}.`,
          );
        }
        const stored = await files.write([body]);
        const last = await leases
          .finish(render.id, { index: params.index, ...stored }, query.lease)
          .catch(async (error: unknown) => {
            await files.discard(stored);
            throw error;
          });
        if (last) finisher.finish(render.id);
        return told(render.id);
      },
    );

    app.post(
      '/renders/:render/cancel',
      {
        schema: {
          tags,
          summary: 'Cancel a render',
          params: renderParams,
          response: { 200: renderSchema, default: problemSchema },
        },
      },
      async ({ params }) => {
        await renders.cancel(params.render);
        finisher.cancel(params.render);
        room.collectSoon();
        return told(params.render);
      },
    );

    app.post(
      '/renders/:render/again',
      {
        schema: {
          tags,
          summary: 'Take up a render that failed: its missing frames, then its movie',
          params: renderParams,
          response: { 200: renderSchema, default: problemSchema },
        },
      },
      async ({ params }) => {
        if (await renders.again(params.render)) finisher.finish(params.render);
        return told(params.render);
      },
    );

    app.delete(
      '/renders/:render',
      {
        schema: {
          tags,
          summary: 'Delete a render with its frames and its movie',
          params: renderParams,
          response: { 200: z.object({ id: z.uuid() }), default: problemSchema },
        },
      },
      async ({ params }) => {
        const render = await renders.get(params.render);
        await renders.delete(render.id);
        finisher.cancel(render.id);
        room.collectSoon();
        events.publish(render.projectId, renderEvent(render.id));
        return { id: render.id };
      },
    );

    app.get(
      '/renders/:render/movie.mp4',
      { schema: { tags, summary: 'The movie (H.264 in MP4); byte ranges are served', params: renderParams } },
      async ({ params }, reply) => {
        const render = await renders.get(params.render);
        if (!render.movieHash) throw new Problem('not-found', 'The movie of this render is not there yet.');
        const path = files.path(render.movieHash);
        return reply
          .header('content-disposition', disposition('inline', `${fileNamePart(render.name)}.mp4`))
          .type('video/mp4')
          .sendFile(basename(path), dirname(path), { contentType: false, cacheControl: false });
      },
    );

    app.get(
      '/renders/:render/frames.zip',
      { schema: { tags, summary: 'The frames as a zip of PNGs with their facts as JSON', params: renderParams } },
      async ({ params }, reply) => {
        const render = await renders.get(params.render);
        if (render.framesDone < render.frameCount) {
          const left = render.frameCount - render.framesDone;
          throw new Problem('not-found', `${left} of ${render.frameCount} frames are not there yet.`);
        }
        const frames = await renders.finishedFrames(render.id);
        for (const frame of frames) {
          if (await files.has(frame.hash)) continue;
          throw new Problem('not-found', `The file of frame ${frame.fileName} is missing. Render the cut again.`);
        }
        return reply
          .header('content-disposition', disposition('attachment', `${fileNamePart(render.name)}.zip`))
          .type('application/zip')
          .send(framesArchive(render, frames, files));
      },
    );
  };

/** A name for a download, in every script (RFC 6266, 4.3, with RFC 8187). */
function disposition(how: 'inline' | 'attachment', name: string): string {
  const plain = name.replace(/[^\x20-\x7e]|["\\]/g, '_');
  return `${how}; filename="${plain}"; filename*=UTF-8''${encodeURIComponent(name).replace(/['()*]/g, (c) => `%${c.charCodeAt(0).toString(16)}`)}`;
}

/** Stops what would be found out after hours: an empty cut, a shot without a camera. */
function mustBeReady(project: Project, sequenceId: string): void {
  const sequence = project.sequences[sequenceId];
  if (!sequence) throw new Problem('not-found', 'The project has no such sequence.', { field: 'sequenceId' });
  const { shots } = cutOf(project, sequenceId);
  if (shots.length === 0) throw new Problem('not-ready', `${sequence.name} has no shots. Add one in Sequence.`);
  const blind = shots.find(({ shot }) => shot.cameraId === null && shot.insideId === null);
  if (blind)
    throw new Problem('not-ready', `${blind.shot.name} has no camera. Choose one in Sequence.`, {
      shotId: blind.shot.id,
    });
}
