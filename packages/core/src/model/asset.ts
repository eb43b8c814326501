import * as z from 'zod';
import { assetFileSchema } from './asset-file';
import { base, name } from './fields';

/** A file brought into the project. */
const assetSchema = z.object({ ...base, name, file: assetFileSchema });
export const assetKind = { table: 'assets', schema: assetSchema, references: {} } as const;
