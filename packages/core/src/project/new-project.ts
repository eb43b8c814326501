import { GUIDE_DEFAULTS } from '../framing/guides';
import { HANDHELD_DEFAULTS } from '../motion/handheld';
import type { Camera, ProjectHead, SetEntity } from './entities';
import type { Project } from './project';

/** Revision of entities that no change has written yet. */
export const FIRST_REVISION = 'first';

export const HEAD_DEFAULTS: Omit<ProjectHead, 'id' | 'revision' | 'name'> = {
  rate: { frames: 24, seconds: 1 },
  firstFrame: 1001,
  delivery: { widthPx: 1920, heightPx: 1080, pixelAspect: 1 },
  displayUnit: 'm',
  deliveryChosen: false,
  // A clear afternoon, as a new set has it, is seen as it should be.
  exposure: { shutterAngleDeg: 180, iso: 100, ndStops: 3, hold: false, absorbers: ['iso', 'nd', 'shutter', 'stop'] },
  guides: GUIDE_DEFAULTS,
};

/** A clear afternoon, so that a new set is neither black nor burnt out. */
export const SET_DEFAULTS: Omit<SetEntity, 'id' | 'revision'> = {
  name: 'Set',
  sun: { elevationDeg: 35, azimuthDeg: 140, illuminanceLx: 20_000, kelvin: 5600 },
  sky: { illuminanceLx: 8000, zenithKelvin: 9000, horizonKelvin: 6500 },
  sunFrom: 'typed',
  sunPlace: { latitudeDeg: 54, longitudeDeg: 8.5, localTime: '2026-06-21T15:00', utcOffsetHours: 2 },
  amounts: 'follow',
  daylightGroupId: null,
};

/** A placement in all that its kind does not say. */
export const PLACEMENT_DEFAULTS = {
  ...{ parentId: null, assetId: null, lightGroupId: null, clip: null },
  ...{ panDeg: 0, tiltDeg: 0, rollDeg: 0, scale: [1, 1, 1] as [number, number, number] },
  surface: { colour: null, luminanceCdM2: null },
  motion: { kind: 'still' as const },
  ...{ subject: false, visible: true, locked: false },
};

/** A camera as it comes out of its case. */
export const CAMERA_DEFAULTS: Omit<Camera, 'id' | 'revision' | 'number' | 'name'> = {
  pose: { positionM: [0, 1.6, 0], panDeg: 0, tiltDeg: 0, rollDeg: 0 },
  filmBack: { widthMm: 24.89, heightMm: 13.87, squeeze: 1 },
  rig: { kind: 'sticks' },
  handheld: HANDHELD_DEFAULTS,
  aim: { kind: 'free' },
  lens: {
    ...{ focalLengthMm: 35, lensId: null, shiftXMm: 0, shiftYMm: 0, breathing: false, distortionPercent: 0 },
    ...{ edgeStops: 0, parallelWidthM: null, blades: 9, roundness: 0.6, irisDeg: 0 },
  },
  focus: {
    ...{
      mode: 'manual',
      distanceM: 5,
      fStop: 8,
      subjectId: null,
      point: 'eyes',
      racks: [],
      criterion: { kind: 'back' },
    },
    auto: { x: 0.5, y: 0.5, measured: [], measuredFor: '' },
  },
  exposure: HEAD_DEFAULTS.exposure,
  framing: { fit: 'match-width', delivery: HEAD_DEFAULTS.delivery, subjectId: null },
  guides: GUIDE_DEFAULTS,
  clip: { nearM: 0.1, farM: 2000 },
  lightMix: {},
  own: [],
  references: [],
};

/** A project with an empty set and an empty sequence. Ids come from outside: the core has no randomness. */
export function newProject(ids: { project: string; set: string; sequence: string }, name: string): Project {
  const revision = FIRST_REVISION;
  return {
    seq: 0,
    head: { id: ids.project, revision, name, ...HEAD_DEFAULTS },
    sets: { [ids.set]: { id: ids.set, revision, ...SET_DEFAULTS } },
    lightGroups: {},
    assets: {},
    placements: {},
    lensKits: {},
    cameras: {},
    moves: {},
    sequences: { [ids.sequence]: { id: ids.sequence, revision, name: 'Sequence' } },
    shots: {},
  };
}
