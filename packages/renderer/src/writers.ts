import type { FormatSettings, OrderedPictures, PictureFormatId } from '@arvex/core';
import { PICTURE_FORMATS } from '@arvex/core';
import { pngOf, tellPng, tiffOf } from '@arvex/interchange/pictures';
import type { Sheet } from './drawing';
import type { Raster } from './raster';

/** Formats of pictures for people; linear light is written by {@link StagePictures} itself. */
export type ShownFormatId = Exclude<PictureFormatId, 'exr'>;

/** What a file says of its picture. */
interface About {
  /** Width of a pixel by its height. */
  readonly pixelAspect: number;
}

/** How pictures for people become files of a format. */
interface ShownWriter<S> {
  /** Bits a channel that these settings keep. */
  bits(settings: S): 8 | 16;
  /** Writes what is drawn on a sheet. Left out where the browser does not know the format: its pixels are written then. */
  sheet?(sheet: Sheet, settings: S, about: About): Promise<Blob>;
  /** Writes a picture pixel by pixel. @param sheet to draw on, where the browser writes the file. */
  raster(raster: Raster, settings: S, about: About, sheet: Sheet): Blob | Promise<Blob>;
}

const WRITERS: { readonly [F in ShownFormatId]: ShownWriter<FormatSettings[F]> } = {
  png: {
    bits: ({ bits }) => bits,
    sheet: async (sheet, _settings, { pixelAspect }) => {
      const drawn = await sheet.blob('image/png');
      return blobOf('png', tellPng(new Uint8Array(await drawn.arrayBuffer()), pixelAspect));
    },
    raster: (raster, { bits }, { pixelAspect }) => blobOf('png', pngOf(raster.inBits(bits), pixelAspect)),
  },
  jpeg: {
    bits: () => 8,
    sheet: (sheet, { quality }) => sheet.blob('image/jpeg', quality / 100),
    raster: (raster, { quality }, _about, sheet) => {
      sheet.begin(raster).putImageData(new ImageData(raster.pixels(), raster.widthPx, raster.heightPx), 0, 0);
      return sheet.blob('image/jpeg', quality / 100);
    },
  },
  tiff: {
    bits: ({ bits }) => bits,
    raster: (raster, { bits }, { pixelAspect }) => {
      const alpha = raster.alpha === 'none' ? 'straight' : raster.alpha;
      return blobOf('tiff', tiffOf(raster.inBits(bits), { pixelAspect, alpha }));
    },
  },
};

/** The writer of a format as an order wants it, with its settings filled in; its first settings where it is made for movies alone. */
export function writerOf(pictures: OrderedPictures, id: ShownFormatId) {
  const writer: ShownWriter<unknown> = WRITERS[id];
  const settings = pictures[id] ?? PICTURE_FORMATS[id].first;
  return {
    bits: writer.bits(settings),
    sheet: writer.sheet && ((sheet: Sheet, about: About) => writer.sheet?.(sheet, settings, about)),
    raster: (raster: Raster, about: About, sheet: Sheet) => writer.raster(raster, settings, about, sheet),
  };
}

function blobOf(id: PictureFormatId, bytes: Uint8Array): Blob {
  return new Blob([bytes as Uint8Array<ArrayBuffer>], { type: PICTURE_FORMATS[id].mediaType });
}
