import { anyOrderSchema, checkingOrder, dayOf, givenOrderSchema, partsOf, problemSchema } from '@arvex/core';
import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import * as z from 'zod';
import { Problem } from '../../problem/problem';
import { orderParams, projectParams } from '../../http/schemas';
import { renderEvent } from '../../events/project-events';
import { archiveOf } from './archive';
import { disposition, filesOf } from './file-routes';
import type { RenderHouse } from './render-house';
import { doneInTurns } from '../../turns/in-turns';

const tags = ['renders'];
const idSchema = z.object({ id: z.uuid() });

/** Orders: what is to leave the building, as one answer to everything, with a render for each of its parts. */
export const orderRoutes =
  (house: RenderHouse): FastifyPluginAsyncZod =>
  async (app) => {
    const { projects, orders, renders, queue, finisher, events, room, files } = house;

    /** Does something to each render of an order that it can be done to, and tells everybody. */
    const toAll = async (orderId: string, act: (renderId: string) => Promise<void>) => {
      let refused: unknown;
      let done = 0;
      for (const id of await orders.rendersOf(orderId)) {
        try {
          await act(id);
          done += 1;
        } catch (error) {
          if (!(error instanceof Problem) || error.code !== 'render-over') throw error;
          refused ??= error;
        }
        events.publish((await renders.get(id)).projectId, renderEvent(id));
      }
      if (done === 0 && refused !== undefined) throw refused as Error;
      return { id: orderId };
    };

    app.post(
      '/projects/:project/orders',
      {
        schema: {
          tags,
          summary:
            'Order output: it is checked first, and later edits do not touch it. Sent twice with one id it is given once',
          params: projectParams,
          querystring: z.object({ id: z.uuid().optional() }),
          body: anyOrderSchema,
          response: { 201: givenOrderSchema, default: problemSchema },
        },
      },
      async ({ params, query, body, author }, reply) => {
        const answer = async (orderId: string) => {
          const given = await Promise.all((await orders.rendersOf(orderId)).map((id) => renders.get(id)));
          return { orderId, version: given[0]?.name ?? '', renders: given };
        };
        // Sent again because its answer was lost: it is given once.
        if (query.id !== undefined && (await orders.isGiven(params.project, query.id)))
          return reply.code(201).send(await answer(query.id));
        const project = await projects.load(params.project);
        const parts = partsOf(project, body);
        const number = { version: await orders.comingVersion(params.project), date: dayOf(new Date()) };
        const against = await doneInTurns(checkingOrder(project, body, parts, number));
        const stop = against.find(({ stops }) => stops);
        if (stop) {
          const shotId = stop.finding?.shotId;
          throw new Problem('not-ready', sentence(stop.message), {
            field: stop.where,
            ...(shotId !== undefined && { shotId }),
          });
        }
        const lying = body.places.folder ? await finisher.wouldOverwrite(project, body, parts, number) : undefined;
        if (lying !== undefined) {
          const message = `${lying} lies in the output folder already. Put {version} in a name, or take it away there.`;
          throw new Problem('not-ready', message, { field: 'names' });
        }
        const given = await answer(await orders.give(project, body, parts, { id: query.id, author }));
        events.publish(params.project, renderEvent(given.renders[0]?.id ?? given.orderId));
        return reply.code(201).send(given);
      },
    );

    const act = (name: string, summary: string, one: (renderId: string) => Promise<void>) =>
      app.post(
        `/orders/:order/${name}`,
        { schema: { tags, summary, params: orderParams, response: { 200: idSchema, default: problemSchema } } },
        ({ params }) => toAll(params.order, one),
      );
    act('pause', 'Let all parts of an order wait', (id) => queue.pause(id, true));
    act('go-on', 'Let all parts of an order that wait go on', (id) => queue.pause(id, false));
    act('cancel', 'Cancel all parts of an order that are not done', async (id) => {
      await queue.cancel(id);
      room.collectSoon();
    });

    app.get(
      '/orders/:order/files.zip',
      { schema: { tags, summary: 'All that an order has made, in its folders, as a zip', params: orderParams } },
      async ({ params }, reply) => {
        const ids = await orders.rendersOf(params.order);
        const all = (await Promise.all(ids.map((id) => filesOf(house, id)))).flat();
        const { name } = await renders.get(ids[0] ?? '');
        return reply
          .header('content-disposition', disposition('attachment', `${name}.zip`))
          .type('application/zip')
          .send(archiveOf(all, files));
      },
    );
  };

/** What stands against an order, as a sentence. */
function sentence(message: string): string {
  return /[.!?]$/.test(message) ? message : `${message}.`;
}
