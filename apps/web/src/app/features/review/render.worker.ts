import type { Project, RenderJob } from '@arvex/core';
import type { RenderEnd } from '@arvex/renderer';
import { controlPicture, renderFrames, StagePictures, wrongInControl } from '@arvex/renderer';
import { expose, wrap } from 'comlink';
import { STAGE_FILES } from '../../drawing';
import type { LeaseBeats } from './lease-beats';
import { BeatsHere } from './lease-beats';
import { overHttp } from './over-http';

/** The face of burn-ins, shipped with the application. */
const FONT = '/fonts/ibm-plex-mono-latin-500-normal.woff2';

const FILES = {
  ...STAGE_FILES,
  font: async () => {
    const answer = await fetch(FONT);
    if (!answer.ok) throw new Error(`${FONT} answered ${answer.status}`);
    return answer.arrayBuffer();
  },
};

/** A frame as it would leave. */
export interface ProvedFrame {
  /** Its picture. */
  readonly picture: Blob;
  /** Of all of its files. */
  readonly bytes: number;
  readonly seconds: number;
}

/** Makes frames, away from the interface. */
export class RenderWorker {
  private pictures: StagePictures | undefined;
  private beats: LeaseBeats = new BeatsHere();
  /** The shading for which the graphics are ready. */
  private warm: string | undefined;

  /** Lets another thread keep leases going. */
  beatBy(port: MessagePort): void {
    this.beats = wrap<LeaseBeats>(port);
  }

  /** Makes frames of whatever is first in line, until nothing is. @param name by which this renderer is known when it begins anew. */
  async work(name: string): Promise<RenderEnd> {
    const pictures = this.opened();
    const end = await renderFrames(overHttp(name, this.beats, pictures.graphics), pictures);
    // Graphics that went away do not come back to the same stage in time: the next one begins anew.
    if (end.kind === 'lost') this.close();
    return end;
  }

  /** Makes one frame of a part of an order, and keeps it here. @throws Error where it cannot be made. */
  async prove(project: Project, job: RenderJob, index: number): Promise<ProvedFrame> {
    const pictures = this.opened();
    const missing = await pictures.follow(project, job);
    if (missing.length > 0) throw new Error(`${missing.length} files of the set are missing.`);
    // What is drawn for the first time is put together first: that is no part of what a frame takes.
    if (this.warm !== job.order.shading) await pictures.frame({ ...job, order: { ...job.order, samples: 1 } }, index);
    this.warm = job.order.shading;
    const begin = performance.now();
    const files = await pictures.frame(job, index);
    const seconds = (performance.now() - begin) / 1000;
    const [picture] = files.values();
    if (!picture) throw new Error('This order makes no picture.');
    return { picture, bytes: [...files.values()].reduce((sum, { size }) => sum + size, 0), seconds };
  }

  /** Draws a picture that is known, and says what is wrong with it; nothing where it is right. */
  async control(): Promise<string | undefined> {
    const { project, job } = controlPicture();
    const pictures = this.opened();
    await pictures.follow(project, job);
    const [picture] = (await pictures.frame(job, 0)).values();
    if (!picture) return 'nothing is drawn';
    const bitmap = await createImageBitmap(picture);
    const context = new OffscreenCanvas(bitmap.width, bitmap.height).getContext('2d');
    context?.drawImage(bitmap, 0, 0);
    const drawn = context?.getImageData(0, 0, bitmap.width, bitmap.height);
    return drawn ? wrongInControl(drawn) : 'nothing is drawn';
  }

  private close(): void {
    this.pictures?.dispose();
    this.pictures = undefined;
  }

  private opened(): StagePictures {
    return (this.pictures ??= new StagePictures(new OffscreenCanvas(16, 16), FILES, import.meta.url));
  }
}

expose(new RenderWorker());
