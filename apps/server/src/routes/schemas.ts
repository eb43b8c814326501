import { rateSchema } from '@arvex/core';
import { z } from 'zod';

/** RFC 9457. */
export const problemSchema = z
  .looseObject({
    type: z.string(),
    title: z.string(),
    status: z.number(),
    detail: z.string(),
    field: z.string().optional(),
  })
  .describe('A problem document: what is wrong, where, and what to do');

export const projectParams = z.object({ project: z.uuid() });
export const renderParams = z.object({ render: z.uuid() });

/** Lists come in pages. */
export const pageQuery = z.object({
  offset: z.coerce.number().int().min(0).default(0),
  limit: z.coerce.number().int().min(1).max(200).default(50),
});

export const pageOf = <T extends z.ZodType>(item: T) => z.object({ items: z.array(item), total: z.number().int() });

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
  state: z.enum(['rendering', 'encoding', 'done', 'cancelled', 'failed']),
  error: z.string().nullable(),
  movieHash: z.string().nullable(),
  movieBytes: z.number().nullable(),
  createdAt: z.string(),
});
