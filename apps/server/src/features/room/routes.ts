import { problemSchema, roomSchema } from '@arvex/core';
import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { projectParams } from '../../http/schemas';
import type { Ground } from '../../ground/ground';

/** How much room there is. */
export const roomRoutes =
  ({ projects, room }: Pick<Ground, 'projects' | 'room'>): FastifyPluginAsyncZod =>
  async (app) => {
    app.get(
      '/projects/:project/room',
      {
        schema: {
          tags: ['projects'],
          summary: 'How much room a project takes on the disk, and how much is left, bytes',
          params: projectParams,
          response: { 200: roomSchema, default: problemSchema },
        },
      },
      async ({ params }) => {
        await projects.seq(params.project);
        return room.taken(params.project);
      },
    );
  };
