import * as z from 'zod';
import type { Asset } from './asset';
import { assetSchema } from './asset';
import type { Camera } from './camera';
import { cameraSchema } from './camera';
import type { ProjectHead } from './head';
import { headSchema } from './head';
import type { LensKit } from './lens-kit';
import { lensKitSchema } from './lens-kit';
import type { LightGroup } from './light-group';
import { lightGroupSchema } from './light-group';
import type { Move } from './move';
import { moveSchema } from './move';
import type { Placement } from './placement';
import { placementSchema } from './placement';
import type { Sequence } from './sequence';
import { sequenceSchema } from './sequence';
import type { SetEntity } from './set';
import { setSchema } from './set';
import type { Shot } from './shot';
import { shotSchema } from './shot';

/** Every kind of entity that changes can touch, what is referred to first: its schema and its table in {@link Project}. */
export const ENTITY_KINDS = {
  project: { schema: headSchema, table: 'head' },
  lightGroup: { schema: lightGroupSchema, table: 'lightGroups' },
  set: { schema: setSchema, table: 'sets' },
  asset: { schema: assetSchema, table: 'assets' },
  placement: { schema: placementSchema, table: 'placements' },
  lensKit: { schema: lensKitSchema, table: 'lensKits' },
  camera: { schema: cameraSchema, table: 'cameras' },
  move: { schema: moveSchema, table: 'moves' },
  sequence: { schema: sequenceSchema, table: 'sequences' },
  shot: { schema: shotSchema, table: 'shots' },
} as const;

export type EntityKind = keyof typeof ENTITY_KINDS;

export const entityKindSchema = z.enum(Object.keys(ENTITY_KINDS) as [EntityKind, ...EntityKind[]]);

export interface EntityOf {
  project: ProjectHead;
  set: SetEntity;
  lightGroup: LightGroup;
  asset: Asset;
  placement: Placement;
  lensKit: LensKit;
  camera: Camera;
  move: Move;
  sequence: Sequence;
  shot: Shot;
}

export type Entity = EntityOf[EntityKind];
