import type { FrameView, MovieFormat, OrderNumber, OrderPart, Project, Render, RenderOrder } from '@arvex/core';
import {
  fileNamePart,
  folderOf,
  frameFileName,
  frameFiles,
  frameViews,
  heardOfPart,
  MADE_INTO_MOVIES,
  MOVIE_FORMATS,
  movieFileName,
} from '@arvex/core';
import { createReadStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { databaseProblem } from '../../database/connection';
import type { Ground } from '../../ground/ground';
import { Problem } from '../../problem/problem';
import type { HeldWork } from '../../queue/work-queue';
import { Worker } from '../../queue/worker';
import { renderEvent } from '../../events/project-events';
import { deliver, taken } from './deliver';
import { encodeMovie } from './encode-movie';
import { mixSound } from './mix-sound';
import type { OrderStore, StoredJob } from './order-store';
import { movieFacts, renderFacts } from './render-facts';
import type { MadeFile, RenderStore } from './store';

/** Finishes renders whose frames are all there: makes their movies, and lays everything where it was asked for. */
export class RenderFinisher {
  private readonly worker: Worker;

  constructor(
    private readonly ground: Ground,
    private readonly renders: RenderStore,
    private readonly orders: OrderStore,
  ) {
    const { queue, processName: name, warn } = ground;
    const work = (held: HeldWork, signal: AbortSignal) => this.finish(held, signal);
    this.worker = new Worker(queue, { name, kind: 'finish', count: 1, work, warn });
  }

  /** Ends in the middle of what it does: it is gone on with at the next start, or by another process. */
  close(): Promise<void> {
    return this.worker.close();
  }

  /** A file of an order that lies in the output folder already, by its path there. */
  async wouldOverwrite(
    project: Project,
    order: RenderOrder,
    parts: readonly OrderPart[],
    number: OrderNumber,
  ): Promise<string | undefined> {
    const paths = parts.flatMap((part) => {
      const folder = folderOf(project, order, part, number);
      const movies = order.formats.movies.map(
        (format) => `${movieFileName(project, order, part, number)}.${MOVIE_FORMATS[format.codec].ending}`,
      );
      const first = frameFileName(project, order, part, number, 0);
      const frames = frameFiles(project, order).flatMap((file) =>
        file.leaves ? [`${file.folder}/${first}.${file.ending}`] : [],
      );
      return [...movies, ...frames].map((name) => join(folder, name));
    });
    return taken(this.outputOf(project), paths);
  }

  private outputOf(project: Project): string {
    return join(this.ground.places.output, fileNamePart(project.head.name));
  }

  private async finish(held: HeldWork, signal: AbortSignal): Promise<void> {
    const { queue, places, events } = this.ground;
    const { renderId: id, projectId } = held;
    const missing = await this.missingFrames(id);
    if (missing.length > 0) {
      // A disk that lost them, or a file that was taken away by hand: they are drawn again, and then it goes on here.
      await queue.makeAnew(id, missing);
      events.publish(projectId, renderEvent(id));
      return;
    }
    const directory = await mkdtemp(join(places.temporary, 'movie-'));
    try {
      const render = await this.renders.get(id);
      const work = {
        render,
        job: await this.orders.job(id),
        project: await this.orders.projectOf(render.orderId),
        directory,
      };
      await this.makeAll(work, signal);
      await queue.finished(held, { folder: await this.delivered(work) });
    } catch (error) {
      // Given up, it is cancelled or gone on with later; a database that is away is waited for.
      const away = databaseProblem(error)?.code;
      if (signal.aborted || error instanceof Problem || away === 'database-away' || away === 'busy') throw error;
      await queue.finished(held, { failed: reasonOf(error) });
    } finally {
      await rm(directory, { recursive: true, force: true });
    }
    events.publish(projectId, renderEvent(id));
  }

  /** Frames that count as done, and of which a file is not there any more. */
  private async missingFrames(id: string): Promise<number[]> {
    const missing = new Set<number>();
    for (const { index, hash } of await this.ground.queue.allFiles(id)) {
      if (!missing.has(index) && !(await this.ground.files.has(hash))) missing.add(index);
    }
    return [...missing];
  }

  /** Makes the movies that are not there yet, and the facts beside them. What is made is kept even where another one fails. */
  private async makeAll(work: Work, signal: AbortSignal): Promise<void> {
    const { project, job, render } = work;
    const { order, part } = job;
    const { folder } = job;
    const within = (name: string) => (folder === '' ? name : `${folder}/${name}`);
    const made = new Map((await this.renders.made(render.id)).map((file) => [file.path, file]));
    const base = movieFileName(project, order, part, job);
    const { json, note } = renderFacts(project, job, render, await this.ground.queue.graphics(render.id));
    await this.keepText(render, { path: within(`${fileNamePart(part.title)}.json`), kind: 'facts' }, json);
    await this.keepText(render, { path: within(`${fileNamePart(part.title)}.txt`), kind: 'note' }, note);
    let wrong: Error | undefined;
    const sound = order.formats.movies.length > 0 ? await this.soundOf(work, signal) : undefined;
    for (const [i, format] of order.formats.movies.entries()) {
      for (const view of frameViews(order)) {
        const twin = order.formats.movies.findIndex(({ codec }) => codec === format.codec) < i ? `_${i + 1}` : '';
        const path = within(`${base}${view === '' ? '' : `_${view}`}${twin}.${MOVIE_FORMATS[format.codec].ending}`);
        if (made.has(path) && (await this.ground.files.has(made.get(path)?.hash ?? ''))) continue;
        await this.movie(work, { format, view, sound, path }, signal).catch((error: unknown) => {
          wrong ??= error as Error;
        });
        signal.throwIfAborted();
      }
    }
    if (wrong) throw wrong;
  }

  private async movie(
    { project, job, render, directory }: Work,
    { format, view, sound, path }: { format: MovieFormat; view: FrameView; sound: string | undefined; path: string },
    signal: AbortSignal,
  ): Promise<void> {
    const shown = frameFiles(project, job.order).find((file) => file.view === view && file.format === MADE_INTO_MOVIES);
    const frames = await this.ground.queue.files(render.id, shown?.role ?? MADE_INTO_MOVIES);
    const target = join(directory, `movie.${MOVIE_FORMATS[format.codec].ending}`);
    const pictures = frames.map((frame) => this.ground.files.path(frame.hash));
    const transparent = job.order.background.kind === 'transparent' && MOVIE_FORMATS[format.codec].hasAlpha;
    const { pixelAspect, timecode } = movieFacts(project, job);
    const source = { pictures, rate: render.rate, sound, transparent, pixelAspect, timecode };
    await encodeMovie(source, format, target, signal);
    const stored = await this.ground.files.write(createReadStream(target));
    await this.renders.keep(render, { path, kind: 'movie', hash: stored.hash, bytes: stored.bytes });
  }

  /** The sound of a part as a file; none where nothing is heard. */
  private async soundOf({ project, job, directory }: Work, signal: AbortSignal): Promise<string | undefined> {
    const heard = job.order.sound ? heardOfPart(project, job.part) : undefined;
    if (!heard || heard.parts.length === 0) return undefined;
    const target = join(directory, 'sound.f32');
    await mixSound(project, heard, this.ground.files, target, signal);
    return target;
  }

  private async keepText(render: Render, file: Pick<MadeFile, 'path' | 'kind'>, text: string): Promise<void> {
    const { hash, bytes } = await this.ground.files.write([Buffer.from(text)]);
    await this.renders.keep(render, { ...file, hash, bytes });
  }

  /** Lays everything into the output folder where that was asked for. @returns the folder. */
  private async delivered({ project, job, render }: Work): Promise<string | null> {
    if (!job.order.places.folder) return null;
    const folder = this.outputOf(project);
    const frames = await this.ground.queue.files(render.id);
    const all = [...frames, ...(await this.renders.made(render.id))];
    await deliver(
      folder,
      all.flatMap(({ path, hash }) => (path === null ? [] : [{ path, hash }])),
      this.ground.files,
    );
    return join(folder, job.folder);
  }
}

/** Why something could not be made, with the way out. */
function reasonOf(error: unknown): string {
  const { code, message } = error as NodeJS.ErrnoException;
  if (code === 'ENOSPC') return 'The disk is full. What was made is kept: make room, then try again.';
  if (code === 'EACCES' || code === 'EPERM' || code === 'EROFS')
    return `${message}. Let the folder be written, then try again.`;
  if (code === 'ENOTDIR' || code === 'EEXIST')
    return `Something lies in the way of the output folder (${message}). Take it away, then try again.`;
  return message;
}

/** A render that is finished, and where what is made of it is put together. */
interface Work {
  readonly project: Project;
  readonly job: StoredJob;
  readonly render: Render;
  readonly directory: string;
}
