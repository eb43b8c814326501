import type { Vector } from '../space';
import { anglesShape, base, id, name, scaleFactor, vectorSchema } from './fields';
import { pieceSchema, surfaceSchema } from './piece';
import { clipPlaySchema, placementMotionSchema } from './placement-motion';
import * as z from 'zod';

/** A thing standing in a set, or carried by another one: then its place and turn are relative to that. */
const placementSchema = z.object({
  ...base,
  setId: id,
  parentId: id.nullable(),
  /** The file of imported geometry, or the picture on a card. */
  assetId: id.nullable(),
  lightGroupId: id.nullable(),
  name,
  piece: pieceSchema,
  positionM: vectorSchema,
  ...anglesShape,
  /** Size of imported geometry along its own axes; 1 for pieces, which have sizes of their own. */
  scale: z.tuple([scaleFactor, scaleFactor, scaleFactor]).readonly(),
  surface: surfaceSchema,
  motion: placementMotionSchema,
  clip: clipPlaySchema.nullable(),
  /** Whether cameras are judged by it: focus, shot size, headroom. */
  subject: z.boolean(),
  visible: z.boolean(),
  locked: z.boolean(),
});

export type Placement = z.infer<typeof placementSchema>;

/** A placement in all that its kind does not say. */
export const PLACEMENT_DEFAULTS = {
  parentId: null,
  assetId: null,
  lightGroupId: null,
  clip: null,
  panDeg: 0,
  tiltDeg: 0,
  rollDeg: 0,
  scale: [1, 1, 1] as Vector,
  surface: { kind: 'colour' as const, colour: null, luminanceCdM2: null, roughness: null },
  motion: { kind: 'still' as const },
  subject: false,
  visible: true,
  locked: false,
};

export const placementKind = {
  table: 'placements',
  schema: placementSchema,
  references: { setId: 'set', parentId: 'placement', assetId: 'asset', lightGroupId: 'lightGroup' },
  owner: 'setId',
} as const;
