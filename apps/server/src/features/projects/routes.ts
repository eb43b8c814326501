import {
  appliedChangeSchema,
  changeAnswerSchema,
  changeFrom,
  measuredFocusSchema,
  newProject,
  newProjectOrderSchema,
  pageOf,
  pageQuerySchema,
  problemSchema,
  projectSchema,
  projectSummarySchema,
} from '@arvex/core';
import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { projectParams } from '../../http/schemas';
import type { Services } from '../../services';

const tags = ['projects'];

/** Projects, and the changes that are the only way to edit them. */
export const projectRoutes =
  ({ projects, events }: Services): FastifyPluginAsyncZod =>
  async (app) => {
    app.get(
      '/projects',
      {
        schema: {
          tags,
          summary: 'Projects, newest first',
          querystring: pageQuerySchema,
          response: { 200: pageOf(projectSummarySchema) },
        },
      },
      ({ query }) => projects.list(query.offset, query.limit),
    );

    app.post(
      '/projects',
      {
        schema: {
          tags,
          summary: 'Make an empty project with ids of your own',
          body: newProjectOrderSchema,
          response: { 201: z.object({ id: z.uuid() }), default: problemSchema },
        },
      },
      async ({ body }, reply) => {
        await projects.create(newProject(body.ids, body.name));
        return reply.code(201).send({ id: body.ids.project });
      },
    );

    app.get(
      '/projects/:project',
      {
        schema: {
          tags,
          summary: 'A whole project',
          params: projectParams,
          response: { 200: projectSchema, default: problemSchema },
        },
        // Read from the database through the same schemas already: not worth doing twice for large projects.
        serializerCompiler: () => JSON.stringify,
      },
      ({ params }) => projects.load(params.project),
    );

    app.post(
      '/projects/:project/changes',
      {
        bodyLimit: 64 * 1024 * 1024,
        schema: {
          tags,
          summary:
            'Apply a change, once however often it is sent. One of an earlier form is brought up to the present one',
          params: projectParams,
          body: z.looseObject({ id: z.uuid(), operations: z.array(z.unknown()) }),
          response: { 200: changeAnswerSchema, default: problemSchema },
        },
      },
      async ({ params, body }) => {
        const { applied, fresh, broughtUp } = await projects.apply(params.project, changeFrom(body));
        if (fresh) events.publish(params.project, { kind: 'change', seq: applied.seq, applied });
        return { seq: applied.seq, ...(broughtUp && { change: applied.change }) };
      },
    );

    app.put(
      '/projects/:project/measured/:camera',
      {
        schema: {
          tags,
          summary: 'Keep what automatic focus measured of a camera; the latest measurement counts',
          params: z.object({ project: z.uuid(), camera: z.uuid() }),
          body: measuredFocusSchema,
          response: { 200: z.object({ kept: z.boolean() }), default: problemSchema },
        },
      },
      async ({ params, body }) => ({ kept: await projects.keepMeasured(params.project, params.camera, body) }),
    );

    app.get(
      '/projects/:project/changes',
      {
        schema: {
          tags,
          summary: 'Changes after a place in the history',
          params: projectParams,
          querystring: z.object({
            after: z.coerce.number().int().min(0).default(0),
            limit: z.coerce.number().int().min(1).max(1000).default(500),
          }),
          response: { 200: z.object({ items: z.array(appliedChangeSchema) }), default: problemSchema },
        },
      },
      async ({ params, query }) => ({ items: await projects.history.after(params.project, query.after, query.limit) }),
    );
  };
