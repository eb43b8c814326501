import * as z from 'zod';

/** What a format holds: light as it is shown (display-referred, sRGB), or as it is (linear, 1 where the camera clips). */
type Holds = 'shown' | 'linear';

/** A setting of a format, as a person chooses it. A choice's keys are its values as text, in the order in which they are offered. */
export type FormatField =
  | { readonly kind: 'choice'; readonly name: string; readonly choices: Readonly<Record<string, string>> }
  | { readonly kind: 'number'; readonly name: string; readonly min: number; readonly max: number };

/** One kind of picture file, with all that an order, its checks and those who make and read it have to know of it. */
export interface PictureFormat<S = unknown> {
  /** As a person reads it. */
  readonly name: string;
  readonly ending: string;
  readonly mediaType: string;
  readonly holds: Holds;
  readonly hasAlpha: boolean;
  /** Whether browsers show it. */
  readonly inBrowsers: boolean;
  /** Largest side that is written, pixels. */
  readonly largestSidePx: number;
  /** What can be chosen of it, by the keys of its settings. */
  readonly fields: Readonly<Record<string, FormatField>>;
  readonly settings: z.ZodType<S>;
  /** Its settings when it is chosen first. */
  readonly first: S;
  /** Bytes of one pixel without alpha, about: measured on frames of scenes with smooth surfaces and skies. */
  bytesAPixel(settings: S): number;
  /** As the sentence of an order says it. */
  words(settings: S): string;
}

/** Largest side of a picture, pixels: what is beyond the graphics is drawn in tiles. */
export const LARGEST_SIDE_PX = 16_384;
/** Floats of a larger picture do not fit into what a page may hold, pixels. */
const LARGEST_LINEAR_PX = 8192;

interface Bits {
  readonly bits: 8 | 16;
}
const bits: z.ZodType<Bits> = z.object({ bits: z.union([z.literal(8), z.literal(16)]) });
const BITS: FormatField = { kind: 'choice', name: 'Bits', choices: { '8': '8 bit', '16': '16 bit' } };

const format = <S>(of: PictureFormat<S>): PictureFormat<S> => of;

/**
 * Every kind of picture that a frame can be written as, in the order in which lists and files have them. A new one is an entry here, a
 * writer in `renderer/writers.ts` and a reader of its size in the server's `frame-check.ts`.
 */
export const PICTURE_FORMATS = {
  png: format<Bits>({
    name: 'PNG',
    ending: 'png',
    mediaType: 'image/png',
    holds: 'shown',
    hasAlpha: true,
    inBrowsers: true,
    largestSidePx: LARGEST_SIDE_PX,
    settings: bits,
    first: { bits: 8 },
    fields: { bits: BITS },
    bytesAPixel: (chosen) => (chosen.bits === 16 ? 4.2 : 1.2),
    words: (chosen) => (chosen.bits === 16 ? 'PNG 16 bit' : 'PNG'),
  }),
  jpeg: format({
    name: 'JPEG',
    ending: 'jpg',
    mediaType: 'image/jpeg',
    holds: 'shown',
    hasAlpha: false,
    inBrowsers: true,
    largestSidePx: LARGEST_SIDE_PX,
    settings: z.object({ quality: z.number().min(1).max(100) }),
    first: { quality: 90 },
    fields: { quality: { kind: 'number', name: 'Quality', min: 1, max: 100 } },
    bytesAPixel: () => 0.35,
    words: () => 'JPEG',
  }),
  tiff: format<Bits>({
    name: 'TIFF',
    ending: 'tif',
    mediaType: 'image/tiff',
    holds: 'shown',
    hasAlpha: true,
    inBrowsers: false,
    largestSidePx: LARGEST_SIDE_PX,
    settings: bits,
    first: { bits: 16 },
    fields: { bits: BITS },
    bytesAPixel: (chosen) => (chosen.bits === 16 ? 4.2 : 1.2),
    words: (chosen) => (chosen.bits === 16 ? 'TIFF 16 bit' : 'TIFF'),
  }),
  exr: format<{ readonly depth: 'half' | 'float' }>({
    name: 'OpenEXR',
    ending: 'exr',
    mediaType: 'image/x-exr',
    holds: 'linear',
    hasAlpha: true,
    inBrowsers: false,
    largestSidePx: LARGEST_LINEAR_PX,
    settings: z.object({ depth: z.enum(['half', 'float']) }),
    first: { depth: 'half' },
    fields: { depth: { kind: 'choice', name: 'Numbers', choices: { half: 'half', float: 'float' } } },
    bytesAPixel: (chosen) => (chosen.depth === 'half' ? 4.5 : 9),
    words: (chosen) => (chosen.depth === 'half' ? 'EXR' : 'EXR float'),
  }),
} as const;
export type PictureFormatId = keyof typeof PICTURE_FORMATS;
export const PICTURE_FORMAT_IDS = Object.keys(PICTURE_FORMATS) as readonly PictureFormatId[];

/** The settings of each format. */
export type FormatSettings = { readonly [F in PictureFormatId]: (typeof PICTURE_FORMATS)[F]['first'] };

/** Which formats an order wants, and how; `null` for those that it does not. */
export type OrderedPictures = { readonly [F in PictureFormatId]: FormatSettings[F] | null };

export const orderedPicturesSchema = z.object(
  Object.fromEntries(
    PICTURE_FORMAT_IDS.map((id) => [id, (PICTURE_FORMATS[id].settings as z.ZodType).nullable().default(null)]),
  ),
) as unknown as z.ZodType<OrderedPictures>;

export const NO_PICTURES = Object.fromEntries(PICTURE_FORMAT_IDS.map((id) => [id, null])) as unknown as OrderedPictures;

/** A format that an order wants, with its settings. */
export interface ChosenFormat {
  readonly id: PictureFormatId;
  readonly format: PictureFormat;
  readonly settings: unknown;
}

/** The formats that an order wants, in the order of the table. @param holds only those that hold this, where it is given. */
export function chosenFormats(pictures: OrderedPictures, holds?: Holds): ChosenFormat[] {
  return PICTURE_FORMAT_IDS.flatMap((id) => {
    const [of, settings] = [PICTURE_FORMATS[id] as PictureFormat, pictures[id]];
    return settings === null || (holds !== undefined && of.holds !== holds) ? [] : [{ id, format: of, settings }];
  });
}

/** One kind of movie, and what it asks of the pictures. */
interface MovieKind {
  /** As a person chooses it, and as the sentence of an order says it. */
  readonly name: string;
  readonly words: string;
  readonly codecName: string;
  readonly ending: string;
  readonly mediaType: string;
  readonly hasAlpha: boolean;
  /** Whether both sides have to be even. */
  readonly wantsEven: boolean;
  /** Largest side that players go along with, pixels: H.264 level 6.2. */
  readonly largestSidePx: number;
}

/** Every kind of movie that is made, by its codec. */
export const MOVIE_FORMATS = {
  h264: {
    name: 'MP4 (H.264)',
    words: 'MP4',
    codecName: 'H.264',
    ending: 'mp4',
    mediaType: 'video/mp4',
    hasAlpha: false,
    wantsEven: true,
    largestSidePx: 8192,
  },
  vp9: {
    name: 'WebM (VP9)',
    words: 'WebM',
    codecName: 'VP9',
    ending: 'webm',
    mediaType: 'video/webm',
    hasAlpha: true,
    wantsEven: false,
    largestSidePx: 8192,
  },
} as const satisfies Readonly<Record<string, MovieKind>>;
export type MovieCodec = keyof typeof MOVIE_FORMATS;
