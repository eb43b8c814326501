import type { PictureSize, Project, RenderJob, RenderOrder } from '@arvex/core';
import {
  barHeightPx,
  burnInPlace,
  burnInTexts,
  BURNT_IN,
  cameraAt,
  eyeSize,
  linesOver,
  outputSize,
  partFrame,
  partPicture,
} from '@arvex/core';
import type { BurntIn } from '@arvex/core';
import type { DrawnFiles, Rect } from './drawing';
import { bitmapOf, drawBurnIns, drawLines, drawReference, drawSlate, loadFont } from './drawing';

/** What a slate says below its name, in this order. */
const SLATE: readonly BurntIn[] = ['camera', 'lens', 'back', 'stop', 'focus', 'ev', 'shutter', 'version', 'date'];

/** Draws what is laid over frames: guides, other cameras, references, burn-ins, and slates. */
export class Overlay {
  constructor(private readonly files: DrawnFiles) {}

  /** Whether anything is laid over pictures. */
  isAsked({ burnIns, visible }: RenderOrder): boolean {
    const { cameras, rigs, paths, grid, guides, references } = visible;
    return (burnIns?.items.length ?? 0) > 0 || cameras || rigs || paths || grid || guides || references;
  }

  /** Lays over a picture what its order asks. */
  async over(
    context: OffscreenCanvasRenderingContext2D,
    project: Project,
    job: RenderJob,
    index: number,
  ): Promise<void> {
    const { order, part } = job;
    await this.references(context, project, job, index, 'over');
    const frame = partFrame(part, index);
    if (frame.kind === 'picture' && !order.panorama && !order.stereo) {
      const { cameraId, variationId, sceneFlicks } = partPicture(project, part, frame.source);
      const state = cameraId === null ? undefined : cameraAt(project, cameraId, sceneFlicks, undefined, variationId);
      if (state) drawLines(context, linesOver(project, state, sceneFlicks, order.visible), frameRect(job));
    }
    const { burnIns } = order;
    if (!burnIns || burnIns.items.length === 0) return;
    await loadFont(this.files);
    const logo = await this.logo(project, burnIns.logoAssetId);
    const textOf = burnInTexts(project, part, { version: job.version, date: job.date }, index);
    const stacked = order.stereo?.layout === 'over-under' ? 2 : 1;
    const within = eyeSize(order, part).heightPx * stacked;
    const bar = barHeightPx(order, within) / within;
    const items = burnIns.items.map((item) => ({ ...item, y: burnInPlace(item, bar) }));
    for (const area of areasOf(job)) {
      drawBurnIns(context, items, { textOf, logo, size: eyeSize(order, part).heightPx * burnIns.size, area });
    }
  }

  /** Lays under a transparent picture what its order asks. */
  under(context: OffscreenCanvasRenderingContext2D, project: Project, job: RenderJob, index: number): Promise<void> {
    return this.references(context, project, job, index, 'under');
  }

  /** Draws a slate: the shot or camera, and what is known of it. */
  async slate(
    context: OffscreenCanvasRenderingContext2D,
    size: PictureSize,
    project: Project,
    job: RenderJob,
    index: number,
  ): Promise<void> {
    await loadFont(this.files);
    const textOf = burnInTexts(project, job.part, { version: job.version, date: job.date }, index);
    const said = (what: BurntIn) => textOf({ what, text: '' });
    const lines = SLATE.map((what) => [BURNT_IN[what], said(what)] as const)
      .filter(([, text]) => text !== '' && text !== '–')
      .map(([name, text]) => `${name.padEnd(9)} ${text}`);
    drawSlate(context, size, [said('shot'), [said('project'), said('sequence')].filter(Boolean).join(', '), ...lines]);
  }

  private async references(
    context: OffscreenCanvasRenderingContext2D,
    project: Project,
    job: RenderJob,
    index: number,
    layer: 'over' | 'under',
  ): Promise<void> {
    const frame = partFrame(job.part, index);
    if (!job.order.visible.references || frame.kind === 'slate') return;
    const { cameraId } = partPicture(project, job.part, frame.source);
    for (const reference of project.cameras[cameraId ?? '']?.references ?? []) {
      const file = project.assets[reference.assetId]?.file;
      if (!reference.shown || reference.layer !== layer || file?.kind !== 'picture') continue;
      drawReference(context, await bitmapOf(this.files, file.hash), reference, frameRect(job));
    }
  }

  private async logo(project: Project, assetId: string | null): Promise<ImageBitmap | undefined> {
    const file = assetId === null ? undefined : project.assets[assetId]?.file;
    return file?.kind === 'picture' ? bitmapOf(this.files, file.hash) : undefined;
  }
}

/** The delivered frame within what leaves. */
function frameRect({ order, part }: RenderJob): Rect {
  const whole = outputSize(order, part);
  const { widthPx: width, heightPx: height } = eyeSize(order, part);
  return { x: 0, y: (whole.heightPx - height) / 2, width, height };
}

/** Where burn-ins are laid out: over the frame, over each eye's, or over all of it with its bars. */
function areasOf({ order, part }: RenderJob): Rect[] {
  const whole = outputSize(order, part);
  const { widthPx: width, heightPx: height } = eyeSize(order, part);
  const layout = order.stereo?.layout;
  if (order.burnIns?.outside || (layout !== 'side-by-side' && layout !== 'over-under'))
    return [{ x: 0, y: 0, width: whole.widthPx, height: whole.heightPx }];
  return layout === 'side-by-side'
    ? [0, width].map((x) => ({ x, y: 0, width, height }))
    : [0, height].map((y) => ({ x: 0, y, width, height }));
}
