import * as z from 'zod';
import { authorSchema } from '../model';
import { anyOrderSchema, orderPartSchema } from '../output';

/** A paused render waits until somebody lets it go on. */
const RENDER_STATES = ['rendering', 'paused', 'encoding', 'done', 'cancelled', 'failed'] as const;
export type RenderState = (typeof RENDER_STATES)[number];

/** A file that leaves the building beside the frames: a movie, or the facts of a sequence of frames. */
const renderFileSchema = z.object({
  /** Folder and name, as it lies in the zip. */
  path: z.string(),
  bytes: z.number(),
  kind: z.enum(['movie', 'facts', 'note']),
});
export type RenderFile = Readonly<z.infer<typeof renderFileSchema>>;

/** One part of an order as it is rendered: sizes in pixels, frames counted from 0 with `firstFrame` as the number of the first. */
export const renderSchema = z.object({
  id: z.uuid(),
  orderId: z.uuid(),
  projectId: z.uuid(),
  /** Version of its order, `v001`. */
  name: z.string(),
  /** Name of the sequence, shot or camera. */
  title: z.string(),
  /** Of the picture that leaves. */
  widthPx: z.number(),
  heightPx: z.number(),
  /** Of its movies: with every so many-th frame lower than the project's. */
  rate: z.object({ frames: z.number(), seconds: z.number() }),
  firstFrame: z.number(),
  frameCount: z.number(),
  framesDone: z.number(),
  /** Frames that could not be made. */
  framesFailed: z.number(),
  /** Of those that are done, how many were taken as they were made before. */
  framesKept: z.number().default(0),
  /** What draws it, as the graphics call themselves; nothing before a frame was begun. */
  graphics: z.string().nullable().default(null),
  state: z.enum(RENDER_STATES),
  error: z.string().nullable(),
  /** Whether it was put first in line. */
  isFirst: z.boolean(),
  /** Whether pictures leave, and not only movies. */
  hasFrames: z.boolean(),
  /** Whether there is something to look at: linear light is for other applications. */
  isSeen: z.boolean(),
  /** Whether the light of each group was kept apart, so that it can be mixed anew. */
  isApart: z.boolean(),
  /** The render whose light was mixed anew for this one. */
  mixOf: z.uuid().nullable(),
  files: z.array(renderFileSchema),
  /** Folder in the application's data directory in which it lies, once it does. */
  folder: z.string().nullable(),
  /** Who ordered it. */
  author: authorSchema,
  createdAt: z.string(),
});
export type Render = Readonly<z.infer<typeof renderSchema>>;

/** What a renderer has to know of a render beside its project. */
export const renderJobSchema = z.object({
  renderId: z.uuid(),
  orderId: z.uuid(),
  projectId: z.uuid(),
  order: anyOrderSchema,
  part: orderPartSchema,
  version: z.string(),
  /** Day of the order. */
  date: z.string(),
  state: z.enum(RENDER_STATES),
});
export type RenderJob = Readonly<z.infer<typeof renderJobSchema>>;

/** By which a renderer is known again when it begins anew: a tab's browser, or one of the server's own. */
export const rendererNameSchema = z.string().regex(/^[\w-]{1,64}$/);

/** What two frames share only where their files are the same: made by a renderer of all that decides them. */
export const frameKeySchema = z.string().regex(/^[0-9a-f]{16,64}$/);

/** Frames of a lease that may be there already, under what they would be. */
export const keptFramesSchema = z.object({
  frames: z.array(z.object({ index: z.number().int().min(0), key: frameKeySchema })).max(64),
});
export type KeptFrames = Readonly<z.infer<typeof keptFramesSchema>>;

/** Those of them that were, and are done with it. */
export const takenFramesSchema = z.object({ taken: z.array(z.number()) });

/** An order as it was given, with its parts. */
export const givenOrderSchema = z.object({ orderId: z.uuid(), version: z.string(), renders: z.array(renderSchema) });
export type GivenOrder = Readonly<z.infer<typeof givenOrderSchema>>;

/** A renderer's right to make some frames of a render for so many seconds. No frames means that all are done or leased out. */
export const leaseSchema = z.object({
  leaseId: z.uuid(),
  /** Nothing is to be rendered at all without one. */
  renderId: z.uuid().nullable(),
  frames: z.array(z.number()),
  seconds: z.number(),
});
export type Lease = Readonly<z.infer<typeof leaseSchema>>;
