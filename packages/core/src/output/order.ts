import * as z from 'zod';
import { LARGEST_SIDE_PX, MOVIE_FORMATS, NO_PICTURES, orderedPicturesSchema, PICTURE_FORMATS } from './formats';
import type { MovieCodec } from './formats';
import { ORDER_FORM, orderBroughtUp } from './order-form';

const id = z.uuid();
const colour = z.string().regex(/^#[0-9a-f]{6}$/, { message: 'Write the colour as # and six hexadecimal digits.' });

const side = z.number().int().min(16).max(LARGEST_SIDE_PX);

/** What is rendered. `null` in the place of a list means all there are when the order is given. */
const whatSchema = z.discriminatedUnion('kind', [
  /** A sequence as it is cut: one run of frames. */
  z.object({ kind: z.literal('cut'), sequenceId: id }),
  /** Shots one by one, each without what it dissolves or fades into, so that they can be cut anew. */
  z.object({ kind: z.literal('shots'), sequenceId: id, shotIds: z.array(id).max(2000).nullable() }),
  /** Cameras one by one, each over its own range of scene time. */
  z.object({ kind: z.literal('cameras'), cameraIds: z.array(id).max(2000).nullable() }),
  /** One frame of a sequence, counted from 0 … */
  z.object({ kind: z.literal('still'), sequenceId: id, frame: z.number().int().min(0) }),
  /** … or of a camera, at a frame of scene time. */
  z.object({ kind: z.literal('camera-still'), cameraId: id, frame: z.number().int().min(0) }),
]);
export type OrderedWhat = z.infer<typeof whatSchema>;

const framesSchema = z.object({
  /** Numbers of the first and the last frame, as they are shown; all frames, or each camera's own, without. */
  range: z.object({ first: z.number().int(), last: z.number().int() }).nullable(),
  /** Every so many-th frame; movies then go on at their true speed, at a lower rate. */
  step: z.number().int().min(1).max(1000),
  /** Frames beyond both ends of each shot that is rendered by itself, as many as its handles say. */
  handles: z.boolean(),
});

const sizeSchema = z.discriminatedUnion('kind', [
  /** A share of the delivery size along each side: of the project's, or a camera's own. */
  z.object({ kind: z.literal('share'), share: z.number().min(0.05).max(4) }),
  /** Takes the place of the delivery size: each film back meets it as its camera says. */
  z.object({ kind: z.literal('typed'), widthPx: side, heightPx: side }),
]);

const visibleSchema = z.object({
  /** Things of the set that are left out with all they carry, and with their shadows. */
  without: z.array(id).max(5000),
  figures: z.boolean(),
  /** Bodies of lamps; their light stays. */
  lampBodies: z.boolean(),
  cameras: z.boolean(),
  rigs: z.boolean(),
  paths: z.boolean(),
  grid: z.boolean(),
  guides: z.boolean(),
  references: z.boolean(),
});
export type Visible = z.infer<typeof visibleSchema>;

export const SHADINGS = ['full', 'lean', 'clay', 'lines-over', 'lines', 'depth'] as const;
export type Shading = (typeof SHADINGS)[number];

const backgroundSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('sky') }),
  z.object({ kind: z.literal('colour'), colour }),
  /** With `shadow` the ground is left out but for what it loses by the things that stand on it, as alpha. */
  z.object({ kind: z.literal('transparent'), alpha: z.enum(['straight', 'premultiplied']), shadow: z.boolean() }),
]);

const stereoSchema = z.object({
  layout: z.enum(['side-by-side', 'over-under', 'anaglyph', 'two-files']),
  eyeDistanceMm: z.number().min(0.1).max(10_000),
  /** Distance along the axis that lies in the plane of the screen, metres: by shifting the frames, not by turning the eyes. */
  convergenceM: z.number().min(0.1).max(100_000),
  swapped: z.boolean(),
  /** What the left and the right eye's glass lets through, in an anaglyph. */
  colours: z.tuple([colour, colour]),
});
export type Stereo = z.infer<typeof stereoSchema>;

const panoramaSchema = z.object({
  kind: z.enum(['sphere', 'cylinder', 'cube']),
  /** How the faces of a cube lie: as a cross, side by side, or as six files. */
  cube: z.enum(['cross', 'strip', 'six']),
  /** Width of a full turn: of four faces of a cube. */
  widthPx: side,
  /** How high a cylinder sees, degrees. */
  heightDeg: z.number().min(10).max(150),
});
export type Panorama = z.infer<typeof panoramaSchema>;

const movieSchema = z.object({
  codec: z.enum(Object.keys(MOVIE_FORMATS) as [MovieCodec, ...MovieCodec[]]),
  /** At a quality, 1 to 100, or at a rate in Mbit/s. */
  by: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('quality'), quality: z.number().min(1).max(100) }),
    z.object({ kind: z.literal('rate'), megabits: z.number().min(0.1).max(400) }),
  ]),
  /** A whole picture every half second, so that players step to any frame at once. */
  shortGroups: z.boolean(),
});
export type MovieFormat = z.infer<typeof movieSchema>;

const formatsSchema = z.object({
  movies: z.array(movieSchema).max(4),
  pictures: orderedPicturesSchema,
  /** Whether what lies beside the light in linear pictures are files of their own, or channels of the same file. */
  layersLie: z.enum(['apart', 'together']).default('apart'),
  /** Beside the light in linear pictures: distance along the axis in metres, masks by group, the light of each light group. */
  layers: z.object({ depth: z.boolean(), masks: z.boolean(), lightGroups: z.boolean() }),
});

/** What can be written over a picture, by the name a person reads. */
export const BURNT_IN = {
  project: 'Project',
  sequence: 'Sequence',
  shot: 'Shot',
  camera: 'Camera',
  lens: 'Lens',
  back: 'Film back',
  stop: 'f-stop',
  focus: 'Focus',
  ev: 'EV',
  iso: 'ISO',
  shutter: 'Shutter',
  frame: 'Frame',
  timecode: 'Timecode',
  date: 'Date',
  version: 'Version',
  text: 'Own text',
  logo: 'Logo',
} as const;
export type BurntIn = keyof typeof BURNT_IN;

const burnInSchema = z.object({
  what: z.enum(Object.keys(BURNT_IN) as [BurntIn, ...BurntIn[]]),
  /** Own words, of `text`. */
  text: z.string().max(200),
  /** Place of its middle, shares of the picture's width and height from the top left. */
  x: z.number().min(0).max(1),
  y: z.number().min(0).max(1),
});
export type BurnIn = z.infer<typeof burnInSchema>;

const burnInsSchema = z.object({
  items: z.array(burnInSchema).max(40),
  /** Height of a line, as a share of the picture's height. */
  size: z.number().min(0.01).max(0.2),
  /** In bars above and below the delivered frame, which the picture then is higher by; else over it. */
  outside: z.boolean(),
  logoAssetId: id.nullable(),
});

const namesSchema = z.object({
  /** Folder of each part; `/` goes one deeper. */
  folder: z.string().max(200),
  /** Of a frame's file, without its ending. */
  frames: z.string().min(1).max(200),
  /** Of a movie's file, without its ending. */
  movie: z.string().min(1).max(200),
});

const placesSchema = z.object({
  /** As a zip that is taken away. */
  zip: z.boolean(),
  /** A folder in the application's data directory. */
  folder: z.boolean(),
});

/** Everything that decides what leaves the building. */
export const renderOrderSchema = z.object({
  /** The form it was written in; older ones are brought up, see `order-form.ts`. */
  form: z.literal(ORDER_FORM),
  what: whatSchema,
  frames: framesSchema,
  /** Of shots and cameras that are rendered one by one: which of their variations; else as the shot shows it, or the camera wears it. */
  variations: z.union([z.enum(['worn', 'all']), z.array(id).min(1).max(2000)]).default('worn'),
  /** Frames that were made before, and would come out the same, are taken as they are. */
  takesKept: z.boolean().default(false),
  size: sizeSchema,
  /** H.264 wants even sizes: a row or column is added, or the order is refused. */
  oddSizes: z.enum(['pad', 'refuse']),
  /** Samples of each pixel, of the lens, the shutter and the lights. */
  samples: z.number().int().min(1).max(1024),
  shutter: z.object({ blur: z.boolean(), opens: z.enum(['as-set', 'at-frame', 'centred']) }),
  depthOfField: z.boolean(),
  /** Without it light is shown as it is: no look, no shoulder, no darker edges. */
  look: z.boolean(),
  visible: visibleSchema,
  shading: z.enum(SHADINGS),
  background: backgroundSchema,
  stereo: stereoSchema.nullable(),
  panorama: panoramaSchema.nullable(),
  formats: formatsSchema,
  burnIns: burnInsSchema.nullable(),
  /** Frames of each slate. */
  slateFrames: z.number().int().min(0).max(240),
  /** Whether a cut has a slate before each shot, or one at its head, so that it stays the cut that it is. */
  slates: z.enum(['each', 'head']).default('each'),
  sound: z.boolean(),
  names: namesSchema,
  places: placesSchema,
});
export type RenderOrder = z.infer<typeof renderOrderSchema>;

/** Reads what is an order, or the most of one, of any form as one of the present form; writes the present form. */
export const ofAnyForm = <S extends z.ZodType>(schema: S) =>
  z.codec(z.unknown(), schema, { decode: (old) => orderBroughtUp(old) as z.input<S>, encode: (order) => order });

export const anyOrderSchema = ofAnyForm(renderOrderSchema);

const EVERYTHING_SEEN: Visible = {
  without: [],
  figures: true,
  lampBodies: true,
  cameras: false,
  rigs: false,
  paths: false,
  grid: false,
  guides: false,
  references: false,
};

export const MOVIE_DEFAULTS: MovieFormat = {
  codec: 'h264',
  by: { kind: 'quality', quality: 65 },
  shortGroups: false,
};

export const STEREO_DEFAULTS: Stereo = {
  layout: 'side-by-side',
  eyeDistanceMm: 63,
  convergenceM: 6,
  swapped: false,
  colours: ['#ff0000', '#00ffff'],
};

export const PANORAMA_DEFAULTS: Panorama = { kind: 'sphere', cube: 'cross', widthPx: 4096, heightDeg: 90 };

/** An order in all that its `what` does not say: the whole cut as it is seen, as a movie and as pictures. */
export const ORDER_DEFAULTS: Omit<RenderOrder, 'what'> = {
  form: ORDER_FORM,
  frames: { range: null, step: 1, handles: false },
  variations: 'worn',
  takesKept: false,
  size: { kind: 'share', share: 1 },
  oddSizes: 'pad',
  samples: 8,
  shutter: { blur: true, opens: 'as-set' },
  depthOfField: true,
  look: true,
  visible: EVERYTHING_SEEN,
  shading: 'full',
  background: { kind: 'sky' },
  stereo: null,
  panorama: null,
  formats: {
    movies: [MOVIE_DEFAULTS],
    pictures: { ...NO_PICTURES, png: PICTURE_FORMATS.png.first },
    layersLie: 'apart',
    layers: { depth: false, masks: false, lightGroups: false },
  },
  burnIns: null,
  slateFrames: 0,
  slates: 'head',
  sound: true,
  names: { folder: '{version}/{part}', frames: '{part}.{frame}', movie: '{project}_{part}_{version}' },
  places: { zip: true, folder: false },
};
