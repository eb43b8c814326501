import { fileNamePart, MOVIE_FORMATS, pageOf, pageQuerySchema, PICTURE_FORMATS, problemSchema } from '@arvex/core';
import type { FastifyReply } from 'fastify';
import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { basename, dirname, extname } from 'node:path';
import * as z from 'zod';
import { Problem } from '../../problem/problem';
import { renderParams } from '../../http/schemas';
import { archiveOf } from './archive';
import type { RenderHouse } from './render-house';

const tags = ['renders'];
const made = [...Object.values(PICTURE_FORMATS), ...Object.values(MOVIE_FORMATS)];
const TYPES: Readonly<Record<string, string>> = {
  ...Object.fromEntries(made.map(({ ending, mediaType }) => [`.${ending}`, mediaType])),
  '.json': 'application/json',
  '.txt': 'text/plain; charset=utf-8',
};

/** A file as it leaves: where it lies, and its content. */
interface LeavingFile {
  readonly path: string;
  readonly hash: string;
  readonly bytes: number;
}

/** All files of a render that leave: frames, movies, facts. @throws Problem `not-found` while frames are missing, or where a file is gone. */
export async function filesOf({ renders, queue, files }: RenderHouse, renderId: string): Promise<LeavingFile[]> {
  const render = await renders.get(renderId);
  if (render.framesDone < render.frameCount) {
    const left = render.frameCount - render.framesDone;
    throw new Problem('not-found', `${left} of ${render.frameCount} frames of ${render.title} are not there yet.`);
  }
  const leaving = (await queue.files(renderId)).flatMap(({ path, hash, bytes }) =>
    path === null ? [] : [{ path, hash, bytes }],
  );
  const all = [...leaving, ...(await renders.made(renderId))];
  for (const { path, hash } of all) {
    if (!(await files.has(hash))) throw new Problem('not-found', `The file ${path} is missing. Render it again.`);
  }
  return all.map(({ path, hash, bytes }) => ({ path, hash, bytes }));
}

/** What renders have made, to be looked at and taken away. */
export const fileRoutes =
  (house: RenderHouse): FastifyPluginAsyncZod =>
  async (app) => {
    const { renders, queue, files } = house;

    const send = (reply: FastifyReply, file: LeavingFile, how: 'inline' | 'attachment' = 'inline') => {
      const path = files.path(file.hash);
      return reply
        .header('content-disposition', disposition(how, basename(file.path)))
        .type(TYPES[extname(file.path)] ?? 'application/octet-stream')
        .sendFile(basename(path), dirname(path), { contentType: false, cacheControl: false });
    };

    app.get(
      '/renders/:render/files',
      {
        schema: {
          tags,
          summary: 'Files of a render that leave, with their folders',
          params: renderParams,
          querystring: pageQuerySchema,
          response: { 200: pageOf(z.object({ path: z.string(), bytes: z.number() })), default: problemSchema },
        },
      },
      async ({ params, query }) => {
        const all = await filesOf(house, params.render);
        const items = all.slice(query.offset, query.offset + query.limit);
        return { items: items.map(({ path, bytes }) => ({ path, bytes })), total: all.length };
      },
    );

    app.get(
      '/renders/:render/files/*',
      {
        schema: {
          tags,
          summary: 'One file of a render, by its path; byte ranges are served',
          params: renderParams.extend({ '*': z.string().min(1).max(400) }),
        },
      },
      async ({ params }, reply) => {
        const path = params['*'];
        const file =
          (await renders.made(params.render)).find((made) => made.path === path) ??
          (await queue.at(params.render, path));
        if (!file) throw new Problem('not-found', `This render has no file ${path}.`);
        return send(reply, { ...file, path });
      },
    );

    app.get(
      '/renders/:render/picture',
      {
        schema: {
          tags,
          summary: 'A picture that shows how a render goes: its newest frame, or one of its own',
          params: renderParams,
          querystring: z.object({ index: z.coerce.number().int().min(0).optional() }),
        },
      },
      async ({ params, query }, reply) => {
        const picture = await queue.picture(params.render, query.index);
        if (!picture) throw new Problem('not-found', 'No frame of this render is there yet.');
        return send(reply, { ...picture, path: picture.path ?? 'frame.png' });
      },
    );

    app.get(
      '/renders/:render/files.zip',
      {
        schema: {
          tags,
          summary: 'Frames, movies and facts of a render, in their folders, as a zip',
          params: renderParams,
        },
      },
      async ({ params }, reply) => {
        const { name, title } = await renders.get(params.render);
        const all = await filesOf(house, params.render);
        return reply
          .header('content-disposition', disposition('attachment', `${name}-${fileNamePart(title)}.zip`))
          .type('application/zip')
          .send(archiveOf(all, files));
      },
    );
  };

/** A name for a download, in every script (RFC 6266, 4.3, with RFC 8187). */
export function disposition(how: 'inline' | 'attachment', name: string): string {
  const plain = name.replace(/[^\x20-\x7e]|["\\]/g, '_');
  return `${how}; filename="${plain}"; filename*=UTF-8''${encodeURIComponent(name).replace(/['()*]/g, (c) => `%${c.charCodeAt(0).toString(16)}`)}`;
}
