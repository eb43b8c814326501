import * as z from 'zod';
import { MAX_FLICKS, base, flicks, id, name } from './fields';

/** A camera over a range of scene time. `order` ranks it in its sequence; any number between two others fits. */
export const shotSchema = z.object({
  ...base,
  sequenceId: id,
  cameraId: id.nullable(),
  name,
  order: z.number(),
  sceneStartFlicks: flicks,
  durationFlicks: z.number().int().positive().max(MAX_FLICKS),
});

export type Shot = z.infer<typeof shotSchema>;
