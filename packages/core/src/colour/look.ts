import * as z from 'zod';
import { CDL_DEFAULTS, cdlSchema } from './cdl';
import { NEUTRAL_RESPONSE, responseSchema } from './response';
import { KELVIN_RANGE, MOST_TINT, NEUTRAL_KELVIN } from './white-balance';

const id = z.uuid();
const colour = z.string().regex(/^#[0-9a-f]{6}$/i);

/** Stops that a look makes brighter or darker at most. */
export const MOST_COMPENSATION = 10;
/** Strongest and weakest contrast. */
const CONTRAST_RANGE = { min: 0.2, max: 4 } as const;
/** Share of what clips at which light begins to glow. */
const MOST_THRESHOLD = 16;
/** Widest glow, and longest streak, as shares of the frame's width. */
export const GLOW_SIZE_RANGE = { min: 0.002, max: 0.25 } as const;
export const MOST_AMOUNT = 4;
export const STREAK_LENGTH_RANGE = { min: 0.01, max: 1 } as const;
/** Arms of a streak. */
export const MOST_ARMS = 8;

/** What glows: everything that is bright enough, or of that only chosen things, or only lamps of light groups. */
const glowingSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('all') }),
  z.object({ kind: z.literal('things'), ids: z.array(id).max(500).readonly() }),
  z.object({ kind: z.literal('groups'), ids: z.array(id).max(100).readonly() }),
]);
export type Glowing = z.infer<typeof glowingSchema>;

const white = z.object({
  /** Light of this temperature comes out white, kelvin: a higher number makes the picture warmer. */
  kelvin: z.number().min(KELVIN_RANGE.min).max(KELVIN_RANGE.max),
  /** Toward magenta above nought, toward green below. */
  tint: z.number().min(-MOST_TINT).max(MOST_TINT),
});

const tone = z.object({
  /** How much steeper stops are about the pivot; 1 leaves them. */
  contrast: z.number().min(CONTRAST_RANGE.min).max(CONTRAST_RANGE.max),
  /** Light that contrast leaves where it is, as a share of what clips. */
  pivot: z.number().min(0.005).max(1),
  /** Lifts what is darker than the pivot, black most, or sinks it: −1 to 1. */
  shadows: z.number().min(-1).max(1),
});

const glow = z.object({
  /** Share of the light that is spread; 0 is none. */
  amount: z.number().min(0).max(MOST_AMOUNT),
  /** Light beyond this glows, as a share of what clips, before compensation. */
  threshold: z.number().min(0).max(MOST_THRESHOLD),
  /** How far it spreads, a share of the frame's width. */
  size: z.number().min(GLOW_SIZE_RANGE.min).max(GLOW_SIZE_RANGE.max),
  of: glowingSchema,
});

const streaks = z.object({
  amount: z.number().min(0).max(MOST_AMOUNT),
  arms: z.number().int().min(1).max(MOST_ARMS),
  /** Of the first arm, degrees counter-clockwise from the right. */
  angleDeg: z.number().min(-360).max(360),
  /** Where an arm has lost all but a hundredth, a share of the frame's width. */
  length: z.number().min(STREAK_LENGTH_RANGE.min).max(STREAK_LENGTH_RANGE.max),
  tint: colour,
  /** How much farther red goes than blue: 0 to 1. */
  spread: z.number().min(0).max(1),
});

/** Fields of a look, each changed by itself. */
export const LOOK_SHAPE = {
  compensationStops: z.number().min(-MOST_COMPENSATION).max(MOST_COMPENSATION),
  white,
  cdl: cdlSchema,
  tone,
  response: responseSchema,
  /** How much darker the corners are where the lens darkens none, stops. */
  edgeStops: z.number().min(0).max(6),
  glow,
  streaks,
  /** A file that the finished picture goes through last. */
  lut: z.object({ assetId: id, share: z.number().min(0).max(1) }).nullable(),
} as const;

export const lookSettingsSchema = z.object(LOOK_SHAPE);

/** Everything that a look does to light. */
export type LookSettings = z.infer<typeof lookSettingsSchema>;

const known = new WeakMap<LookSettings, LookSettings>();

/** What of a look is set, without its name. The same of the same look each time. */
export function settingsOf(look: LookSettings | undefined): LookSettings {
  if (!look || look === LOOK_DEFAULTS) return LOOK_DEFAULTS;
  let settings = known.get(look);
  if (!settings) {
    const { compensationStops, white, cdl, tone, response, edgeStops, glow, streaks, lut } = look;
    settings = { compensationStops, white, cdl, tone, response, edgeStops, glow, streaks, lut };
    known.set(look, settings);
  }
  return settings;
}

/** A look that leaves everything as it is. The pivot is the meter's mid-tone (ISO 2720 over ISO 12232). */
export const LOOK_DEFAULTS: LookSettings = {
  compensationStops: 0,
  white: { kelvin: NEUTRAL_KELVIN, tint: 0 },
  cdl: CDL_DEFAULTS,
  tone: { contrast: 1, pivot: 0.104, shadows: 0 },
  response: NEUTRAL_RESPONSE,
  edgeStops: 0,
  glow: { amount: 0, threshold: 1, size: 0.02, of: { kind: 'all' } },
  streaks: { amount: 0, arms: 2, angleDeg: 0, length: 0.3, tint: '#ffffff', spread: 0 },
  lut: null,
};
