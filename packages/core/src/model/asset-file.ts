import * as z from 'zod';

const hash = z.string().regex(/^[0-9a-f]{64}$/);

const triple = z.tuple([z.number(), z.number(), z.number()]).readonly();

/** Outline from above of one part of an asset: a convex polygon of x, z in metres, and its height span. */
const footprintSchema = z.object({
  name: z.string().max(120),
  outline: z.array(z.tuple([z.number(), z.number()])).max(64),
  bottomM: z.number(),
  topM: z.number(),
});

export type Footprint = z.infer<typeof footprintSchema>;

/** What a geometry file (GLB) holds, measured when it came in. `hash` is its SHA-256 and its name in the data directory. */
export const geometryFileSchema = z.object({
  kind: z.literal('geometry'),
  hash,
  bytes: z.number().int().positive(),
  triangles: z.number().int().nonnegative(),
  minM: triple,
  maxM: triple,
  footprints: z.array(footprintSchema).max(256),
  /** Animation clips of the file. */
  clips: z.array(z.object({ name: z.string().max(200), seconds: z.number().nonnegative() })).max(500),
  /** Whether parts bend with a skeleton or morph, so that each placement needs a body of its own. */
  deforms: z.boolean(),
  /** What the file holds that Arvex leaves out, in words. */
  leftOut: z.array(z.string().max(300)).max(50),
});

export type GeometryFile = z.infer<typeof geometryFileSchema>;

/** What a picture file is. */
export const pictureFileSchema = z.object({
  kind: z.literal('picture'),
  hash,
  bytes: z.number().int().positive(),
  widthPx: z.number().int().positive(),
  heightPx: z.number().int().positive(),
  mediaType: z.enum(['image/png', 'image/jpeg', 'image/webp']),
});

export type PictureFile = z.infer<typeof pictureFileSchema>;

/** What a file of sound is. */
const soundFileSchema = z.object({
  kind: z.literal('sound'),
  hash,
  bytes: z.number().int().positive(),
  durationS: z.number().positive(),
  mediaType: z.enum(['audio/wav', 'audio/mpeg', 'audio/mp4', 'audio/aac', 'audio/flac', 'audio/ogg']),
});

export type SoundFile = z.infer<typeof soundFileSchema>;

/** What a file of a 3D table of colours (.cube) is. */
export const lutFileSchema = z.object({
  kind: z.literal('lut'),
  hash,
  bytes: z.number().int().positive(),
  /** Points along each side. */
  size: z.number().int().min(2),
});

export const assetFileSchema = z.discriminatedUnion('kind', [
  geometryFileSchema,
  pictureFileSchema,
  soundFileSchema,
  lutFileSchema,
]);

export type AssetFile = z.infer<typeof assetFileSchema>;
