import * as z from 'zod';
import { assetFileSchema } from './asset-file';
import { base, name } from './fields';

/** A file brought into the project. */
export const assetSchema = z.object({ ...base, name, file: assetFileSchema });

export type Asset = z.infer<typeof assetSchema>;

export const assetKind = { table: 'assets', schema: assetSchema, references: {} } as const;
