import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { projectParams } from '../../http/schemas';
import type { Services } from '../../services';

/** Server-sent events of a project: `change` and `render`. A client that was away asks for the changes after its last. */
export const eventRoutes =
  ({ projects, events }: Services): FastifyPluginAsyncZod =>
  async (app) => {
    app.get(
      '/projects/:project/events',
      {
        sse: 'only',
        schema: { tags: ['projects'], summary: 'What happens to a project, as it happens', params: projectParams },
      },
      async ({ params }, reply) => {
        await projects.seq(params.project); // who asks for a project that is not there is told so
        const end = events.subscribe(params.project, (event) => {
          const data = event.kind === 'change' ? event.applied : { renderId: event.renderId };
          // A listener that has gone is told nothing more; its closing ends the subscription below.
          reply.sse.send({ event: event.kind, data }).catch(() => undefined);
        });
        reply.sse.keepAlive();
        reply.sse.onClose(end);
        // Read only now: a change between is told by one or the other.
        await reply.sse.send({ event: 'hello', data: { seq: await projects.seq(params.project) } });
      },
    );
  };
