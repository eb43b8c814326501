import * as z from 'zod';
import { exposureSchema } from '../exposure';
import { deliverySchema } from '../optics';
import { RATES } from '../time';
import { DISPLAY_UNITS } from '../units';
import { base, id, name } from './fields';
import { GUIDE_DEFAULTS, guidesSchema } from './guides';

const rateSchema = z
  .object({ frames: z.number().int().positive(), seconds: z.number().int().positive() })
  .refine((rate) => RATES.some((known) => known.frames === rate.frames && known.seconds === rate.seconds), {
    message: `Choose one of ${RATES.map((rate) => `${rate.frames}/${rate.seconds}`).join(', ')}.`,
  });

/** When the shutter opens. */
const SHUTTER_OPENS = ['at-frame', 'centred'] as const;

export type ShutterOpens = (typeof SHUTTER_OPENS)[number];

/** What belongs to the project as a whole. */
export const headSchema = z.object({
  ...base,
  name,
  rate: rateSchema,
  /** Number shown for the first frame. */
  firstFrame: z.number().int().min(0).max(10_000_000),
  delivery: deliverySchema,
  displayUnit: z.enum(DISPLAY_UNITS),
  /** Whether somebody chose the delivery size, or it is still the one a new project has. */
  deliveryChosen: z.boolean(),
  /** What cameras have that follow the project. */
  exposure: exposureSchema,
  guides: guidesSchema,
  /** The look of cameras that follow the project; null is one that leaves everything as it is. */
  lookId: id.nullable().default(null),
  /** Whether the shutter opens at a frame's own time, or is open about it: its middle is the frame's time then. */
  shutterOpens: z.enum(SHUTTER_OPENS).default('at-frame'),
});

export type ProjectHead = z.infer<typeof headSchema>;

export const HEAD_DEFAULTS: Omit<ProjectHead, 'id' | 'revision' | 'name'> = {
  rate: { frames: 24, seconds: 1 },
  firstFrame: 1001,
  delivery: { widthPx: 1920, heightPx: 1080, pixelAspect: 1 },
  displayUnit: 'm',
  deliveryChosen: false,
  // A clear afternoon, as a new set has it, is seen as it should be.
  exposure: { shutterAngleDeg: 180, iso: 100, ndStops: 3, hold: false, absorbers: ['nd', 'stop', 'iso', 'shutter'] },
  guides: GUIDE_DEFAULTS,
  lookId: null,
  shutterOpens: 'at-frame',
};

export const headKind = { table: 'head', schema: headSchema, references: {} } as const;
