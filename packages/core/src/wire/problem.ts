import * as z from 'zod';

/** A problem document (RFC 9457): what is wrong, where, and what to do. */
export const problemSchema = z
  .looseObject({
    type: z.string(),
    title: z.string(),
    status: z.number(),
    detail: z.string(),
    /** The field or place that is wrong, where there is one. */
    field: z.string().optional(),
  })
  .describe('A problem document: what is wrong, where, and what to do');

export type ProblemDocument = z.infer<typeof problemSchema>;
