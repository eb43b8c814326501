import { cameraPackageSchema, pageOf, pageQuerySchema, problemSchema, recipeSchema } from '@arvex/core';
import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import * as z from 'zod';
import type { Ground } from '../../ground/ground';
import { PACKAGES, RECIPES } from './kinds';
import type { Named } from './store';
import { NamedStore } from './store';

const params = z.object({ id: z.uuid() });

/** What is kept under names for every project: camera packages, and recipes of output. */
export const namedRoutes =
  ({ sequelize }: Pick<Ground, 'sequelize'>): FastifyPluginAsyncZod =>
  async (app) => {
    const [packages, recipes] = [new NamedStore(sequelize, PACKAGES), new NamedStore(sequelize, RECIPES)];
    await app.register(routesOf('packages', packages, cameraPackageSchema, cameraPackageSchema.omit({ id: true })));
    await app.register(routesOf('recipes', recipes, recipeSchema, recipeSchema.omit({ id: true })));
  };

function routesOf<T extends Named>(
  path: string,
  store: NamedStore<T>,
  schema: z.ZodType<T>,
  body: z.ZodType<object>,
): FastifyPluginAsyncZod {
  const tags = [path];
  /** What is answered, whatever it is. */
  const answer: z.ZodType = schema;
  return async (app) => {
    app.get(
      `/${path}`,
      {
        schema: {
          tags,
          summary: 'What is there, by name',
          querystring: pageQuerySchema,
          response: { 200: pageOf(schema), default: problemSchema },
        },
      },
      ({ query }) => store.list(query.offset, query.limit),
    );

    app.put(
      `/${path}/:id`,
      {
        schema: {
          tags,
          summary: 'Save under an id of your own',
          params,
          body,
          response: { 200: answer, default: problemSchema },
        },
      },
      async ({ params: { id }, body: sent }) => {
        const saved = schema.parse({ ...sent, id });
        await store.save(saved);
        return saved;
      },
    );

    app.delete(
      `/${path}/:id`,
      {
        schema: {
          tags,
          summary: 'Delete one; where it was used all stays as it is',
          params,
          response: { 200: z.object({ id: z.uuid() }), default: problemSchema },
        },
      },
      async ({ params: { id } }) => {
        await store.delete(id);
        return { id };
      },
    );
  };
}
