import * as z from 'zod';
import { responseSchema } from '../colour';
import { base } from './fields';

/** A response curve of one's own, kept for other looks under its name. */
const keptResponseSchema = z.object({ ...base, response: responseSchema });

export const keptResponseKind = { table: 'keptResponses', schema: keptResponseSchema, references: {} } as const;
