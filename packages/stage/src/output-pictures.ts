import { clippingLuminance } from '@arvex/core';
import type { WebGLRenderer } from 'three';
import type { AskedPicture, Tile } from './asked-picture';
import type { Painter, PixelSize, SampleDrawing } from './painter';
import { PanoramaPictures } from './panorama-pictures';
import type { GlowTextures, LookDrawing, Output } from './passes';
import { Glow, glows, PictureMix, SampleAccumulator } from './passes';
import type { StageView } from './view';
import { AS_AT_WORK, layersOf } from './view';

/** Makes pictures that leave the building, part by part, as linear numbers. Rows from the top, RGBA. */
export class OutputPictures {
  private readonly taken: SampleAccumulator;
  private readonly small: SampleAccumulator;
  /** Glow and streaks of each view whose tiles are being made: worked out once for all of them. */
  private readonly spread = new Map<StageView, { readonly glow: Glow; readonly textures: GlowTextures }>();
  private readonly mix = new PictureMix();
  private panoramas: PanoramaPictures | undefined;

  constructor(
    private readonly renderer: WebGLRenderer,
    private readonly painter: Painter,
    private readonly looks: LookDrawing,
  ) {
    this.taken = new SampleAccumulator(looks);
    this.small = new SampleAccumulator(looks);
  }

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
      through: (set, draw) => set.mask([placementId], draw),
    });
    const clipping = clippingLuminance(view.ev, 0);
    return pixels.map((share) => share * clipping);
  }

  dispose(): void {
    this.taken.dispose();
    this.small.dispose();
    for (const { glow } of this.spread.values()) glow.dispose();
    this.mix.dispose();
    this.panoramas?.dispose();
  }

  private made(picture: AskedPicture, tile: Tile, output: Exclude<Output, 'shown'>, how: SampleDrawing): Float32Array {
    const { view } = picture;
    this.mix.begin(this.renderer, tile.width, tile.height, output === 'depth' ? undefined : view.mix?.colour);
    for (const { view: layer, weight } of output === 'depth' ? [{ view, weight: 1 }] : layersOf(view)) {
      if (weight === 0) continue;
      const asked = { ...picture, view: layer };
      const glow = output === 'mixed' ? this.glowOf(asked, tile) : undefined;
      const shown = this.take(asked, tile, how);
      this.mix.add(this.renderer, this.taken, shown, weight, output, glow);
    }
    return this.mix.read(this.renderer);
  }

  /**
   * What glows in a part of a picture: of the whole picture, as light is spread over its parts, taken small. Nothing where the part is
   * the whole, which knows it by itself.
   */
  private glowOf({ view, size, samples, round }: AskedPicture, tile: Tile): GlowTextures | undefined {
    if (round || isWhole(size, tile) || !glows(view.look) || view.rendering?.look === false) return undefined;
    const known = this.spread.get(view);
    if (known) return known.textures;
    const scale = Math.min(1, SMALL_PX / size.width);
    const small = { width: Math.ceil(size.width * scale), height: Math.ceil(size.height * scale) };
    for (let index = 0; index < samples; index++) this.painter.sample(this.small, view, small, index);
    const glow = new Glow();
    const textures = this.small.glowOf(this.renderer, view, glow);
    if (!textures) return undefined;
    this.spread.set(view, { glow, textures });
    const [oldest] = this.spread;
    if (oldest && this.spread.size > MOST_SPREAD) {
      oldest[1].glow.dispose();
      this.spread.delete(oldest[0]);
    }
    return textures;
  }

  /** Takes all samples of a tile. @returns the view that they are to be developed by. */
  private take({ view, size, samples, round }: AskedPicture, tile: Tile, how: SampleDrawing): StageView {
    if (round) {
      this.panoramas ??= new PanoramaPictures(this.renderer, this.painter, this.looks);
      return this.panoramas.take(this.taken, view, round, { size, tile, samples, how });
    }
    const part = tileView(view, size, tile);
    for (let index = 0; index < samples; index++) this.painter.sample(this.taken, part, tile, index, how);
    return part;
  }
}

/** Width of the small picture from which light is spread over the parts of a large one, pixels. */
const SMALL_PX = 1280;
/** Pictures whose parts are made in turn: two eyes of two that are mixed. */
const MOST_SPREAD = 4;

const isWhole = (size: PixelSize, tile: Tile): boolean =>
  tile.x === 0 && tile.y === 0 && tile.width === size.width && tile.height === size.height;

/** What a part of a view's picture shows. */
function tileView(view: StageView, size: PixelSize, tile: Tile): StageView {
  if (isWhole(size, tile)) return view;
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
