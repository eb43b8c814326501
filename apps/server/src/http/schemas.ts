import * as z from 'zod';

/** Parameters of addresses. */
export const projectParams = z.object({ project: z.uuid() });
export const renderParams = z.object({ render: z.uuid() });
export const orderParams = z.object({ order: z.uuid() });
