import * as z from 'zod';
import { exposureSchema } from '../exposure/hold';
import { guidesSchema } from '../framing/guides';
import {
  blurCriterionSchema,
  deliverySchema,
  filmBackSchema,
  fitSchema,
  FOCAL_LENGTH_RANGE_MM,
  kitLensSchema,
} from '../optics';
import { groupLevelSchema, lightMixSchema } from '../light/light-mix';
import { skySchema, sunPlaceSchema, sunSchema } from '../light/daylight';
import { CHANNELS, LIGHT_CHANNEL } from '../motion/channel';
import { AFTER_LAST, curveSchema } from '../motion/curve';
import { handheldSchema } from '../motion/handheld';
import { rigSchema } from '../motion/rig';
import { assetFileSchema } from '../set/asset-file';
import { pieceSchema, surfaceSchema } from '../set/piece';
import { clipPlaySchema, placementMotionSchema } from '../set/placement-motion';
import { SUBJECT_POINTS } from '../set/subject-points';
import { DISPLAY_UNITS } from '../units';
import { RATES } from '../time';

/** Farthest coordinate from the origin, metres: beyond it single-precision drawing shakes. */
const WORLD_EXTENT_M = 100_000;
const MAX_FLICKS = Number.MAX_SAFE_INTEGER;

const id = z.uuid();
/** The id of the change that last wrote an entity; the project's own before any change. */
const revision = z.string().min(1).max(64);
const name = z.string().trim().min(1, 'Give it a name.').max(120);
const metres = z.number().min(-WORLD_EXTENT_M).max(WORLD_EXTENT_M);
const flicks = z.number().int().min(0).max(MAX_FLICKS);
export const vectorSchema = z.tuple([metres, metres, metres]);
const scaleFactor = z.number().min(1e-6).max(1e6);
const anglesShape = {
  panDeg: z.number(),
  tiltDeg: z.number().min(-3600).max(3600),
  rollDeg: z.number().min(-3600).max(3600),
};
const base = { id, revision };

export const rateSchema = z
  .object({ frames: z.number().int().positive(), seconds: z.number().int().positive() })
  .refine((rate) => RATES.some((known) => known.frames === rate.frames && known.seconds === rate.seconds), {
    message: `Choose one of ${RATES.map((rate) => `${rate.frames}/${rate.seconds}`).join(', ')}.`,
  });

/** What belongs to the project as a whole. */
export const headSchema = z.object({
  ...base,
  name,
  rate: rateSchema,
  /** Number shown for the first frame. */
  firstFrame: z.number().int().min(0).max(10_000_000),
  delivery: deliverySchema,
  displayUnit: z.enum(DISPLAY_UNITS),
  /** Whether somebody chose the delivery size, or it is still the one a new project has. */
  deliveryChosen: z.boolean(),
  /** What cameras have that follow the project. */
  exposure: exposureSchema,
  guides: guidesSchema,
});

/** Lenses that belong together; every project also has the standard kit. */
export const lensKitSchema = z.object({ ...base, name, lenses: z.array(kitLensSchema).max(100) });

/** A place with its daylight; sun and sky belong to a light group. */
export const setSchema = z.object({
  ...base,
  name,
  sun: sunSchema,
  sky: skySchema,
  sunFrom: z.enum(['typed', 'place']),
  sunPlace: sunPlaceSchema,
  amounts: z.enum(['typed', 'follow']),
  daylightGroupId: id.nullable(),
});

/** A file brought into the project. */
export const assetSchema = z.object({ ...base, name, file: assetFileSchema });

/** Lights that are dimmed and tinted together; its level is what cameras see that have no mix of their own. */
export const lightGroupSchema = z.object({ ...base, name, level: groupLevelSchema });

/** A thing standing in a set, or carried by another one: then its place and turn are relative to that. */
export const placementSchema = z.object({
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
  scale: z.tuple([scaleFactor, scaleFactor, scaleFactor]),
  surface: surfaceSchema,
  motion: placementMotionSchema,
  clip: clipPlaySchema.nullable(),
  /** Whether cameras are judged by it: focus, shot size, headroom. */
  subject: z.boolean(),
  visible: z.boolean(),
  locked: z.boolean(),
});

export const poseSchema = z.object({ positionM: vectorSchema, ...anglesShape });
export type Pose = z.infer<typeof poseSchema>;

/** Groups of a camera's settings that either follow the project or are its own; its own are kept while it follows. */
export const OWN_GROUPS = ['delivery', 'exposure', 'guides', 'lightMix'] as const;
export type OwnGroup = (typeof OWN_GROUPS)[number];

/** A reference picture laid under or over one camera's picture while working. */
export const referenceSchema = z.object({
  id,
  assetId: id,
  layer: z.enum(['under', 'over']),
  opacity: z.number().min(0).max(1),
  size: z.enum(['fit', 'fill', 'stretch']),
  difference: z.boolean(),
  shown: z.boolean(),
});
export type Reference = z.infer<typeof referenceSchema>;

/** Where a camera looks: where its head is turned, at a point, or at a subject. */
export const aimSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('free') }),
  z.object({ kind: z.literal('point'), positionM: vectorSchema }),
  /** Along a path of its own, by the distance that `aimAlong` says. */
  z.object({ kind: z.literal('path'), nodesM: z.array(vectorSchema).min(1).max(500), closed: z.boolean() }),
  z.object({
    kind: z.literal('subject'),
    placementId: id,
    point: z.enum(SUBJECT_POINTS),
    /** Beside the point, in the subject's own axes, metres. */
    offsetM: vectorSchema,
    /** 1 looks right at it, 0 where the head is turned. */
    weight: z.number().min(0).max(1),
    /** How far behind the aim follows, seconds. */
    smoothingS: z.number().min(0).max(5),
  }),
]);
export type Aim = z.infer<typeof aimSchema>;

/** The lens on a camera. `lensId` names the one of a kit that it is. */
export const cameraLensSchema = z.object({
  focalLengthMm: z.number().min(FOCAL_LENGTH_RANGE_MM.min).max(FOCAL_LENGTH_RANGE_MM.max),
  lensId: z.string().max(64).nullable(),
  shiftXMm: z.number().min(-100).max(100),
  shiftYMm: z.number().min(-100).max(100),
  /** Whether focusing changes the angle of view. */
  breathing: z.boolean(),
  /** Displacement of the film back's corner, per cent: negative is barrel, positive pincushion. */
  distortionPercent: z.number().min(-40).max(40),
  /** How much darker the film back's corner is, stops. */
  edgeStops: z.number().min(0).max(6),
  /** Width of what the film back sees when lines of sight run parallel, metres; null for a perspective. */
  parallelWidthM: z.number().min(0.01).max(100_000).nullable(),
  blades: z.number().int().min(0).max(24),
  roundness: z.number().min(0).max(1),
  irisDeg: z.number().min(-360).max(360),
});

/** The focus goes over to another subject. `ease` 0 is even, 1 is slow at both ends. */
export const rackSchema = z.object({
  id,
  subjectId: id,
  point: z.enum(SUBJECT_POINTS),
  startFlicks: flicks,
  durationFlicks: flicks,
  ease: z.number().min(0).max(1),
});
export type Rack = z.infer<typeof rackSchema>;

/** What drives the focus: the hand, a subject that is followed, or what lies under a point of the frame. */
export const focusSchema = z.object({
  mode: z.enum(['manual', 'follow', 'auto']),
  distanceM: z.number().min(0.01).max(WORLD_EXTENT_M),
  fStop: z.number().min(0.5).max(256),
  subjectId: id.nullable(),
  point: z.enum(SUBJECT_POINTS),
  /** While a subject is followed: to whom the focus goes over, in order of their times. */
  racks: z.array(rackSchema).max(200),
  criterion: blurCriterionSchema,
  /** The frame point of automatic focus (0…1 from the left and top), and the distances measured under it over time. */
  auto: z.object({
    x: z.number().min(0).max(1),
    y: z.number().min(0).max(1),
    measured: curveSchema,
    /** What was measured: changes when the camera, its move or the set do. */
    measuredFor: z.string().max(64),
  }),
});

export const cameraSchema = z.object({
  ...base,
  /** Shown beside its colour, from 1. */
  number: z.number().int().min(1).max(9999),
  name,
  pose: poseSchema,
  rig: rigSchema,
  handheld: handheldSchema,
  aim: aimSchema,
  filmBack: filmBackSchema,
  lens: cameraLensSchema,
  focus: focusSchema,
  exposure: exposureSchema,
  /** `subjectId` is who the shot is about; nobody means whoever is largest in the frame. */
  framing: z.object({ fit: fitSchema, delivery: deliverySchema, subjectId: id.nullable() }),
  guides: guidesSchema,
  clip: z
    .object({ nearM: z.number().min(0.001).max(1000), farM: z.number().max(WORLD_EXTENT_M * 2) })
    .refine((clip) => clip.farM > clip.nearM, {
      message: 'The far clip must lie behind the near clip.',
      path: ['farM'],
    }),
  lightMix: lightMixSchema,
  /** Groups in force as the camera's own. */
  own: z.array(z.enum(OWN_GROUPS)),
  references: z.array(referenceSchema).max(20),
});

const channelSchema = z
  .string()
  .refine((name) => (CHANNELS as readonly string[]).includes(name) || LIGHT_CHANNEL.test(name), {
    message: 'There is no such channel.',
  });

/** A composed pose of a camera at a time. One that is left out keeps its values here instead of as keys. */
export const markSchema = z.object({
  id,
  name: z.string().max(120),
  atFlicks: flicks,
  leftOut: z.record(z.string(), z.number()).nullable(),
});
export type Mark = z.infer<typeof markSchema>;

/** How a camera's channels change over scene time; a camera has at most one. */
export const moveSchema = z.object({
  ...base,
  cameraId: id,
  curves: z.record(channelSchema, curveSchema),
  /** What curves do after their last key; those that are not named stay. */
  after: z.record(channelSchema, z.enum(AFTER_LAST)),
  marks: z.array(markSchema).max(10_000),
});

export const sequenceSchema = z.object({ ...base, name });

/** A camera over a range of scene time. `order` ranks it in its sequence; any number between two others fits. */
export const shotSchema = z.object({
  ...base,
  sequenceId: id,
  cameraId: id.nullable(),
  name,
  order: z.number(),
  sceneStartFlicks: flicks,
  durationFlicks: z.number().int().positive().max(MAX_FLICKS),
});

export type ProjectHead = z.infer<typeof headSchema>;
export type LensKit = z.infer<typeof lensKitSchema>;
export type SetEntity = z.infer<typeof setSchema>;
export type Asset = z.infer<typeof assetSchema>;
export type LightGroup = z.infer<typeof lightGroupSchema>;
export type Placement = z.infer<typeof placementSchema>;
export type Camera = z.infer<typeof cameraSchema>;
export type Move = z.infer<typeof moveSchema>;
export type Sequence = z.infer<typeof sequenceSchema>;
export type Shot = z.infer<typeof shotSchema>;

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
