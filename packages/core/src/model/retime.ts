import * as z from 'zod';
import { flicks, sceneFlicks } from './fields';

/** The fastest that scene time may go by, times the true speed; backward too. */
export const FASTEST = 20;

const speed = z.number().min(-FASTEST).max(FASTEST);

/** Speed at a time after the shot's beginning (before it where its head was trimmed), holds not counted, and how it goes over to the next. */
const speedKeySchema = z.object({ afterFlicks: sceneFlicks, speed, ease: z.enum(['even', 'eased', 'held']) });

/** A frame that stands: shown from a time after the shot's beginning (other holds not counted) and for so much longer. */
const holdSchema = z.object({ afterFlicks: sceneFlicks, durationFlicks: flicks });

/**
 * How scene time goes by while a shot plays. `speed` is times the true one, negative backward, 0 a still; where there are keys of a
 * `ramp` they say the speed instead.
 */
export const retimeSchema = z.object({
  speed,
  ramp: z.array(speedKeySchema).max(64).readonly(),
  holds: z.array(holdSchema).max(16).readonly(),
});

export type Retime = z.infer<typeof retimeSchema>;
export type SpeedKey = z.infer<typeof speedKeySchema>;
export type Hold = z.infer<typeof holdSchema>;

/** As it happens. */
export const TRUE_SPEED: Retime = { speed: 1, ramp: [], holds: [] };
