import * as z from 'zod';
import { AFTER_LAST, curveSchema, keySchema } from '../curve';
import { CHANNELS, LIGHT_CHANNEL } from './channel';
import { base, id, sceneFlicks } from './fields';

const channelSchema = z
  .string()
  .refine((name) => (CHANNELS as readonly string[]).includes(name) || LIGHT_CHANNEL.test(name), {
    message: 'There is no such channel.',
  });

/**
 * A composed pose of a camera at a time of its move's clock: its keys stand there too. One that is left out keeps its values
 * here instead, and the keys themselves to be put back.
 */
const markSchema = z.object({
  id,
  name: z.string().max(120),
  atFlicks: sceneFlicks,
  leftOut: z.record(z.string(), z.number()).nullable(),
  leftOutKeys: z.record(z.string(), keySchema).optional(),
});

export type Mark = z.infer<typeof markSchema>;

/** How a camera's channels change over scene time; a camera has at most one. */
const moveSchema = z.object({
  ...base,
  cameraId: id,
  curves: z.record(channelSchema, curveSchema),
  /** What curves do after their last key; those that are not named stay. */
  after: z.record(channelSchema, z.enum(AFTER_LAST)),
  marks: z.array(markSchema).max(10_000),
});

export type Move = z.infer<typeof moveSchema>;

/** Marks of a move in the order of their times. */
export function marksInOrder(move: Move | undefined): Mark[] {
  return [...(move?.marks ?? [])].sort((a, b) => a.atFlicks - b.atFlicks);
}

export const moveKind = {
  table: 'moves',
  schema: moveSchema,
  references: { cameraId: 'camera' },
  owner: 'cameraId',
} as const;
