import * as z from 'zod';

/** Largest page of a list. */
const MOST_ITEMS = 200;

/** Which part of a list is asked for. */
export const pageQuerySchema = z.object({
  offset: z.coerce.number().int().min(0).default(0),
  limit: z.coerce.number().int().min(1).max(MOST_ITEMS).default(50),
});

/** A part of a list, and how long all of it is. */
export const pageOf = <T extends z.ZodType>(item: T) => z.object({ items: z.array(item), total: z.number().int() });

export interface Page<T> {
  items: T[];
  total: number;
}
