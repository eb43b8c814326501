import * as z from 'zod';
import { AFTER_LAST, curveSchema } from '../curve';
import { metres, sceneFlicks, vectorSchema } from './fields';

/** Everything of a placement that keys can move: metres and degrees, relative to what it is attached to. */
export const PLACEMENT_CHANNELS = ['positionX', 'positionY', 'positionZ', 'pan', 'tilt', 'roll'] as const;

export type PlacementChannel = (typeof PLACEMENT_CHANNELS)[number];

/** How a placement moves over scene time. */
export const placementMotionSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('still') }),
  z.object({
    kind: z.literal('keys'),
    curves: z.partialRecord(z.enum(PLACEMENT_CHANNELS), curveSchema),
    /** What a curve does after its last key; it stays where nothing is said. */
    after: z.partialRecord(z.enum(PLACEMENT_CHANNELS), z.enum(AFTER_LAST)).optional(),
  }),
  z.object({
    kind: z.literal('path'),
    nodesM: z.array(vectorSchema).min(2).max(500),
    /** Ground under the path at even distances from its start to its end; empty takes the nodes' own heights. */
    groundM: z.array(metres).max(5000),
    speedMps: z.number().min(0.01).max(200),
    startFlicks: sceneFlicks,
    closed: z.boolean(),
    facing: z.enum(['along', 'as-placed']),
  }),
]);

export type PlacementMotion = z.infer<typeof placementMotionSchema>;

export type WalkPath = Extract<PlacementMotion, { kind: 'path' }>;

/** A clip of an imported file that plays over scene time: from `startFlicks`, `rate` times as fast. */
export const clipPlaySchema = z.object({
  index: z.number().int().min(0).max(499),
  startFlicks: sceneFlicks,
  rate: z.number().min(-20).max(20),
  loop: z.boolean(),
});

export type ClipPlay = z.infer<typeof clipPlaySchema>;

/** Second of a clip of `lengthS` seconds that shows at `seconds` after its start; held at its ends unless it loops. */
export function clipSecond({ rate, loop }: ClipPlay, lengthS: number, seconds: number): number {
  const played = seconds * rate;
  if (lengthS <= 0) return 0;
  if (loop) return ((played % lengthS) + lengthS) % lengthS;
  // Played backward, a clip begins at its end.
  return Math.max(0, Math.min(lengthS, rate < 0 ? lengthS + played : played));
}
