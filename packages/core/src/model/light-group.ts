import * as z from 'zod';
import { groupLevelSchema } from '../light';
import { base, name } from './fields';

/** Lights that are dimmed and tinted together; its level is what cameras see that have no mix of their own. */
const lightGroupSchema = z.object({ ...base, name, level: groupLevelSchema });

export type LightGroup = z.infer<typeof lightGroupSchema>;

export const lightGroupKind = { table: 'lightGroups', schema: lightGroupSchema, references: {} } as const;
