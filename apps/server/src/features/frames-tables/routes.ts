import type { Cell, FrameRow, Project } from '@arvex/core';
import {
  CAMERA_COLUMNS,
  cameraRows,
  csvLine,
  cutOf,
  framesInFlicks,
  PLACEMENT_COLUMNS,
  placementRows,
  sceneEndFlicks,
  SEQUENCE_COLUMNS,
  sequenceRows,
} from '@arvex/core';
import type { FastifyReply } from 'fastify';
import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { Readable } from 'node:stream';
import * as z from 'zod';
import { Problem } from '../../problem/problem';
import { jsonList, piecesInTurns } from '../../turns/in-turns';
import type { Ground } from '../../ground/ground';

const tags = ['frames'];
/** A frame number as an address has it; nothing between `=` and `&` is not 0, it is nothing. */
const frameNumber = z
  .string()
  .trim()
  .transform((text) => (text === '' ? undefined : Number(text)))
  .pipe(z.number().int().min(-10_000_000).max(100_000_000).optional())
  .optional();
const rangeQuery = z.object({
  from: frameNumber,
  to: frameNumber,
  format: z.enum(['json', 'csv']).default('json'),
});
const MAX_FRAMES = 1_000_000;

/** The evaluated camera, frame by frame, streamed. Frame numbers are the project's; the range includes both ends. */
export const framesTableRoutes =
  ({ projects }: Pick<Ground, 'projects'>): FastifyPluginAsyncZod =>
  async (app) => {
    app.get(
      '/projects/:project/cameras/:camera/frames',
      {
        schema: {
          tags,
          summary: "A camera's frames as JSON or CSV",
          querystring: rangeQuery,
          params: z.object({ project: z.uuid(), camera: z.uuid() }),
        },
      },
      async ({ params, query }, reply) => {
        const project = await projects.load(params.project);
        if (!project.cameras[params.camera]) throw missing('camera');
        const { from, to } = rangeOf(project, query, Math.max(0, lastSceneFrame(project)));
        return sendTable(reply, query.format, CAMERA_COLUMNS, cameraRows(project, params.camera, from, to));
      },
    );

    app.get(
      '/projects/:project/placements/:placement/frames',
      {
        schema: {
          tags,
          summary: 'Where a thing in the set is, frame by frame, as JSON or CSV',
          querystring: rangeQuery,
          params: z.object({ project: z.uuid(), placement: z.uuid() }),
        },
      },
      async ({ params, query }, reply) => {
        const project = await projects.load(params.project);
        if (!project.placements[params.placement]) throw missing('placement');
        const { from, to } = rangeOf(project, query, Math.max(0, lastSceneFrame(project)));
        return sendTable(reply, query.format, PLACEMENT_COLUMNS, placementRows(project, params.placement, from, to));
      },
    );

    app.get(
      '/projects/:project/sequences/:sequence/frames',
      {
        schema: {
          tags,
          summary: "A cut's frames as JSON or CSV",
          querystring: rangeQuery,
          params: z.object({ project: z.uuid(), sequence: z.uuid() }),
        },
      },
      async ({ params, query }, reply) => {
        const project = await projects.load(params.project);
        if (!project.sequences[params.sequence]) throw missing('sequence');
        const { from, to } = rangeOf(project, query, cutOf(project, params.sequence).frameCount - 1);
        return sendTable(reply, query.format, SEQUENCE_COLUMNS, sequenceRows(project, params.sequence, from, to));
      },
    );
  };

function lastSceneFrame(project: Project): number {
  return framesInFlicks(sceneEndFlicks(project), project.head.rate) - 1;
}

function missing(what: 'camera' | 'placement' | 'sequence'): Problem {
  return new Problem('not-found', `The project has no such ${what}.`, { field: what });
}

/** The range asked for, by default all of it. @throws Problem `invalid-request` when it runs backwards or is too long. */
function rangeOf(project: Project, query: z.infer<typeof rangeQuery>, lastIndex: number): { from: number; to: number } {
  const from = query.from ?? project.head.firstFrame;
  const to = query.to ?? Math.max(from, project.head.firstFrame + lastIndex);
  if (to < from) throw new Problem('invalid-request', `"to" (${to}) lies before "from" (${from}).`, { field: 'to' });
  if (to - from >= MAX_FRAMES) {
    throw new Problem('invalid-request', `Ask for at most ${MAX_FRAMES} frames at a time.`, { field: 'to' });
  }
  return { from, to };
}

function sendTable(reply: FastifyReply, format: 'json' | 'csv', columns: readonly string[], rows: Iterable<FrameRow>) {
  const lines = format === 'csv' ? csv(columns, rows) : json(rows);
  return reply
    .type(format === 'csv' ? 'text/csv; charset=utf-8; header=present' : 'application/json; charset=utf-8')
    .send(Readable.from(piecesInTurns(lines)));
}

function* csv(columns: readonly string[], rows: Iterable<FrameRow>): Generator<string> {
  yield csvLine(columns);
  for (const row of rows) yield csvLine(columns.map((column): Cell => row[column] ?? null));
}

function* json(rows: Iterable<FrameRow>): Generator<string> {
  yield* jsonList(texts(rows), ',\n');
  yield '\n';
}

function* texts(rows: Iterable<FrameRow>): Generator<string> {
  for (const row of rows) yield JSON.stringify(row);
}
