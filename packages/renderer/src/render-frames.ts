import type { Lease, Project, RenderJob } from '@arvex/core';
import type { PictureMaker } from './picture-maker';
import { GraphicsLost } from './picture-maker';
import type { LeasedFrame, RenderTransport } from './transport';
import { KeeperAway, KeeperRefused } from './transport';

export interface RenderFramesOptions {
  /** Frames asked for at a time: enough that asking costs little, few enough that a lost renderer holds up little. */
  readonly framesALease?: number;
  /** How long to wait when a frame could not be made, milliseconds. */
  readonly waitMs?: number;
  /** Told of each frame that is there, and how long it took, seconds. */
  readonly made?: (frame: LeasedFrame, seconds: number) => void;
  /** Ends the work: what is in hand is given back. */
  readonly signal?: AbortSignal;
}

const RENDER_FRAMES_DEFAULTS = { framesALease: 4, waitMs: 2000 };

/** Why a renderer stopped. */
export interface RenderEnd {
  /** Nothing is to be made just now, whoever keeps the renders could not be reached or take anything, or the graphics are gone. */
  readonly kind: 'idle' | 'away' | 'lost';
  /** What whoever keeps the renders said, or why nothing was heard; empty when idle. */
  readonly reason: string;
}

/**
 * Makes frames of whatever is first in line until nothing is. While a frame is sent the next one is drawn. A frame that cannot be made
 * is told with its reason, and the next one is made: after three times whoever keeps it leaves it.
 */
export async function renderFrames(
  transport: RenderTransport,
  pictures: PictureMaker,
  options: RenderFramesOptions = {},
): Promise<RenderEnd> {
  const renderer = new FrameRenderer(transport, pictures, { ...RENDER_FRAMES_DEFAULTS, ...options });
  try {
    await renderer.run();
    return { kind: 'idle', reason: '' };
  } catch (error) {
    if (error instanceof KeeperAway) return { kind: 'away', reason: error.message };
    if (error instanceof GraphicsLost) return { kind: 'lost', reason: error.message };
    throw error;
  }
}

class FrameRenderer {
  private job: { readonly job: RenderJob; readonly missing: string } | undefined;
  /** The frame that is being sent. */
  private sending: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly transport: RenderTransport,
    private readonly pictures: PictureMaker,
    private readonly options: RenderFramesOptions & typeof RENDER_FRAMES_DEFAULTS,
  ) {}

  async run(): Promise<void> {
    const { framesALease, waitMs, signal } = this.options;
    await this.transport.begin();
    while (!signal?.aborted) {
      const lease = await this.transport.lease(framesALease);
      if (lease.renderId === null || lease.frames.length === 0) return;
      const allMade = await this.under(lease.renderId, lease).catch((error: unknown) => {
        // Over, deleted, or another renderer has it: the next lease says what there is to do.
        if (error instanceof KeeperRefused) return true;
        throw error;
      });
      if (!allMade) await new Promise((resolve) => setTimeout(resolve, waitMs));
    }
  }

  /** Makes the frames of a lease, which goes on meanwhile. @returns whether all could be made. */
  private async under(renderId: string, { leaseId, frames, seconds }: Lease): Promise<boolean> {
    const { transport } = this;
    const left = new Set(frames);
    let allMade = true;
    const letGo = transport.hold(renderId, leaseId, seconds);
    try {
      const keys = await this.keysOf(renderId, frames);
      for (const index of await this.kept(renderId, leaseId, keys)) left.delete(index);
      for (const index of left) {
        if (this.options.signal?.aborted) break;
        const frame = { renderId, leaseId, index };
        const begin = performance.now();
        const files = await this.drawn(frame);
        // The one before is on its way while this one is drawn; no more than one is.
        await this.sending;
        if (!files) {
          left.delete(index);
          allMade = false;
          continue;
        }
        this.sending = this.send(frame, files, keys.get(index)).then((sent) => {
          left.delete(index);
          if (sent) this.options.made?.(frame, (performance.now() - begin) / 1000);
          else allMade = false;
        });
        this.sending.catch(() => undefined); // met by whoever waits for it
      }
      await this.sending;
      return allMade;
    } finally {
      letGo();
      this.sending = Promise.resolve();
      if (left.size > 0) await transport.release(renderId, leaseId).catch(() => undefined);
    }
  }

  /** Keys of frames. Where their render cannot be known, drawing them says why. */
  private async keysOf(renderId: string, frames: readonly number[]): Promise<ReadonlyMap<number, string>> {
    const keys = new Map<number, string>();
    try {
      const { job, missing } = await this.known(renderId);
      if (missing !== '') return keys;
      for (const index of frames) {
        const key = this.pictures.key(job, index);
        if (key !== undefined) keys.set(index, key);
      }
    } catch (error) {
      if (isNoFault(error)) throw error;
    }
    return keys;
  }

  /** Frames that are done because they were made before, where the order lets them. */
  private async kept(renderId: string, leaseId: string, keys: ReadonlyMap<number, string>): Promise<readonly number[]> {
    if (keys.size === 0 || !this.job?.job.order.takesKept) return [];
    const frames = [...keys].map(([index, key]) => ({ index, key }));
    return this.transport.takeKept(renderId, leaseId, { frames });
  }

  /** The files of a frame; nothing where it cannot be made, which is told. */
  private async drawn(frame: LeasedFrame): Promise<ReadonlyMap<string, Blob> | undefined> {
    try {
      const { job, missing } = await this.known(frame.renderId);
      if (missing !== '') throw new Error(`The file of ${missing} is missing.`);
      return await this.pictures.frame(job, frame.index);
    } catch (error) {
      if (isNoFault(error)) throw error;
      await this.transport.fail(frame, (error as Error).message);
      return undefined;
    }
  }

  /** @returns whether the frame was taken. */
  private async send(frame: LeasedFrame, files: ReadonlyMap<string, Blob>, key: string | undefined): Promise<boolean> {
    for (const [role, file] of files) {
      try {
        await this.transport.send(frame, role, file, key);
      } catch (error) {
        if (!(error instanceof KeeperRefused) || !REFUSED_FILES.has(error.code)) throw error;
        await this.transport.fail(frame, error.message);
        return false;
      }
    }
    return true;
  }

  /** A render, its set on the stage: what is made of another one after it is not mixed up with it. */
  private async known(renderId: string): Promise<{ readonly job: RenderJob; readonly missing: string }> {
    if (this.job?.job.renderId === renderId) return this.job;
    const job = await this.transport.job(renderId);
    const project = await this.transport.project(renderId);
    const missing = await this.pictures.follow(project, job);
    this.job = missing.length === 0 ? { job, missing: '' } : undefined;
    return { job, missing: namesOf(project, missing) };
  }
}

/** Whether something is no fault of a frame: it may well be made a little later. */
function isNoFault(error: unknown): boolean {
  return error instanceof KeeperAway || error instanceof KeeperRefused || error instanceof GraphicsLost;
}

/** What is wrong with a file itself: it would be refused again. */
const REFUSED_FILES: ReadonlySet<string> = new Set(['invalid-picture', 'too-large', 'wrong-type', 'not-found']);

/** Names of the things whose files could not be had. */
function namesOf(project: Project, missing: readonly string[]): string {
  const names = Object.values(project.assets).flatMap(({ name, file }) =>
    missing.includes(file.hash) ? [`"${name}"`] : [],
  );
  return names.length > 0 || missing.length === 0 ? names.join(', ') : missing.join(', ');
}
