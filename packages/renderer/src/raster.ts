import type { RenderOrder } from '@arvex/core';
import { srgbFromLinear } from '@arvex/core';
import type { Tile } from '@arvex/stage';

type Alpha = 'none' | 'straight' | 'premultiplied';

/** The transparency of an order's pictures. */
export function alphaOf({ background }: Pick<RenderOrder, 'background'>): Alpha {
  return background.kind === 'transparent' ? background.alpha : 'none';
}

/** Pixels of a picture as it is shown, put together from tiles. Rows from the top. */
export class Raster {
  readonly channels: 3 | 4;
  readonly data: Uint8Array | Uint16Array;

  constructor(
    readonly widthPx: number,
    readonly heightPx: number,
    bits: 8 | 16,
    readonly alpha: Alpha,
  ) {
    this.channels = alpha === 'none' ? 3 : 4;
    const count = widthPx * heightPx * this.channels;
    this.data = bits === 16 ? new Uint16Array(count) : new Uint8Array(count);
  }

  /** What is drawn on a sheet, without transparency. */
  static of({ width, height, data }: ImageData): Raster {
    const raster = new Raster(width, height, 8, 'none');
    for (let i = 0; i < width * height; i++) raster.data.set(data.subarray(i * 4, i * 4 + 3), i * 3);
    return raster;
  }

  /** The same with so many bits a channel: as it is where it has them already. */
  inBits(bits: 8 | 16): Pick<Raster, 'widthPx' | 'heightPx' | 'channels' | 'data'> {
    if (this.data instanceof Uint16Array === (bits === 16)) return this;
    const { widthPx, heightPx, channels, data } = this;
    // 255 × 257 = 65 535: both ends stay what they are.
    const changed =
      bits === 16 ? Uint16Array.from(data, (v) => v * 257) : Uint8Array.from(data, (v) => Math.round(v / 257));
    return { widthPx, heightPx, channels, data: changed };
  }

  private get most(): number {
    return this.data instanceof Uint16Array ? 65_535 : 255;
  }

  /** Puts a tile of display light (linear, times its alpha) at a place. */
  put(light: Float32Array, tile: Tile, atX = tile.x, atY = tile.y): void {
    const { most, channels, data, alpha } = this;
    for (let y = 0; y < tile.height; y++) {
      let to = ((atY + y) * this.widthPx + atX) * channels;
      for (let from = y * tile.width * 4; from < (y + 1) * tile.width * 4; from += 4) {
        const cover = channels === 4 ? Math.min(1, light[from + 3] ?? 0) : 1;
        const share = alpha === 'straight' && cover > 0 ? 1 / cover : 1;
        for (let c = 0; c < 3; c++)
          data[to + c] = Math.round(most * Math.min(1, srgbFromLinear(light[from + c] ?? 0) * share));
        if (channels === 4) data[to + 3] = Math.round(most * cover);
        to += channels;
      }
    }
  }

  /**
   * Puts two eyes into one picture, each through its glass: what a colour lets through of each channel, added up.
   * @param colours of the left and the right eye, `#rrggbb`.
   */
  putAnaglyph(left: Float32Array, right: Float32Array, tile: Tile, colours: readonly [string, string]): void {
    const [a, b] = colours.map((hex) => [1, 3, 5].map((at) => parseInt(hex.slice(at, at + 2), 16) / 255)) as [
      number[],
      number[],
    ];
    const { most, channels, data } = this;
    for (let y = 0; y < tile.height; y++) {
      let to = ((tile.y + y) * this.widthPx + tile.x) * channels;
      for (let from = y * tile.width * 4; from < (y + 1) * tile.width * 4; from += 4) {
        for (let c = 0; c < 3; c++) {
          const sum =
            srgbFromLinear(left[from + c] ?? 0) * (a[c] ?? 0) + srgbFromLinear(right[from + c] ?? 0) * (b[c] ?? 0);
          data[to + c] = Math.round(most * Math.min(1, sum));
        }
        if (channels === 4)
          data[to + 3] = Math.round(most * Math.min(1, Math.max(left[from + 3] ?? 0, right[from + 3] ?? 0)));
        to += channels;
      }
    }
  }

  /** Lays a drawing (8 bits, straight alpha) over all of it, or under it. */
  lay(drawing: Uint8ClampedArray, where: 'over' | 'under' = 'over'): void {
    const { most, channels, data } = this;
    for (let pixel = 0; pixel < this.widthPx * this.heightPx; pixel++) {
      const drawn = (drawing[pixel * 4 + 3] ?? 0) / 255;
      if (drawn === 0) continue;
      const at = pixel * channels;
      const own = channels === 4 ? (data[at + 3] ?? 0) / most : 1;
      const [top, bottom] = where === 'over' ? [drawn, own] : [own, drawn];
      const all = top + bottom * (1 - top);
      for (let c = 0; c < 3; c++) {
        const kept = ((data[at + c] ?? 0) / most) * (this.alpha === 'premultiplied' && own > 0 ? 1 / own : 1);
        const laid = (drawing[pixel * 4 + c] ?? 0) / 255;
        const [upper, lower] = where === 'over' ? [laid, kept] : [kept, laid];
        const mixed = (upper * top + lower * bottom * (1 - top)) / all;
        data[at + c] = Math.round(most * mixed * (this.alpha === 'premultiplied' ? all : 1));
      }
      if (channels === 4) data[at + 3] = Math.round(most * all);
    }
  }

  /** The same in 8 bits with straight alpha, as canvases want it. */
  pixels(): Uint8ClampedArray<ArrayBuffer> {
    const { channels, data, most } = this;
    const out = new Uint8ClampedArray(this.widthPx * this.heightPx * 4);
    for (let i = 0; i < this.widthPx * this.heightPx; i++) {
      for (let c = 0; c < 3; c++) out[i * 4 + c] = ((data[i * channels + c] ?? 0) * 255) / most;
      out[i * 4 + 3] = channels === 4 ? ((data[i * channels + 3] ?? 0) * 255) / most : 255;
    }
    return out;
  }
}
