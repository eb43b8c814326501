import * as z from 'zod';
import { LOOK_SHAPE } from '../colour';
import { base, name } from './fields';

/** A look under a name: what cameras, variations and the project wear. */
const lookSchema = z.object({ ...base, name, ...LOOK_SHAPE });

export type Look = z.infer<typeof lookSchema>;

export const lookKind = { table: 'looks', schema: lookSchema, references: {} } as const;
