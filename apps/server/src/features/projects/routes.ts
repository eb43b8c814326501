import {
  appliedChangeSchema,
  changeAnswerSchema,
  changeFrom,
  copyOrderSchema,
  measuredFocusSchema,
  newProject,
  newProjectOrderSchema,
  pageOf,
  pageQuerySchema,
  problemSchema,
  projectSchema,
  projectSummarySchema,
} from '@arvex/core';
import type { FastifyReply } from 'fastify';
import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { randomUUID } from 'node:crypto';
import { Readable } from 'node:stream';
import * as z from 'zod';
import { projectParams } from '../../http/schemas';
import { jsonList, jsonTexts, piecesInTurns } from '../../turns/in-turns';
import type { Ground } from '../../ground/ground';

const tags = ['projects'];
/** Largest change, bytes; how many values it may have is bounded too (`json-body.ts`). */
const CHANGE_LIMIT = 32 * 1024 * 1024;

/** Projects, and the changes that are the only way to edit them. */
export const projectRoutes =
  ({ projects, events, room, queue }: Pick<Ground, 'projects' | 'events' | 'room' | 'queue'>): FastifyPluginAsyncZod =>
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
        await projects.create(
          newProject({ ...body.ids, lightGroups: { outside: randomUUID(), lamps: randomUUID() } }, body.name),
        );
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
      },
      async ({ params }, reply) => {
        const project = await projects.load(params.project);
        return sendJson(reply, jsonTexts(project));
      },
    );

    app.post(
      '/projects/:project/copy',
      {
        schema: {
          tags,
          summary: 'Copy a project as it is now, with an id of your own; history and renders stay with the first',
          params: projectParams,
          body: copyOrderSchema,
          response: { 201: z.object({ id: z.uuid() }), default: problemSchema },
        },
      },
      async ({ params, body }, reply) => {
        await projects.copy(params.project, body.id, body.name);
        return reply.code(201).send({ id: body.id });
      },
    );

    app.delete(
      '/projects/:project',
      {
        schema: {
          tags,
          summary:
            'Delete a project with its history and its renders, for good; files that nothing else needs go later',
          params: projectParams,
          response: { 200: z.object({ deleted: z.literal(true) }), default: problemSchema },
        },
      },
      async ({ params }) => {
        await projects.delete(params.project);
        queue.drop({ projectId: params.project });
        room.collectSoon();
        return { deleted: true as const };
      },
    );

    app.post(
      '/projects/:project/changes',
      {
        bodyLimit: CHANGE_LIMIT,
        schema: {
          tags,
          summary:
            'Apply a change, once however often it is sent. One of an earlier form is brought up to the present one',
          params: projectParams,
          body: z.looseObject({ id: z.uuid(), operations: z.array(z.unknown()) }),
          response: { 200: changeAnswerSchema, default: problemSchema },
        },
      },
      async ({ params, body, author }) => {
        const { applied, event, broughtUp } = await projects.apply(params.project, changeFrom(body), author);
        if (event) events.publish(params.project, event);
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
      async ({ params, query }, reply) => {
        const items = await projects.history.textsAfter(params.project, query.after, query.limit);
        return sendJson(reply, page(items));
      },
    );
  };

/** JSON that is sent piece by piece. */
function sendJson(reply: FastifyReply, texts: Iterable<string>): FastifyReply {
  return reply.type('application/json; charset=utf-8').send(Readable.from(piecesInTurns(texts)));
}

function* page(items: readonly string[]): Generator<string> {
  yield '{"items":';
  yield* jsonList(items);
  yield '}';
}
