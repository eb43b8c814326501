import * as z from 'zod';
import { base, flicks, id } from './fields';

/** A place in a sequence that somebody wants to find again: joints snap to it. */
const markerSchema = z.object({ ...base, sequenceId: id, atFlicks: flicks, name: z.string().max(120) });

export type Marker = z.infer<typeof markerSchema>;

export const markerKind = {
  table: 'markers',
  schema: markerSchema,
  references: { sequenceId: 'sequence' },
  owner: 'sequenceId',
  cutTimes: ['atFlicks'],
} as const;
