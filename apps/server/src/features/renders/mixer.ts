import type { FrameView, LightMix, RenderJob } from '@arvex/core';
import {
  cameraAt,
  LOOK_DEFAULTS,
  lookEdge,
  mixRefusal,
  NO_PICTURES,
  partFrame,
  partPicture,
  PICTURE_FORMATS,
} from '@arvex/core';
import { databaseProblem } from '../../database/connection';
import type { Ground } from '../../ground/ground';
import { Problem } from '../../problem/problem';
import type { HeldWork } from '../../queue/work-queue';
import { Worker } from '../../queue/worker';
import { renderEvent } from '../../events/project-events';
import type { FrameDesk } from './frame-desk';
import type { MixFrame } from './mix-frame';
import type { OrderStore } from './order-store';

const FRAMES_A_LEASE = 2;

/** Makes renders from the light groups of others with another mix: nothing is drawn for it. */
export class Mixer {
  private readonly worker: Worker;

  constructor(
    private readonly ground: Ground,
    private readonly orders: OrderStore,
    private readonly desk: FrameDesk,
    private readonly mix: MixFrame,
  ) {
    const { queue, processName: name, warn } = ground;
    const work = (held: HeldWork, signal: AbortSignal) => this.frames(held, signal);
    this.worker = new Worker(queue, { name, kind: 'mix', count: FRAMES_A_LEASE, work, warn });
  }

  close(): Promise<void> {
    return this.worker.close();
  }

  /**
   * Orders a render that is another one with another mix of its light, as the next version.
   * @returns its id. @throws Problem `not-ready` where the light of that one was not kept apart, or it is mixed with other pictures.
   */
  async order(renderId: string, mix: LightMix, author: string): Promise<string> {
    const { orders } = this;
    const job = await orders.job(renderId);
    const { order, part } = job;
    const refusal = mixRefusal(order);
    if (refusal !== undefined) throw new Problem('not-ready', refusal);
    if (job.state !== 'done') throw new Problem('not-ready', 'This render is not done yet.');
    const project = await orders.projectOf(job.orderId);
    const formats = {
      ...order.formats,
      pictures: { ...NO_PICTURES, png: PICTURE_FORMATS.png.first },
      layers: { depth: false, masks: false, lightGroups: false },
    };
    const given = await orders.give(project, { ...order, formats, burnIns: null }, [part], {
      author,
      mixed: { of: renderId, mix },
    });
    const [id = ''] = await orders.rendersOf(given);
    return id;
  }

  /**
   * One frame of a render with another mix of its light, as a PNG, so that it is seen while it is mixed.
   * @throws Problem `not-ready` where its light was not kept apart, or the frame is not there.
   */
  async seen(renderId: string, mix: LightMix, index: number): Promise<Uint8Array> {
    const { job, wanted } = await this.desk.of(renderId);
    const refusal = mixRefusal(job.order);
    if (refusal !== undefined) throw new Problem('not-ready', refusal);
    try {
      return await this.mixed(job, renderId, { index, view: wanted[0]?.view ?? '' }, mix);
    } catch (error) {
      throw new Problem('not-ready', `This frame cannot be mixed. ${(error as Error).message}`);
    }
  }

  private async frames(held: HeldWork, signal: AbortSignal): Promise<void> {
    const { queue, files, events } = this.ground;
    const { renderId, projectId } = held;
    const { of, mix } = await this.orders.mixOf(renderId);
    const { job, wanted, pathOf } = await this.desk.of(renderId);
    const roles = wanted.map(({ role }) => role);
    for (const index of held.frames) {
      if (signal.aborted) return;
      try {
        for (const file of wanted) {
          // Each eye, and each face of a cube, has its own light.
          const { hash, bytes } = await files.write([await this.mixed(job, of, { index, view: file.view }, mix)]);
          await queue.keep(
            projectId,
            held,
            { index, role: file.role, path: await pathOf(index, file), hash, bytes },
            roles,
          );
        }
      } catch (error) {
        if (error instanceof Problem || databaseProblem(error)) throw error;
        await queue.fail(held, index, (error as Error).message.slice(0, 1000));
      }
      events.publish(projectId, renderEvent(renderId));
    }
  }

  /** A frame of another render with a mix: groups that it does not name burn as the camera has them. */
  private async mixed(
    job: RenderJob,
    of: string,
    { index, view }: { readonly index: number; readonly view: FrameView },
    mix: LightMix,
  ): Promise<Uint8Array> {
    const { queue, files } = this.ground;
    const { job: source, project, wanted } = await this.desk.of(of);
    const groups = [];
    for (const { layer, role, view: seenFrom, beside } of wanted) {
      if (seenFrom !== view) continue;
      // A file of its own, or channels of the file of the light.
      for (const one of [{ name: '', layer }, ...beside]) {
        if (one.layer.kind !== 'group') continue;
        const file = (await queue.files(of, role, index))[0];
        if (!file) throw new Error(`The light of frame ${index + 1} is gone.`);
        groups.push({ lightGroupId: one.layer.lightGroupId, path: files.path(file.hash), channels: one.name });
      }
    }
    const frame = partFrame(job.part, index);
    const seen = frame.kind === 'picture' ? partPicture(project, job.part, frame.source) : undefined;
    const state =
      seen?.cameraId == null
        ? undefined
        : cameraAt(project, seen.cameraId, seen.sceneFlicks, undefined, seen.variationId);
    const lut = project.assets[state?.look.lut?.assetId ?? '']?.file;
    return this.mix({
      groups,
      mix: { ...state?.lightMix, ...mix },
      look: source.order.look ? { settings: state?.look ?? LOOK_DEFAULTS, edge: state && lookEdge(state) } : undefined,
      lutPath: lut?.kind === 'lut' ? files.path(lut.hash) : undefined,
    });
  }
}
