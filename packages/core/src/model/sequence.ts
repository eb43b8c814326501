import * as z from 'zod';
import { base, name } from './fields';

const sequenceSchema = z.object({ ...base, name });

export type Sequence = z.infer<typeof sequenceSchema>;

export const sequenceKind = { table: 'sequences', schema: sequenceSchema, references: {} } as const;
