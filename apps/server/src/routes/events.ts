import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import type { Services } from '../services/services';
import { projectParams } from './schemas';

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
        const project = await projects.load(params.project);
        const end = events.subscribe(params.project, (event) => {
          const data = event.kind === 'change' ? event.applied : { renderId: event.renderId };
          // A listener that has gone is told nothing more; its closing ends the subscription below.
          reply.sse.send({ event: event.kind, data }).catch(() => undefined);
        });
        reply.sse.keepAlive();
        reply.sse.onClose(end);
        await reply.sse.send({ event: 'hello', data: { seq: project.seq } });
      },
    );
  };
