import type { Vector } from '@arvex/core';
import { clippingLuminance } from '@arvex/core';
import type {
  GroupsApart,
  GrowBoundsTree,
  LineInTime,
  Near,
  Picked,
  PlaceInTime,
  QuickDrawing,
  Scopes,
  SetPatch,
  StageView,
  Survey,
} from '@arvex/stage';
import { scopesOf, Stage } from '@arvex/stage';
import { transfer, wrap } from 'comlink';
import type { BoundsTreeWorker } from './bounds-tree.worker';
import { growThrough } from './grow-bounds-tree';
import { STAGE_FILES } from './stage-files';

export interface Drawn {
  readonly bitmap: ImageBitmap;
  /** How long the graphics took. */
  readonly milliseconds: number;
}

/** Draws the page's views and thumbnails. Lives in a worker; in the window where workers have no graphics. */
export class StageDesk {
  private stage: Stage | undefined;

  /** Makes the stage. @throws Error when there are no graphics here. */
  async open(): Promise<void> {
    this.stage ??= new Stage(new OffscreenCanvas(16, 16), STAGE_FILES);
  }

  private get opened(): Stage {
    if (!this.stage) throw new Error('The stage is not open.');
    return this.stage;
  }

  /** Lets search trees of large geometry be built by another worker, once there is one to be built. */
  async growTreesThrough(openPort: () => Promise<MessagePort> | MessagePort): Promise<void> {
    let grow: Promise<GrowBoundsTree> | undefined;
    this.opened.growBoundsTree = async (geometry) => {
      grow ??= Promise.resolve(openPort()).then((port) => growThrough(wrap<BoundsTreeWorker>(port)));
      await (
        await grow
      )(geometry);
    };
  }

  /** Tells when the graphics are lost, and when they are back. */
  async watchGraphics(told: (lost: boolean) => void): Promise<void> {
    this.opened.contextLost = told;
  }

  async follow(patch: SetPatch): Promise<string[]> {
    return this.opened.follow(patch);
  }

  /** One quick sample. */
  async draw(view: StageView, widthPx: number, heightPx: number, how?: QuickDrawing): Promise<Drawn> {
    return this.shown(() => this.opened.draw(view, widthPx, heightPx, how));
  }

  /** Sample `index` of a finer picture; the mean of all so far when `show` is set. */
  async refine(
    view: StageView,
    widthPx: number,
    heightPx: number,
    index: number,
    show: boolean,
  ): Promise<ImageBitmap | undefined> {
    this.opened.refine(view, widthPx, heightPx, index, show);
    await this.opened.drawn();
    if (!show) return undefined;
    const bitmap = this.opened.canvas.transferToImageBitmap();
    return transfer(bitmap, [bitmap]);
  }

  /** The samples of the picture that was refined last, shown by a view of the same samples; milliseconds that the graphics took. */
  async redevelop(view: StageView, widthPx: number, heightPx: number): Promise<Drawn> {
    return this.shown(() => this.opened.redevelop(view, widthPx, heightPx));
  }

  /** Sample `index` of each light group of a view by itself. */
  async sampleGroups(
    view: StageView,
    widthPx: number,
    heightPx: number,
    index: number,
    groups: GroupsApart,
  ): Promise<void> {
    this.opened.sampleGroups(view, widthPx, heightPx, index, groups);
    await this.opened.drawn();
  }

  /** A view shown by what its light groups have added up. */
  async remix(view: StageView, widthPx: number, heightPx: number): Promise<Drawn> {
    return this.shown(() => this.opened.remix(view, widthPx, heightPx));
  }

  private async shown(show: () => void): Promise<Drawn> {
    const begin = performance.now();
    show();
    const bitmap = this.opened.canvas.transferToImageBitmap();
    await this.opened.drawn();
    return transfer({ bitmap, milliseconds: performance.now() - begin }, [bitmap]);
  }

  /** A small picture, drawn as large as it is. What is being refined goes on as if nothing had been. */
  async thumbnail(view: StageView, widthPx: number, heightPx: number): Promise<Blob> {
    this.opened.drawFine(view, widthPx, heightPx, THUMBNAIL_SAMPLES);
    const bitmap = this.opened.canvas.transferToImageBitmap();
    await this.opened.drawn();
    const sheet = new OffscreenCanvas(widthPx, heightPx);
    sheet.getContext('2d', { willReadFrequently: true })?.drawImage(bitmap, 0, 0);
    bitmap.close();
    return sheet.convertToBlob({ type: 'image/webp', quality: KEPT_QUALITY });
  }

  /** Light of a small picture, linear RGBA in cd/m², rows from the top. */
  async light(view: StageView, widthPx: number, heightPx: number): Promise<Float32Array> {
    const light = this.opened.light(view, widthPx, heightPx, METER_SAMPLES);
    return transfer(light, [light.buffer]);
  }

  /** Histogram, waveform and colours of a small picture: of its light, or of what its look makes of it. */
  async scopes(view: StageView, widthPx: number, heightPx: number, of: 'light' | 'look'): Promise<Scopes> {
    if (of === 'look') return scopesOf(this.opened.shown(view, widthPx, heightPx, METER_SAMPLES), widthPx, heightPx, 1);
    const light = this.opened.light(view, widthPx, heightPx, METER_SAMPLES);
    return scopesOf(light, widthPx, heightPx, clippingLuminance(view.ev, 0));
  }

  /** What lies in the frame: the nearest thing, and what the clip distances cut. */
  async survey(view: StageView): Promise<Survey> {
    return this.opened.sights.survey(view);
  }

  async pick(view: StageView, x: number, y: number): Promise<Picked | undefined> {
    return this.opened.sights.pick(view, x, y);
  }

  async cast(fromM: Vector, direction: Vector, farM: number, except: readonly string[]): Promise<Picked | undefined> {
    return this.opened.sights.cast(fromM, direction, farM, except);
  }

  async groundUnder(
    points: readonly Vector[],
    fromAboveM: number,
    except: readonly string[],
  ): Promise<(number | undefined)[]> {
    return this.opened.sights.groundUnder(points, fromAboveM, except);
  }

  async clearances(places: readonly PlaceInTime[], withinM: number): Promise<(Near | undefined)[]> {
    return this.opened.sights.clearances(places, withinM);
  }

  async crossings(lines: readonly LineInTime[]): Promise<(string | undefined)[]> {
    return this.opened.sights.crossings(lines);
  }

  async effort(): Promise<{ readonly calls: number; readonly triangles: number }> {
    return this.opened.effort;
  }
}

/** Samples of what is measured: what keeps the sky off is counted as in the picture at rest. An even number (see skyDirection). */
const METER_SAMPLES = 4;

/** Samples of a thumbnail: enough for its edges. */
const THUMBNAIL_SAMPLES = 4;

/** Of a thumbnail that is kept, 0 to 1. */
const KEPT_QUALITY = 0.85;
