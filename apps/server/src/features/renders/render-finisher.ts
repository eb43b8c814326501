import type {
  FrameView,
  MovieFormat,
  OrderNumber,
  OrderPart,
  Project,
  Render,
  RenderJob,
  RenderOrder,
} from '@arvex/core';
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
import { setTimeout as sleep } from 'node:timers/promises';
import { databaseProblem } from '../../database/connection';
import type { FileStore } from '../../files/file-store';
import { Problem } from '../../http/problem';
import type { ProjectEvents } from '../events/project-events';
import { renderEvent } from '../events/project-events';
import { deliver, taken } from './deliver';
import { encodeMovie } from './encode-movie';
import type { FrameStore } from './frame-store';
import { mixSound } from './mix-sound';
import type { OrderStore } from './order-store';
import { movieFacts, renderFacts } from './render-facts';
import type { MadeFile, RenderStore } from './store';

/** Pauses between tries while the database or the disk is away, milliseconds: they grow. */
const PAUSES_MS = [1000, 2000, 5000, 10_000, 30_000] as const;

/** Where finished work goes. */
export interface FinisherPlaces {
  /** For what is being made. */
  readonly temporary: string;
  /** Folder in which orders are laid that ask for one. */
  readonly output: string;
}

/** Makes movies of renders whose frames are all there, and lays them where they were asked for, one after another. */
export class RenderFinisher {
  private queue: Promise<void> = Promise.resolve();
  private readonly ending = new AbortController();
  private readonly running = new Map<string, AbortController>();

  constructor(
    private readonly renders: RenderStore,
    private readonly orders: OrderStore,
    private readonly frames: FrameStore,
    private readonly files: FileStore,
    private readonly events: ProjectEvents,
    private readonly places: FinisherPlaces,
    private readonly warn: (error: unknown) => void,
  ) {}

  /** Takes up what an earlier start left: movies that were not made, and renders whose last frame came as the server died. */
  async resume(): Promise<void> {
    for (const id of await this.renders.inState('encoding')) this.finish(id);
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
    return join(this.places.output, fileNamePart(project.head.name));
  }

  /** Puts a render in the queue. */
  finish(id: string): void {
    this.queue = this.queue.then(() => this.whenPossible(id));
  }

  /** Stops encoding a cancelled render. */
  cancel(id: string): void {
    this.running.get(id)?.abort();
  }

  async close(): Promise<void> {
    this.ending.abort();
    for (const one of this.running.values()) one.abort();
    await this.queue;
  }

  /** Encodes a render; where the database or the disk is away, again after a pause that grows, and others are not held up. */
  private async whenPossible(id: string, tries = 0): Promise<void> {
    if (this.ending.signal.aborted) return;
    try {
      await this.encode(id);
    } catch (error) {
      if (error instanceof Problem && error.code === 'not-found') return; // deleted meanwhile
      this.warn(error);
      const pause = PAUSES_MS[Math.min(tries, PAUSES_MS.length - 1)] as number;
      void sleep(pause, undefined, { ref: false, signal: this.ending.signal })
        .then(() => {
          this.queue = this.queue.then(() => this.whenPossible(id, tries + 1));
        })
        .catch(() => undefined);
    }
  }

  private async encode(id: string): Promise<void> {
    const render = await this.renders.get(id);
    if (render.state !== 'encoding') return;
    const missing = await this.missingFrames(id);
    if (missing.length > 0) {
      // A disk that lost them, or a file that was taken away by hand: they are drawn again, and then it goes on here.
      await this.frames.makeAnew(id, missing);
      this.events.publish(render.projectId, renderEvent(id));
      return;
    }
    const cancelled = new AbortController();
    this.running.set(id, cancelled);
    const directory = await mkdtemp(join(this.places.temporary, 'movie-'));
    try {
      const job = await this.orders.job(id);
      const project = await this.orders.projectOf(render.orderId);
      const work = { project, job, render, directory };
      await this.makeAll(work, cancelled.signal)
        .then(() => this.delivered(work))
        .then((folder) => this.renders.done(id, folder))
        .catch(async (error: unknown) => {
          // An aborted encoding is either cancelled already or taken up at the next start; a database that is away is waited for.
          if (cancelled.signal.aborted) return;
          const away = databaseProblem(error)?.code;
          if (away === 'database-away' || away === 'busy') throw error;
          await this.renders.failed(id, reasonOf(error));
        });
    } finally {
      this.running.delete(id);
      await rm(directory, { recursive: true, force: true });
    }
    this.events.publish(render.projectId, renderEvent(id));
  }

  /** Frames that count as done, and of which a file is not there any more. */
  private async missingFrames(id: string): Promise<number[]> {
    const missing = new Set<number>();
    for (const { index, hash } of await this.frames.allFiles(id)) {
      if (!missing.has(index) && !(await this.files.has(hash))) missing.add(index);
    }
    return [...missing];
  }

  /** Makes the movies that are not there yet, and the facts beside them. What is made is kept even where another one fails. */
  private async makeAll(work: Work, signal: AbortSignal): Promise<void> {
    const { project, job, render } = work;
    const { order, part } = job;
    const folder = folderOf(project, order, part, job);
    const within = (name: string) => (folder === '' ? name : `${folder}/${name}`);
    const made = new Map((await this.renders.made(render.id)).map((file) => [file.path, file]));
    const base = movieFileName(project, order, part, job);
    const { json, note } = renderFacts(project, job, render, await this.frames.graphics(render.id));
    await this.keepText(render, { path: within(`${fileNamePart(part.title)}.json`), kind: 'facts' }, json);
    await this.keepText(render, { path: within(`${fileNamePart(part.title)}.txt`), kind: 'note' }, note);
    let wrong: Error | undefined;
    const sound = order.formats.movies.length > 0 ? await this.soundOf(work, signal) : undefined;
    for (const [i, format] of order.formats.movies.entries()) {
      for (const view of frameViews(order)) {
        const twin = order.formats.movies.findIndex(({ codec }) => codec === format.codec) < i ? `_${i + 1}` : '';
        const path = within(`${base}${view === '' ? '' : `_${view}`}${twin}.${MOVIE_FORMATS[format.codec].ending}`);
        if (made.has(path) && (await this.files.has(made.get(path)?.hash ?? ''))) continue;
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
    const frames = await this.frames.files(render.id, shown?.role ?? MADE_INTO_MOVIES);
    const target = join(directory, `movie.${MOVIE_FORMATS[format.codec].ending}`);
    const pictures = frames.map((frame) => this.files.path(frame.hash));
    const transparent = job.order.background.kind === 'transparent' && MOVIE_FORMATS[format.codec].hasAlpha;
    const { pixelAspect, timecode } = movieFacts(project, job);
    const source = { pictures, rate: render.rate, sound, transparent, pixelAspect, timecode };
    await encodeMovie(source, format, target, signal);
    const stored = await this.files.write(createReadStream(target));
    await this.renders.keep(render, { path, kind: 'movie', hash: stored.hash, bytes: stored.bytes });
  }

  /** The sound of a part as a file; none where nothing is heard. */
  private async soundOf({ project, job, directory }: Work, signal: AbortSignal): Promise<string | undefined> {
    const heard = job.order.sound ? heardOfPart(project, job.part) : undefined;
    if (!heard || heard.parts.length === 0) return undefined;
    const target = join(directory, 'sound.f32');
    await mixSound(project, heard, this.files, target, signal);
    return target;
  }

  private async keepText(render: Render, file: Pick<MadeFile, 'path' | 'kind'>, text: string): Promise<void> {
    const { hash, bytes } = await this.files.write([Buffer.from(text)]);
    await this.renders.keep(render, { ...file, hash, bytes });
  }

  /** Lays everything into the output folder where that was asked for. @returns the folder. */
  private async delivered({ project, job, render }: Work): Promise<string | null> {
    if (!job.order.places.folder) return null;
    const folder = this.outputOf(project);
    const frames = await this.frames.files(render.id);
    const all = [...frames, ...(await this.renders.made(render.id))];
    await deliver(
      folder,
      all.flatMap(({ path, hash }) => (path === null ? [] : [{ path, hash }])),
      this.files,
    );
    return join(folder, folderOf(project, job.order, job.part, job));
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
  readonly job: RenderJob;
  readonly render: Render;
  readonly directory: string;
}
