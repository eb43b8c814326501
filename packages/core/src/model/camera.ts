import * as z from 'zod';
import { exposureSchema } from '../exposure';
import { lightMixSchema } from '../light';
import { blurCriterionSchema, deliverySchema, filmBackSchema, fitSchema, FOCAL_LENGTH_RANGE_MM } from '../optics';
import { anglesShape, base, flicks, id, name, sceneFlicks, vectorSchema, WORLD_EXTENT_M } from './fields';
import { GUIDE_DEFAULTS, guidesSchema } from './guides';
import { HANDHELD_DEFAULTS, handheldSchema } from './handheld';
import { HEAD_DEFAULTS } from './head';
import { rigSchema } from './rig';
import { SUBJECT_POINTS } from './subject-points';
import { variationSchema } from './variation';

export const poseSchema = z.object({ positionM: vectorSchema, ...anglesShape });

export type Pose = z.infer<typeof poseSchema>;

/** Groups of a camera's settings that either follow the project or are its own; its own are kept while it follows. */
const OWN_GROUPS = ['delivery', 'exposure', 'guides', 'look', 'lightMix'] as const;

export type OwnGroup = (typeof OWN_GROUPS)[number];

/** A reference picture laid under or over one camera's picture while working. */
const referenceSchema = z.object({
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
const aimSchema = z.discriminatedUnion('kind', [
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
  parallelWidthM: z.number().min(0.01).max(WORLD_EXTENT_M).nullable(),
  blades: z.number().int().min(0).max(24),
  roundness: z.number().min(0).max(1),
  irisDeg: z.number().min(-360).max(360),
});

/** The focus goes over to another subject. `ease` 0 is even, 1 is slow at both ends. */
const rackSchema = z.object({
  id,
  subjectId: id,
  point: z.enum(SUBJECT_POINTS),
  startFlicks: sceneFlicks,
  durationFlicks: flicks,
  ease: z.number().min(0).max(1),
});

export type Rack = z.infer<typeof rackSchema>;

/** What drives the focus: the hand, a subject that is followed, or what lies under a point of the frame. */
const focusSchema = z.object({
  mode: z.enum(['manual', 'follow', 'auto']),
  distanceM: z.number().min(0.01).max(WORLD_EXTENT_M),
  fStop: z.number().min(0.5).max(256),
  subjectId: id.nullable(),
  point: z.enum(SUBJECT_POINTS),
  /** While a subject is followed: to whom the focus goes over, in order of their times. */
  racks: z.array(rackSchema).max(200),
  criterion: blurCriterionSchema,
  /** The frame point of automatic focus, 0…1 from the left and top. */
  auto: z.object({ x: z.number().min(0).max(1), y: z.number().min(0).max(1) }),
});

const millimetres = z.number().min(-2000).max(2000);

const headOffset = z.tuple([millimetres, millimetres, millimetres]).readonly();

const cameraSchema = z.object({
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
  /** `subjectId` is who the shot is about; nobody means who is in focus or nearest the middle. */
  framing: z.object({ fit: fitSchema, delivery: deliverySchema, subjectId: id.nullable() }),
  guides: guidesSchema,
  clip: z
    .object({ nearM: z.number().min(0.001).max(1000), farM: z.number().max(WORLD_EXTENT_M * 2) })
    .refine((clip) => clip.farM > clip.nearM, {
      message: 'The far clip must lie behind the near clip.',
      path: ['farM'],
    }),
  /** Its own look; null is one that leaves everything as it is. */
  lookId: id.nullable().default(null),
  lightMix: lightMixSchema,
  /** Other looks and light mixes of the same position, by their ids. */
  variations: z.record(id, variationSchema).default({}),
  /** The variation that is worn; null is the camera as it is. */
  wears: id.nullable().default(null),
  /** Groups in force as the camera's own. */
  own: z.array(z.enum(OWN_GROUPS)),
  references: z.array(referenceSchema).max(20),
  /** Where a head carries the entrance pupil from its pan axis: to the right, up, and back, millimetres. Turning then moves it. */
  headOffsetMm: headOffset.default([0, 0, 0]),
  /** Taken out of the work, with all it has: a shot of it is named among what is to be mended. */
  disabled: z.boolean().default(false),
});

export type Camera = z.infer<typeof cameraSchema>;

/** A camera as it comes out of its case. */
export const CAMERA_DEFAULTS: Omit<Camera, 'id' | 'revision' | 'number' | 'name'> = {
  pose: { positionM: [0, 1.6, 0], panDeg: 0, tiltDeg: 0, rollDeg: 0 },
  filmBack: { widthMm: 24.89, heightMm: 13.87, squeeze: 1 },
  rig: { kind: 'sticks' },
  handheld: HANDHELD_DEFAULTS,
  aim: { kind: 'free' },
  lens: {
    focalLengthMm: 35,
    lensId: null,
    shiftXMm: 0,
    shiftYMm: 0,
    breathing: false,
    distortionPercent: 0,
    edgeStops: 0,
    parallelWidthM: null,
    blades: 9,
    roundness: 0.6,
    irisDeg: 0,
  },
  focus: {
    mode: 'manual',
    distanceM: 5,
    fStop: 8,
    subjectId: null,
    point: 'eyes',
    racks: [],
    criterion: { kind: 'back' },
    auto: { x: 0.5, y: 0.5 },
  },
  exposure: HEAD_DEFAULTS.exposure,
  framing: { fit: 'fill', delivery: HEAD_DEFAULTS.delivery, subjectId: null },
  guides: GUIDE_DEFAULTS,
  clip: { nearM: 0.1, farM: 2000 },
  lookId: null,
  lightMix: {},
  variations: {},
  wears: null,
  own: [],
  references: [],
  headOffsetMm: [0, 0, 0],
  disabled: false,
};

export const cameraKind = { table: 'cameras', schema: cameraSchema, references: { lookId: 'look' } } as const;
