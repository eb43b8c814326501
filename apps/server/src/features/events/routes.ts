import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { projectParams } from '../../http/schemas';
import type { Ground } from '../../ground/ground';
import { helloEvent } from '../../events/project-events';

/** So much may wait for a listener, bytes. */
const MOST_UNREAD_BYTES = 4 * 1024 * 1024;

/** Server-sent events of a project: `change` and `render`. A client that was away asks for the changes after its last. */
export const eventRoutes =
  ({ projects, events }: Pick<Ground, 'projects' | 'events'>): FastifyPluginAsyncZod =>
  async (app) => {
    app.get(
      '/projects/:project/events',
      {
        // What is told is JSON already, made once for all who listen.
        sse: { kind: 'only', serializer: String },
        // Asked for its headers alone, a stream would never end.
        exposeHeadRoute: false,
        schema: { tags: ['projects'], summary: 'What happens to a project, as it happens', params: projectParams },
      },
      async ({ params }, reply) => {
        await projects.seq(params.project); // who asks for a project that is not there is told so
        const end = events.subscribe(params.project, (event) => {
          // One that does not read is let go: it comes again, and asks for what it missed.
          if (reply.raw.writableLength > MOST_UNREAD_BYTES) {
            reply.raw.destroy();
            return;
          }
          // A listener that has gone is told nothing more; its closing ends the subscription below.
          reply.sse.send({ event: event.kind, data: event.json }).catch(() => undefined);
        });
        reply.sse.keepAlive();
        reply.sse.onClose(end);
        // Read only now: a change between is told by one or the other.
        const { kind, json } = helloEvent(await projects.seq(params.project));
        await reply.sse.send({ event: kind, data: json });
      },
    );
  };
