import type { Camera, Rig, Vector } from '@arvex/core';
import {
  addNamedMove,
  addOrbit,
  addRack,
  EASING_DEFAULTS,
  flicksFromSeconds,
  HANDHELD_DEFAULTS,
  HANDHELD_PRESETS,
  marksInOrder,
  moveOf,
  moveThroughViews,
  RIG_DEFAULTS,
  setCurves,
  viewsOf,
} from '@arvex/core';
import type { DemoCamera } from './staging';
import { focus, focusOn, frame, lens, mark, on, poseAt, exposed, followed, zoom } from './staging';

const CRANE: Extract<Rig, { kind: 'crane' }> = {
  kind: 'crane',
  ...RIG_DEFAULTS.base,
  atM: [-38, 0, 14],
  columnM: 2,
  riserM: 0,
  swingDeg: 66,
  pitchDeg: 30,
  armM: 16,
};

/** A place at the end of the crane's arm. */
function craneEnd(swingDeg: number, pitchDeg: number): Vector {
  const [swing, pitch] = [(swingDeg * Math.PI) / 180, (pitchDeg * Math.PI) / 180];
  const [x, y, z] = CRANE.atM;
  const out = CRANE.armM * Math.cos(pitch);
  return [x + Math.sin(swing) * out, y + CRANE.columnM + CRANE.armM * Math.sin(pitch), z - Math.cos(swing) * out];
}

/** The track on the mud beside the pier: straight, then bending away from it. */
const PIER_RAIL: Rig = {
  kind: 'rail',
  ...RIG_DEFAULTS.base,
  closed: false,
  by: 'distance',
  along: 0,
  cameraM: [0, 2.45, 0],
  nodesM: [
    [-3.4, 0, 3],
    [-6.6, 0, 3],
    [-9.2, 0, 3.5],
    [-11.2, 0, 4.9],
  ],
  straight: [true, false, false, false],
};

const [breathing] = HANDHELD_PRESETS;
const KEEPER_EYES: Vector = [-13.1, 2.83, -0.2];
const COURIER_EYES: Vector = [-14.6, 2.67, 0.35];
const LAMP: Vector = [24, 21.4, -3];

const evening = (iso: number) => ({ exposure: { ...exposed, iso }, own: ['exposure' as const] });

/** A place in the hut, by its own axes from the middle of its floor: where `project.ts` puts it. */
function inHut(x: number, y: number, z: number): Vector {
  const turn = (12 * Math.PI) / 180;
  return [13.5 + x * Math.cos(turn) - z * Math.sin(turn), 0.75 + y, -9.5 + x * Math.sin(turn) + z * Math.cos(turn)];
}

export const CAMERAS: readonly DemoCamera[] = [
  {
    name: 'Gallery crane',
    pose: poseAt(craneEnd(58, 57), [12, 9, -3]),
    parts: { lens: lens(24), focus: focus(30, 4) },
    moves: [mark(0, craneEnd(58, 57), [12, 9, -3]), mark(125, craneEnd(69, 4), [14, 6.2, -3]), on(CRANE, 0)],
  },
  {
    name: 'Pier ride',
    pose: poseAt([-3.4, 2.45, 3], [0.5, 2.6, -0.3]),
    parts: {
      lens: lens(35),
      focus: focus(6.4, 4),
      handheld: { ...HANDHELD_DEFAULTS, ...breathing?.hand, on: true, amount: 0.5, seed: 20 },
    },
    moves: [
      mark(120, [-3.4, 2.45, 3], [0.9, 2.66, 0], { focusDistance: 5.3 }),
      mark(236, [-11.2, 2.45, 4.9], [-4.9, 2.66, -0.25], { focusDistance: 8 }),
      on(PIER_RAIL, 120),
      focusOn('keeper'),
    ],
  },
  {
    name: 'Boat, long lens',
    pose: poseAt([-9.9, 2.5, -1.05], [-19.4, 1.3, 4]),
    parts: { lens: lens(75), focus: focus(10, 2.8), ...evening(250) },
    moves: [
      mark(220, [-9.9, 2.5, -1.05], [-19.4, 1.3, 4], { focusDistance: 8.3 }),
      mark(335, [-9.7, 2.55, -1.05], [-20.6, 1.1, 5.4], { focusDistance: 15.6 }),
      ({ project, cameraId, ids, placementId }) =>
        addRack(
          project,
          cameraId,
          {
            id: ids('rack'),
            subjectId: placementId('courier rowing'),
            point: 'eyes',
            ease: 1,
            startFlicks: frame(262),
            durationFlicks: flicksFromSeconds(1.25),
          },
          placementId('mooring post'),
        ),
    ],
  },
  {
    name: 'Over the courier',
    pose: poseAt([-16.5, 2.95, 1.95], KEEPER_EYES),
    parts: { lens: lens(50), focus: focus(3.6, 2.8), ...evening(640) },
    moves: [
      ({ project, cameraId }) =>
        addNamedMove(
          project,
          cameraId,
          { ...EASING_DEFAULTS, move: 'push-in', amount: 0.55, seconds: 3, settleS: 0.8, subjectId: null },
          frame(400),
        ),
      focusOn('keeper'),
    ],
  },
  {
    name: 'Over the keeper',
    pose: poseAt([-11.2, 2.95, 0.42], COURIER_EYES),
    parts: {
      lens: lens(50),
      focus: focus(3.5, 2.8),
      ...evening(640),
      handheld: { ...HANDHELD_DEFAULTS, ...breathing?.hand, on: true, amount: 0.8, seed: 50 },
    },
    moves: [focusOn('courier')],
  },
  {
    name: 'Round the lens',
    pose: poseAt([21.75, 21.5, -3.9], LAMP),
    parts: { lens: lens(32), focus: focus(1.7, 5.6), ...evening(640) },
    moves: [
      ({ project, cameraId, placementId }) =>
        addOrbit(
          project,
          cameraId,
          { subjectId: placementId('glass lens'), degrees: 150, seconds: 160 / 24, loop: false },
          frame(600),
        ),
      focusOn('glass lens'),
      // The mantle glows before it burns.
      ({ project, cameraId, groupId }) =>
        setCurves(
          project,
          cameraId,
          'The mantle glows',
          {
            [`light:${groupId('lamp room')}`]: [
              { atFlicks: frame(600), value: -19.95, shape: 'linear' },
              { atFlicks: frame(660), value: -9, shape: 'smooth' },
              { atFlicks: frame(759), value: -6, shape: 'smooth' },
            ],
          },
          frame(600),
        ),
    ],
  },
  {
    name: 'The lamp takes',
    pose: poseAt([21.25, 21.45, -4.75], [21.9, 21.38, -3.4]),
    parts: { lens: zoom(28), focus: focus(1.5, 4), ...evening(640) },
    moves: [
      ({ project, cameraId, placementId }) =>
        addNamedMove(
          project,
          cameraId,
          {
            ...EASING_DEFAULTS,
            move: 'dolly-zoom',
            amount: 70,
            seconds: 4.5,
            settleS: 0.9,
            subjectId: placementId('keeper at the lamp'),
          },
          frame(765),
        ),
      ({ project, cameraId, groupId, placementId }) => ({
        name: 'The lamp takes',
        operations: [
          ...setCurves(
            project,
            cameraId,
            'The lamp takes',
            {
              [`light:${groupId('lamp room')}`]: [
                { atFlicks: frame(770), value: -7, shape: 'smooth' },
                { atFlicks: frame(815), value: -5.5, shape: 'smooth' },
                { atFlicks: frame(840), value: -1.5, shape: 'smooth' },
              ],
            },
            frame(770),
          ).operations,
          ...followed(project, cameraId, placementId('keeper at the lamp')),
        ],
      }),
    ],
  },
  {
    name: 'Night over the flats',
    pose: poseAt([-6, 2.2, 16], [18, 13, -3]),
    parts: {
      lens: lens(24),
      focus: focus(40, 4),
      exposure: { ...exposed, iso: 1250 },
      own: ['exposure'],
    },
    moves: [
      mark(900, [-6, 2.2, 16], [20, 13.5, -3], { focusDistance: 36 }),
      mark(1010, [4, 4.5, 24], [21, 14.5, -3], { focusDistance: 34 }),
      mark(1139, [19, 9.5, 31], [23, 15.5, -3], { focusDistance: 34 }),
      ({ project, cameraId, groupId }) => {
        const marks = marksInOrder(moveOf(project, cameraId));
        const through = moveThroughViews(
          project,
          cameraId,
          {
            views: viewsOf(project, cameraId, marks),
            legsFlicks: [frame(110), frame(129)],
            even: true,
            eased: true,
          },
          { atFlicks: frame(900), markIds: marks.map(({ id }) => id) },
        );
        const { id, revision } = project.cameras[cameraId] as Camera;
        const mix = {
          [groupId('outside')]: { stops: -4.5, tint: '#9fb4ff', on: true },
          [groupId('hut')]: { stops: 0, tint: '#ffffff', on: true },
          [groupId('lamp room')]: { stops: -1, tint: '#ffffff', on: true },
          [groupId('lantern')]: { stops: 0, tint: '#ffffff', on: true },
        };
        const night = { lightMix: mix, own: ['exposure', 'lightMix'] };
        const operation = { op: 'patch' as const, kind: 'camera' as const, id, baseRevision: revision, fields: night };
        return { name: through.name, operations: [...through.operations, operation] };
      },
    ],
  },
  {
    // In no shot: the hut's room, to be lit from day to night.
    name: 'Inside the hut',
    pose: poseAt(inHut(1.85, 1.5, -1.3), inHut(-1.6, 1.15, 1.15)),
    parts: { lens: lens(35), focus: focus(12, 5.6), ...evening(1600) },
    moves: [],
  },
];

/** Camera, first scene frame and length in frames of each shot. */
export const SHOTS: readonly (readonly [string, number, number])[] = [
  ['Gallery crane', 0, 126],
  ['Pier ride', 126, 107],
  ['Boat, long lens', 233, 99],
  ['Over the courier', 400, 94],
  ['Over the keeper', 494, 80],
  ['Round the lens', 600, 160],
  ['The lamp takes', 760, 140],
  ['Night over the flats', 900, 240],
];
