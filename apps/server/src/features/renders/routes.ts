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
import { z } from 'zod';
import { Problem } from '../../http/problem';
import { projectParams, renderParams } from '../../http/schemas';
import type { Services } from '../../services';
import { framesArchive } from './frames-archive';
import { pngSize } from './png-size';

const tags = ['renders'];
const FRAME_LIMIT = 128 * 1024 * 1024;

/** Renders: a list of frames that renderers lease, make and send, and the movie and archive made of them. */
export const renderRoutes =
  ({ projects, renders, finisher, files, events }: Services): FastifyPluginAsyncZod =>
  async (app) => {
    app.addContentTypeParser('image/png', { parseAs: 'buffer', bodyLimit: FRAME_LIMIT }, (_request, body, done) =>
      done(null, body),
    );

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
        const { total } = await renders.list(params.project, 0, 1);
        const version = `v${String(total + 1).padStart(3, '0')}`;
        const id = await renders.create(project, body.sequenceId, body.share, version);
        events.publish(params.project, { kind: 'render', renderId: id });
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
      ({ params, body }) => renders.lease(params.render, body.count),
    );

    app.put(
      '/renders/:render/frames/:index',
      {
        bodyLimit: FRAME_LIMIT,
        schema: {
          tags,
          summary: 'Send a finished frame as PNG',
          consumes: ['image/png'],
          params: z.object({ render: z.uuid(), index: z.coerce.number().int().min(0) }),
          querystring: z.object({ lease: z.uuid() }),
          response: { 200: renderSchema, default: problemSchema },
        },
      },
      async ({ params, query, body }) => {
        const render = await renders.get(params.render);
        await renders.mustHold(render.id, params.index, query.lease);
        if (!Buffer.isBuffer(body)) throw new Problem('wrong-type', 'Send the frame as image/png.');
        const size = pngSize(body);
        if (size?.width !== render.widthPx || size.height !== render.heightPx) {
          const got = size ? `${size.width} × ${size.height}` : 'not a whole PNG';
          throw new Problem(
            'invalid-picture',
            `Frame ${params.index} is to be ${render.widthPx} × ${render.heightPx}; this is ${got}.`,
          );
        }
        const stored = await files.write([body]);
        const last = await renders.finish(render.id, { index: params.index, ...stored }, query.lease);
        if (last) finisher.finish(render.id);
        events.publish(render.projectId, { kind: 'render', renderId: render.id });
        return renders.get(render.id);
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
        const render = await renders.get(params.render);
        events.publish(render.projectId, { kind: 'render', renderId: render.id });
        return render;
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
          .header('content-disposition', `inline; filename="${fileNamePart(render.name)}.mp4"`)
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
        return reply
          .header('content-disposition', `attachment; filename="${fileNamePart(render.name)}.zip"`)
          .type('application/zip')
          .send(framesArchive(render, frames, files));
      },
    );
  };

/** Stops what would be found out after hours: an empty cut, a shot without a camera. */
function mustBeReady(project: Project, sequenceId: string): void {
  const sequence = project.sequences[sequenceId];
  if (!sequence) throw new Problem('not-found', 'The project has no such sequence.', { field: 'sequenceId' });
  const { shots } = cutOf(project, sequenceId);
  if (shots.length === 0) throw new Problem('not-ready', `${sequence.name} has no shots. Add one in Sequence.`);
  const blind = shots.find(({ shot }) => shot.cameraId === null);
  if (blind)
    throw new Problem('not-ready', `${blind.shot.name} has no camera. Choose one in Sequence.`, {
      shotId: blind.shot.id,
    });
}
