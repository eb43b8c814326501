import type { FrameView, LightMix, RenderJob } from '@arvex/core';
import {
  cameraAt,
  LOOK_DEFAULTS,
  lightMixSchema,
  lookEdge,
  mixRefusal,
  NO_PICTURES,
  partFrame,
  partPicture,
  PICTURE_FORMATS,
} from '@arvex/core';
import type { Sequelize } from 'sequelize';
import { setTimeout as sleep } from 'node:timers/promises';
import { parsed, select } from '../../database/select';
import type { FileStore } from '../../files/file-store';
import { Problem } from '../../http/problem';
import type { ProjectEvents } from '../events/project-events';
import { renderEvent } from '../events/project-events';
import type { FrameDesk } from './frame-desk';
import type { FrameStore } from './frame-store';
import type { Leases } from './leases';
import type { MixFrame } from './mix-frame';
import type { OrderStore } from './order-store';
import type { RenderFinisher } from './render-finisher';

const FRAMES_A_LEASE = 2;
/** After something went wrong it is tried again in so long, milliseconds. */
const PAUSE_MS = 5000;

/** What a mixer works with. */
export interface MixerParts {
  readonly sequelize: Sequelize;
  readonly orders: OrderStore;
  readonly desk: FrameDesk;
  readonly frames: FrameStore;
  readonly leases: Leases;
  readonly files: FileStore;
  readonly finisher: RenderFinisher;
  readonly events: ProjectEvents;
  readonly mix: MixFrame;
  readonly warn: (error: unknown) => void;
}

/** Makes renders from the light groups of others with another mix: nothing is drawn for it. */
export class Mixer {
  private working: Promise<void> | undefined;
  private ended = false;

  constructor(private readonly parts: MixerParts) {}

  /**
   * Orders a render that is another one with another mix of its light, as the next version.
   * @returns its id. @throws Problem `not-ready` where the light of that one was not kept apart, or it is mixed with other pictures.
   */
  async order(renderId: string, mix: LightMix): Promise<string> {
    const { orders } = this.parts;
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
      mixed: { of: renderId, mix },
    });
    const [id = ''] = await orders.rendersOf(given);
    this.work();
    return id;
  }

  /**
   * One frame of a render with another mix of its light, as a PNG, so that it is seen while it is mixed.
   * @throws Problem `not-ready` where its light was not kept apart, or the frame is not there.
   */
  async seen(renderId: string, mix: LightMix, index: number): Promise<Uint8Array> {
    const { job, wanted } = await this.parts.desk.of(renderId);
    const refusal = mixRefusal(job.order);
    if (refusal !== undefined) throw new Problem('not-ready', refusal);
    try {
      return await this.mixed(job, renderId, { index, view: wanted[0]?.view ?? '' }, mix);
    } catch (error) {
      throw new Problem('not-ready', `This frame cannot be mixed. ${(error as Error).message}`);
    }
  }

  /** Takes up what there is to be mixed: of an earlier start too. */
  work(): void {
    if (this.ended) return;
    this.working ??= this.all()
      .catch(async (error: unknown) => {
        this.parts.warn(error);
        await sleep(PAUSE_MS, undefined, { ref: false });
        return true;
      })
      .then((again) => {
        this.working = undefined;
        if (again) this.work();
      });
  }

  async close(): Promise<void> {
    this.ended = true;
    await this.working;
  }

  private async all(): Promise<boolean> {
    const waiting = await select<{ id: string; mix_of: string; mix: unknown }>(
      this.parts.sequelize,
      `SELECT id, mix_of, mix FROM renders WHERE mix_of IS NOT NULL AND state = 'rendering' ORDER BY created_at`,
      {},
    );
    for (const { id, mix_of, mix } of waiting) {
      while (!this.ended && (await this.some(id, mix_of, lightMixSchema.parse(parsed(mix))))) continue;
    }
    return false;
  }

  /** Mixes some frames. @returns whether there may be more. */
  private async some(id: string, of: string, mix: LightMix): Promise<boolean> {
    const { desk, leases, files, finisher, events } = this.parts;
    const lease = await leases.lease(id, FRAMES_A_LEASE).catch((error: unknown) => {
      if (error instanceof Problem) return undefined; // over, or deleted
      throw error;
    });
    if (!lease || lease.frames.length === 0) return false;
    const { job, wanted, pathOf } = await desk.of(id);
    for (const index of lease.frames) {
      try {
        for (const file of wanted) {
          // Each eye, and each face of a cube, has its own light.
          const { hash, bytes } = await files.write([await this.mixed(job, of, { index, view: file.view }, mix)]);
          const found = { index, role: file.role, path: pathOf(index, file), hash, bytes };
          const last = await leases.keep(
            { id, projectId: job.projectId },
            found,
            wanted.map(({ role }) => role),
            lease.leaseId,
          );
          if (last) finisher.finish(id);
        }
      } catch (error) {
        if (error instanceof Problem) return false;
        await leases.frameFailed(id, index, lease.leaseId, (error as Error).message.slice(0, 1000));
      }
      events.publish(job.projectId, renderEvent(id));
    }
    return true;
  }

  /** A frame of another render with a mix: groups that it does not name burn as the camera has them. */
  private async mixed(
    job: RenderJob,
    of: string,
    { index, view }: { readonly index: number; readonly view: FrameView },
    mix: LightMix,
  ): Promise<Uint8Array> {
    const { desk, files, frames } = this.parts;
    const { job: source, project, wanted } = await desk.of(of);
    const groups = [];
    for (const { layer, role, view: seenFrom, beside } of wanted) {
      if (seenFrom !== view) continue;
      // A file of its own, or channels of the file of the light.
      for (const one of [{ name: '', layer }, ...beside]) {
        if (one.layer.kind !== 'group') continue;
        const file = (await frames.files(of, role, index))[0];
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
    return this.parts.mix({
      groups,
      mix: { ...state?.lightMix, ...mix },
      look: source.order.look ? { settings: state?.look ?? LOOK_DEFAULTS, edge: state && lookEdge(state) } : undefined,
      lutPath: lut?.kind === 'lut' ? files.path(lut.hash) : undefined,
    });
  }
}
