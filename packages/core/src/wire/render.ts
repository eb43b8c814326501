import * as z from 'zod';
import { rateSchema } from '../model';

const RENDER_STATES = ['rendering', 'encoding', 'done', 'cancelled', 'failed'] as const;
export type RenderState = (typeof RENDER_STATES)[number];

/** What is asked to be rendered. */
export const renderOrderSchema = z.object({
  sequenceId: z.uuid(),
  /** Share of the delivery size, along each side. */
  share: z.number().min(0.05).max(1).default(1),
});
/** A render as it stands: sizes in pixels, frames counted from 0 with `firstFrame` as the number of the first. */
export const renderSchema = z.object({
  id: z.uuid(),
  projectId: z.uuid(),
  sequenceId: z.uuid(),
  name: z.string(),
  widthPx: z.number(),
  heightPx: z.number(),
  rate: rateSchema,
  firstFrame: z.number(),
  frameCount: z.number(),
  framesDone: z.number(),
  state: z.enum(RENDER_STATES),
  error: z.string().nullable(),
  movieHash: z.string().nullable(),
  movieBytes: z.number().nullable(),
  createdAt: z.string(),
});
export type Render = Readonly<z.infer<typeof renderSchema>>;

/** A renderer's right to make some frames for so many seconds. No frames means that all are done or leased out. */
export const leaseSchema = z.object({ leaseId: z.uuid(), frames: z.array(z.number()), seconds: z.number() });
export type Lease = Readonly<z.infer<typeof leaseSchema>>;
