import * as z from 'zod';
import { base, flicks, id, MAX_FLICKS, name, order } from './fields';

/** A camera over a range of scene time. `order` is its place in its sequence: see {@link orderBetween}. */
const shotSchema = z.object({
  ...base,
  sequenceId: id,
  cameraId: id.nullable(),
  name,
  order,
  sceneStartFlicks: flicks,
  durationFlicks: z.number().int().positive().max(MAX_FLICKS),
});

export type Shot = z.infer<typeof shotSchema>;

export const shotKind = {
  table: 'shots',
  schema: shotSchema,
  references: { sequenceId: 'sequence', cameraId: 'camera' },
} as const;
