import { clippingLuminance } from '@arvex/core';
import type { WebGLRenderer } from 'three';
import type { AskedPicture, Tile } from './asked-picture';
import type { Painter, PixelSize, SampleDrawing } from './painter';
import { PanoramaPictures } from './panorama-pictures';
import type { Output } from './passes';
import { PictureMix, SampleAccumulator } from './passes';
import type { StageView } from './view';
import { AS_AT_WORK, layersOf } from './view';

/** Makes pictures that leave the building, part by part, as linear numbers. Rows from the top, RGBA. */
export class OutputPictures {
  private readonly taken = new SampleAccumulator();
  private readonly mix = new PictureMix();
  private panoramas: PanoramaPictures | undefined;

  constructor(
    private readonly renderer: WebGLRenderer,
    private readonly painter: Painter,
  ) {}

  /** As it is shown: linear light of the display, 0 to 1, times its alpha. */
  shown(picture: AskedPicture, tile: Tile): Float32Array {
    return this.made(picture, tile, 'mixed', {});
  }

  /** Scene light as a share of what clips, times its alpha; of one light group alone at its full level, where one is named. */
  light(picture: AskedPicture, tile: Tile, only?: string | null): Float32Array {
    return this.made(picture, tile, 'light', only === undefined ? {} : { lit: { mix: {}, only } });
  }

  /** Distance along the axis in metres, in the first channel; the sky lies at the far clip. */
  depth({ view, size }: AskedPicture, tile: Tile): Float32Array {
    return this.made({ view: { ...view, aperture: undefined, shutter: [] }, size, samples: 1 }, tile, 'depth', {
      centred: true,
    });
  }

  /** Share of each pixel that a thing fills with all it carries, in the first channel. */
  mask({ view, ...picture }: AskedPicture, tile: Tile, placementId: string): Float32Array {
    const flat = {
      ...view,
      sky: false,
      rendering: { ...(view.rendering ?? AS_AT_WORK), look: false, catchesShadow: false },
    };
    const pixels = this.made({ ...picture, view: flat }, tile, 'light', {
      through: (set, draw) => set.mask(placementId, draw),
    });
    const clipping = clippingLuminance(view.ev, 0);
    return pixels.map((share) => share * clipping);
  }

  dispose(): void {
    this.taken.dispose();
    this.mix.dispose();
    this.panoramas?.dispose();
  }

  private made(picture: AskedPicture, tile: Tile, output: Exclude<Output, 'shown'>, how: SampleDrawing): Float32Array {
    const { view } = picture;
    this.mix.begin(this.renderer, tile.width, tile.height, output === 'depth' ? undefined : view.mix?.colour);
    for (const { view: layer, weight } of output === 'depth' ? [{ view, weight: 1 }] : layersOf(view)) {
      if (weight === 0) continue;
      const shown = this.take({ ...picture, view: layer }, tile, how);
      this.mix.add(this.renderer, this.taken, shown, weight, output);
    }
    return this.mix.read(this.renderer);
  }

  /** Takes all samples of a tile. @returns the view that they are to be developed by. */
  private take({ view, size, samples, round }: AskedPicture, tile: Tile, how: SampleDrawing): StageView {
    if (round) {
      this.panoramas ??= new PanoramaPictures(this.renderer, this.painter);
      return this.panoramas.take(this.taken, view, round, { size, tile, samples, how });
    }
    const part = tileView(view, size, tile);
    for (let index = 0; index < samples; index++) this.painter.sample(this.taken, part, tile, index, how);
    return part;
  }
}

/** What a part of a view's picture shows. */
function tileView(view: StageView, size: PixelSize, tile: Tile): StageView {
  if (tile.x === 0 && tile.y === 0 && tile.width === size.width && tile.height === size.height) return view;
  const { leftMm, rightMm, bottomMm, topMm } = view.window;
  const x = (px: number) => leftMm + ((rightMm - leftMm) * px) / size.width;
  const y = (px: number) => topMm - ((topMm - bottomMm) * px) / size.height;
  const window = {
    leftMm: x(tile.x),
    rightMm: x(tile.x + tile.width),
    topMm: y(tile.y),
    bottomMm: y(tile.y + tile.height),
  };
  return { ...view, window };
}
