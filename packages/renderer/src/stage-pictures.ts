import type { FrameFile, FrameLayer, FrameView, Project, RenderJob } from '@arvex/core';
import {
  barHeightPx,
  eyeSize,
  frameFiles,
  lightLayers,
  orderedProject,
  outputSize,
  partFrame,
  PICTURE_FORMATS,
} from '@arvex/core';
import type { ExrChannel } from '@arvex/interchange/pictures';
import { writeExr } from '@arvex/interchange/pictures';
import type { AskedPicture, StageFiles, StageView, Tile } from '@arvex/stage';
import { NOTHING_STAGED, setPatch, Stage } from '@arvex/stage';
import { partView } from '@arvex/stage/view';
import { Sheet } from './drawing';
import type { DrawnFiles } from './drawing';
import { exrAbout, pixelAspectOf } from './exr-about';
import { frameKey } from './frame-key';
import { Overlay } from './overlay';
import type { PictureMaker } from './picture-maker';
import { GraphicsLost } from './picture-maker';
import { alphaOf, Raster } from './raster';
import type { Eye } from './sights';
import { askedPicture, eyesOf, sightOf } from './sights';
import { tilesOf } from './tiles';
import type { ShownFormatId } from './writers';
import { writerOf } from './writers';

/** Largest side of a picture that is drawn at once on the stage's own canvas, pixels. */
const CANVAS_PX = 4096;

/** Frames from a stage of their own. */
export class StagePictures implements PictureMaker {
  private readonly stage: Stage;
  private readonly sheet = new Sheet();
  private readonly overlay: Overlay;
  private staged = NOTHING_STAGED;
  private project: Project | undefined;

  /** @param drawnBy what names the code that draws, so that frames of another one are not taken for its own. */
  constructor(
    canvas: OffscreenCanvas,
    files: StageFiles & DrawnFiles,
    private readonly drawnBy = '',
  ) {
    this.stage = new Stage(canvas, files);
    this.overlay = new Overlay(files);
  }

  async follow(project: Project, { order }: RenderJob): Promise<readonly string[]> {
    const seen = orderedProject(project, order);
    const { sets, assets, placements } = seen;
    const missing = await this.stage.follow(setPatch(this.staged, seen));
    this.staged = missing.length === 0 ? { sets, assets, placements } : NOTHING_STAGED;
    this.project = seen;
    return missing;
  }

  key(job: RenderJob, index: number): string | undefined {
    return this.project && frameKey(this.project, job, index, [this.drawnBy, this.stage.graphics]);
  }

  /** What it draws with, as the graphics call themselves. */
  get graphics(): string {
    return this.stage.graphics;
  }

  async frame(job: RenderJob, index: number): Promise<ReadonlyMap<string, Blob>> {
    const { project } = this;
    if (!project) throw new Error('No project has been taken in.');
    const { order, part } = job;
    const frame = partFrame(part, index);
    const files = frameFiles(project, order);
    const view = frame.kind === 'slate' ? undefined : partView(project, order, part, frame.source);
    const made = new Map<string, Blob>();
    for (const name of new Set(files.map((file) => file.view))) {
      const own = files.filter((file) => file.view === name);
      await this.sight(made, { job, index, view, project, name, files: own });
    }
    if (this.stage.isLost) throw new GraphicsLost();
    this.stage.mustHaveDrawn();
    return made;
  }

  dispose(): void {
    this.stage.dispose();
  }

  /** All files of one picture of a frame. */
  private async sight(
    made: Map<string, Blob>,
    { job, index, view, project, name, files }: Asked & { readonly files: readonly FrameFile[] },
  ): Promise<void> {
    const asked = { job, index, view, project, name };
    const shown = files.filter(({ layer }) => layer.kind === 'picture');
    if (shown.length > 0) await this.shown(made, asked, shown);
    for (const file of files) {
      if (file.layer.kind !== 'picture') made.set(file.role, await this.linear(asked, file));
    }
  }

  /** The picture for people, in each format that is wanted. */
  private async shown(made: Map<string, Blob>, asked: Asked, files: readonly FrameFile[]): Promise<void> {
    const { order, part } = asked.job;
    const about = { pixelAspect: pixelAspectOf(asked.project, part, asked.index) };
    const writers = files.map(({ role, format }) => ({
      role,
      ...writerOf(order.formats.pictures, format as ShownFormatId),
    }));
    const bits = writers.some((writer) => writer.bits === 16) ? 16 : 8;
    const { widthPx, heightPx } = outputSize(order, part);
    const plain =
      bits === 8 &&
      alphaOf(order) === 'none' &&
      order.stereo === null &&
      order.panorama === null &&
      Math.max(widthPx, heightPx) <= CANVAS_PX;
    if (asked.view && !plain) {
      const raster = await this.raster(asked, asked.view, bits);
      for (const { role, raster: write } of writers) made.set(role, await write(raster, about, this.sheet));
      return;
    }
    await this.onSheet(asked);
    // Pixels are read first: who writes them may draw on the sheet.
    const raster = writers.some(({ sheet }) => !sheet) ? Raster.of(this.sheet.read()) : undefined;
    for (const { role, sheet, raster: write } of writers) {
      const file = sheet ? await sheet(this.sheet, about) : raster && (await write(raster, about, this.sheet));
      if (file) made.set(role, file);
    }
  }

  /** Draws a picture on the sheet, with all that is laid over it; a slate where there is no view. */
  private async onSheet({ job, index, view, project }: Asked): Promise<void> {
    const { order, part } = job;
    const size = outputSize(order, part);
    const context = this.sheet.begin(size);
    context.fillStyle = '#000000';
    context.fillRect(0, 0, size.widthPx, size.heightPx);
    if (!view) return this.overlay.slate(context, size, project, job, index);
    const { widthPx, heightPx } = eyeSize(order, part);
    this.stage.drawFine(view, widthPx, heightPx, order.samples);
    context.drawImage(this.stage.canvas, 0, barHeightPx(order, heightPx));
    await this.overlay.over(context, project, job, index);
  }

  /** A picture put together from tiles, eyes and faces, with all that is laid over it. */
  private async raster({ job, index, project, name }: Asked, view: StageView, bits: 8 | 16): Promise<Raster> {
    const { order, part } = job;
    const whole = outputSize(order, part);
    const raster = new Raster(whole.widthPx, whole.heightPx, bits, alphaOf(order));
    const { widthPx: width, heightPx: height } = eyeSize(order, part);
    const bar = (whole.heightPx - (order.stereo?.layout === 'over-under' ? 2 * height : height)) / 2;
    const sight = sightOf(name);
    const side = order.stereo && order.panorama ? ROUND_TILE_PX : undefined;
    for await (const tile of tilesOf({ width, height }, side)) {
      const seen = (eye: Eye | undefined) =>
        this.stage.output.shown(askedPicture(order, part, view, { ...sight, eye: eye ?? sight.eye }), tile);
      const layout = order.stereo?.layout;
      if (layout === 'side-by-side' || layout === 'over-under') {
        raster.put(seen('left'), tile, tile.x, tile.y + bar);
        const [x, y] = layout === 'side-by-side' ? [width, 0] : [0, height];
        raster.put(seen('right'), tile, tile.x + x, tile.y + y + bar);
      } else if (layout === 'anaglyph') {
        const shifted = { ...tile, y: tile.y + bar };
        raster.putAnaglyph(seen('left'), seen('right'), shifted, order.stereo?.colours ?? ['#ff0000', '#00ffff']);
      } else raster.put(seen(undefined), tile, tile.x, tile.y + bar);
    }
    if (this.overlay.isAsked(order)) {
      const context = this.sheet.begin(whole);
      await this.overlay.over(context, project, job, index);
      raster.lay(this.sheet.read().data);
      if (order.visible.references) {
        const under = this.sheet.begin(whole);
        await this.overlay.under(under, project, job, index);
        raster.lay(this.sheet.read().data, 'under');
      }
    }
    return raster;
  }

  /** Linear light, distance or share of a frame, as OpenEXR, with what lies beside it in the same file. A slate has none: it is black. */
  private async linear(one: Asked, { layer, beside }: FrameFile): Promise<Blob> {
    const { job, project, view, index } = one;
    const { order, part } = job;
    const { depth } = order.formats.pictures.exr ?? PICTURE_FORMATS.exr.first;
    const channels: ExrChannel[] = [];
    for (const { name, layer: own } of [{ name: '', layer }, ...beside]) {
      channels.push(...channelsOf(own, name, await this.pixels(one, own), depth));
    }
    const about = exrAbout(project, part, order, index, view === undefined);
    const bytes = writeExr({ ...outputSize(order, part), channels, about });
    return new Blob([bytes as Uint8Array<ArrayBuffer>], { type: PICTURE_FORMATS.exr.mediaType });
  }

  /** A layer of a picture, put together from tiles, eyes and faces: RGBA, rows from the top. */
  private async pixels({ job, view, name, project }: Asked, layer: FrameLayer): Promise<Float32Array> {
    const { order, part } = job;
    const whole = outputSize(order, part);
    const pixels = new Float32Array(whole.widthPx * whole.heightPx * 4);
    const { widthPx: width, heightPx: height } = eyeSize(order, part);
    const sight = sightOf(name);
    const stacked = order.stereo?.layout === 'over-under';
    const bar = (whole.heightPx - (stacked ? 2 * height : height)) / 2;
    const side = order.stereo && order.panorama ? ROUND_TILE_PX : undefined;
    for (const [i, eye] of eyesOf(order, sight.eye).entries()) {
      if (!view) break;
      const [left, top] = stacked ? [0, bar + i * height] : [i * width, bar];
      for await (const tile of tilesOf({ width, height }, side)) {
        const found = this.layer(askedPicture(order, part, view, { ...sight, eye }), tile, layer, project);
        for (let row = 0; row < tile.height; row++) {
          const to = ((top + tile.y + row) * whole.widthPx + left + tile.x) * 4;
          pixels.set(found.subarray(row * tile.width * 4, (row + 1) * tile.width * 4), to);
        }
      }
    }
    // Light of one direction of the sky that is taken off again leaves less than nothing here and there.
    if (layer.kind === 'light' || layer.kind === 'group') noLessThanNothing(pixels);
    if (layer.kind === 'light' && alphaOf(order) === 'straight') divide(pixels);
    return pixels;
  }

  private layer(picture: AskedPicture, tile: Tile, layer: FrameLayer, project: Project): Float32Array {
    const { output } = this.stage;
    if (layer.kind === 'depth') return grey(output.depth(picture, tile));
    if (layer.kind === 'mask') return grey(output.mask(picture, tile, layer.placementId));
    if (layer.kind !== 'group') return output.light(picture, tile);
    const known = layer.lightGroupId === null || lightLayers(project).some(({ id }) => id === layer.lightGroupId);
    if (!known) throw new Error('A light group of this order is gone.');
    return output.light(picture, tile, layer.lightGroupId);
  }
}

/** Sides of the parts of a panorama for two eyes: each slice of it is seen from another place. */
const ROUND_TILE_PX = 256;

interface Asked {
  readonly job: RenderJob;
  readonly index: number;
  /** Nothing for a slate. */
  readonly view: StageView | undefined;
  readonly project: Project;
  readonly name: FrameView;
}

/** The first channel in all three, and all of it there. */
function grey(pixels: Float32Array): Float32Array {
  for (let i = 0; i < pixels.length; i += 4) {
    pixels[i + 1] = pixels[i + 2] = pixels[i] ?? 0;
    pixels[i + 3] = 1;
  }
  return pixels;
}

function noLessThanNothing(pixels: Float32Array): void {
  for (let i = 0; i < pixels.length; i++) if ((pixels[i] ?? 0) < 0) pixels[i] = 0;
}

/** A layer as channels of a file: `R G B A`, `Z` (metres along the axis, always 32 bits), a share as `Y`; a named one's with its name before. */
function channelsOf(
  layer: FrameLayer,
  name: string,
  values: Float32Array,
  depth: 'half' | 'float',
): readonly ExrChannel[] {
  const named = (channel: string) => (name === '' ? channel : `${name}.${channel}`);
  if (layer.kind === 'depth') return [{ name: 'Z', depth: 'float', values, first: 0, step: 4 }];
  if (layer.kind === 'mask') return [{ name: named('Y'), depth, values, first: 0, step: 4 }];
  const parts = layer.kind === 'group' ? ['R', 'G', 'B'] : ['R', 'G', 'B', 'A'];
  return parts.map((part, first) => ({ name: named(part), depth, values, first, step: 4 }));
}

/** Takes alpha out of colours that are multiplied with it. */
function divide(pixels: Float32Array): void {
  for (let i = 0; i < pixels.length; i += 4) {
    const alpha = pixels[i + 3] ?? 0;
    if (alpha > 0 && alpha < 1) for (let c = 0; c < 3; c++) pixels[i + c] = (pixels[i + c] ?? 0) / alpha;
  }
}
