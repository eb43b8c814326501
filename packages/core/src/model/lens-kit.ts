import * as z from 'zod';
import { kitLensSchema } from '../optics';
import { base, name } from './fields';

/** Lenses that belong together; every project also has the standard kit. */
const lensKitSchema = z.object({ ...base, name, lenses: z.array(kitLensSchema).max(100) });

export type LensKit = z.infer<typeof lensKitSchema>;

export const lensKitKind = { table: 'lensKits', schema: lensKitSchema, references: {} } as const;
