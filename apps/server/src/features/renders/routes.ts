import { lightMixSchema, pageOf, pageQuerySchema, problemSchema, renderSchema } from '@arvex/core';
import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import * as z from 'zod';
import { projectParams, renderParams } from '../../http/schemas';
import { renderEvent } from '../../events/project-events';
import { fileRoutes } from './file-routes';
import { frameRoutes } from './frame-routes';
import { orderRoutes } from './order-routes';
import type { RenderHouse } from './render-house';

const tags = ['renders'];

/** Renders: the parts of orders, with frames that renderers lease, make and send, and the movies made of them. */
export const renderRoutes =
  (house: RenderHouse): FastifyPluginAsyncZod =>
  async (app) => {
    const { renders, queue, events, room, mixer } = house;
    await app.register(orderRoutes(house));
    await app.register(frameRoutes(house));
    await app.register(fileRoutes(house));

    /** Tells everybody that a render went on. @returns how it is now. */
    const told = async (id: string) => {
      const render = await renders.get(id);
      events.publish(render.projectId, renderEvent(id));
      return render;
    };

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

    const act = (name: string, summary: string, work: (id: string) => Promise<void>) =>
      app.post(
        `/renders/:render/${name}`,
        { schema: { tags, summary, params: renderParams, response: { 200: renderSchema, default: problemSchema } } },
        async ({ params }) => {
          await work(params.render);
          return told(params.render);
        },
      );
    app.post(
      '/renders/:render/mixes',
      {
        schema: {
          tags,
          summary: 'Make the next version of a render from its light groups with another mix, without drawing anything',
          params: renderParams,
          body: z.object({ mix: lightMixSchema }),
          response: { 201: renderSchema, default: problemSchema },
        },
      },
      async ({ params, body, author }, reply) =>
        reply.code(201).send(await told(await mixer.order(params.render, body.mix, author))),
    );

    app.post(
      '/renders/:render/mixed-frame',
      {
        schema: {
          tags,
          summary: 'One frame of a render with another mix of its light, as a PNG',
          params: renderParams,
          body: z.object({ mix: lightMixSchema, index: z.number().int().min(0) }),
        },
      },
      async ({ params, body }, reply) =>
        reply.type('image/png').send(Buffer.from(await mixer.seen(params.render, body.mix, body.index))),
    );

    act('cancel', 'Cancel a render', async (id) => {
      await queue.cancel(id);
      room.collectSoon();
    });
    act('pause', 'Let a render wait: frames in hand are still taken', (id) => queue.pause(id, true));
    act('go-on', 'Let a render that waits go on', (id) => queue.pause(id, false));
    act('first', 'Put a render first in line', (id) => queue.first(id));
    act('again', 'Take up a render that failed: its missing frames, then its movies', (id) => queue.again(id));

    app.delete(
      '/renders/:render',
      {
        schema: {
          tags,
          summary: 'Delete a render with its frames and its movies',
          params: renderParams,
          response: { 200: z.object({ id: z.uuid() }), default: problemSchema },
        },
      },
      async ({ params }) => {
        const render = await renders.get(params.render);
        await renders.delete(render.id);
        queue.drop({ renderId: render.id });
        room.collectSoon();
        events.publish(render.projectId, renderEvent(render.id));
        return { id: render.id };
      },
    );
  };
