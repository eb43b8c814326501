import { cameraPackageSchema, pageOf, pageQuerySchema, problemSchema } from '@arvex/core';
import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import * as z from 'zod';
import type { Services } from '../../services';

const tags = ['packages'];
const params = z.object({ package: z.uuid() });

/** Packages: camera settings saved by name, for every project. */
export const packageRoutes =
  ({ packages }: Services): FastifyPluginAsyncZod =>
  async (app) => {
    app.get(
      '/packages',
      {
        schema: {
          tags,
          summary: 'Packages by name',
          querystring: pageQuerySchema,
          response: { 200: pageOf(cameraPackageSchema), default: problemSchema },
        },
      },
      ({ query }) => packages.list(query.offset, query.limit),
    );

    app.put(
      '/packages/:package',
      {
        schema: {
          tags,
          summary: 'Save a package under an id of your own',
          params,
          body: cameraPackageSchema.omit({ id: true }),
          response: { 200: cameraPackageSchema, default: problemSchema },
        },
      },
      async ({ params: { package: id }, body }) => {
        const saved = { ...body, id };
        await packages.save(saved);
        return saved;
      },
    );

    app.delete(
      '/packages/:package',
      {
        schema: {
          tags,
          summary: 'Delete a package; cameras that it was used on stay as they are',
          params,
          response: { 200: z.object({ id: z.uuid() }), default: problemSchema },
        },
      },
      async ({ params: { package: id } }) => {
        await packages.delete(id);
        return { id };
      },
    );
  };
