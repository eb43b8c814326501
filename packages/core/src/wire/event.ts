import * as z from 'zod';
import { appliedChangeSchema } from '../model';

/** What happens to a project, as its listeners are told: by the name of the event. */
export const EVENTS = {
  /** Said first: how far the project is. */
  hello: z.object({ seq: z.number().int() }),
  change: appliedChangeSchema,
  render: z.object({ renderId: z.string() }),
} as const;
export type EventName = keyof typeof EVENTS;
export type EventOf = { [N in EventName]: z.infer<(typeof EVENTS)[N]> };
