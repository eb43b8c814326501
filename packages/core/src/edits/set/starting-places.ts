import type { Piece, PieceOf, Placement, Pose, Project } from '../../model';
import { PLACEMENT_DEFAULTS } from '../../model';
import type { Vector } from '../../space';
import type { Edit } from '../edit';
import { creation } from '../edit';
import { freeName } from './placements';

/** Something that stands in a starting place. */
interface Standing {
  readonly name: string;
  readonly piece: Piece;
  readonly at: Vector;
  readonly panDeg?: number;
  readonly colour?: string;
  readonly subject?: boolean;
}

/** A place to begin with: simple pieces about a figure of known height, and a view of them that a camera could have. */
export interface StartingPlace {
  readonly id: 'room' | 'street' | 'open-ground';
  readonly name: string;
  readonly does: string;
  readonly icon: string;
  readonly things: readonly Standing[];
  /** From where the free view looks at it. */
  readonly view: Pose;
}

const FIGURE_M = 1.75;
const PLASTER = '#a39d94';
const FLOOR = '#77716a';
const STONE = '#8b8680';
const CLOTH = '#5d6a7d';

const box = (widthM: number, heightM: number, depthM: number): Piece => ({ kind: 'box', widthM, heightM, depthM });
const ground = (widthM: number, depthM: number): Piece => ({ kind: 'ground', widthM, depthM });
const wall = (widthM: number, openings: PieceOf<'wall'>['openings'] = []): Piece => {
  return { kind: 'wall', widthM, heightM: 2.7, depthM: 0.15, openings };
};
const figure = (at: Vector, panDeg: number): Standing => {
  const piece: Piece = { kind: 'figure', heightM: FIGURE_M, pose: 'standing' };
  return { name: 'figure', piece, at, panDeg, colour: CLOTH, subject: true };
};

/** Places to begin with, in the order in which they are offered. */
export const STARTING_PLACES: readonly StartingPlace[] = [
  {
    id: 'room',
    name: 'A room with a door',
    does: '6 × 5 m, a door, a window, a table, open above',
    icon: 'meeting_room',
    things: [
      { name: 'floor', piece: ground(6, 5), at: [0, 0, 0], colour: FLOOR },
      {
        name: 'wall with the door',
        piece: wall(6, [{ atM: 3.9, widthM: 0.9, sillM: 0, heightM: 2.05 }]),
        at: [0, 0, -2.5],
        colour: PLASTER,
      },
      {
        name: 'wall with the window',
        piece: wall(5, [{ atM: 1.9, widthM: 1.2, sillM: 0.9, heightM: 1.2 }]),
        at: [-3, 0, 0],
        panDeg: 90,
        colour: PLASTER,
      },
      { name: 'wall', piece: wall(5), at: [3, 0, 0], panDeg: 90, colour: PLASTER },
      { name: 'table', piece: box(1.4, 0.75, 0.8), at: [-1.2, 0, -0.6], colour: '#7a6652' },
      figure([0.5, 0, -0.7], 165),
    ],
    view: { positionM: [2.1, 1.6, 4.6], panDeg: -19, tiltDeg: -3, rollDeg: 0 },
  },
  {
    id: 'street',
    name: 'A street',
    does: '60 m, houses at both sides, a car, lamp posts',
    icon: 'location_city',
    things: [
      { name: 'street', piece: ground(60, 9), at: [0, 0, 0], colour: '#5f5d5a' },
      { name: 'pavement, north', piece: box(60, 0.14, 3), at: [0, 0, -6], colour: STONE },
      { name: 'pavement, south', piece: box(60, 0.14, 3), at: [0, 0, 6], colour: STONE },
      ...[-22, -11, 0, 11, 22].flatMap((x, i): Standing[] => [
        { name: 'house, north', piece: box(10, 7 + (i % 3) * 2, 8), at: [x, 0, -11.6], colour: PLASTER },
        { name: 'house, south', piece: box(10, 9 - (i % 3) * 1.5, 8), at: [x, 0, 11.6], colour: '#968b7d' },
      ]),
      ...[-15, 0, 15].map((x): Standing => {
        return { name: 'lamp post', piece: { kind: 'column', radiusM: 0.07, heightM: 4.5 }, at: [x, 0.14, -5] };
      }),
      { name: 'car', piece: { kind: 'vehicle', widthM: 1.8, heightM: 1.5, depthM: 4.4 }, at: [-6, 0, -3], panDeg: 90 },
      figure([1.2, 0, 1.4], 110),
    ],
    view: { positionM: [7.4, 1.6, 3.6], panDeg: -70, tiltDeg: -1, rollDeg: 0 },
  },
  {
    id: 'open-ground',
    name: 'Open ground',
    does: 'a plain of 100 m, some rocks, a post',
    icon: 'landscape',
    things: [
      { name: 'ground', piece: ground(100, 100), at: [0, 0, 0], colour: '#6f6a58' },
      { name: 'rock', piece: box(2.2, 1.1, 1.6), at: [-5, 0, -7], panDeg: 24, colour: STONE },
      { name: 'rock', piece: box(1.2, 0.7, 1.4), at: [4.5, 0, -5], panDeg: 60, colour: STONE },
      { name: 'post', piece: { kind: 'column', radiusM: 0.12, heightM: 2.4 }, at: [3, 0, -12] },
      figure([0, 0, 0], 180),
    ],
    view: { positionM: [1.6, 1.6, 6], panDeg: -12, tiltDeg: -3, rollDeg: 0 },
  },
];

/** Puts a starting place into a set, as one act. @param newId gives a fresh id for each thing. */
export function startingPlace(
  project: Project,
  setId: string,
  { name, things }: StartingPlace,
  newId: () => string,
): Edit {
  const taken: Record<string, Placement> = { ...project.placements };
  const operations = things.map(({ name: wanted, piece, at, panDeg = 0, colour, subject = false }) => {
    const placement = {
      ...PLACEMENT_DEFAULTS,
      id: newId(),
      setId,
      piece,
      subject,
      panDeg,
      name: freeName({ ...project, placements: taken }, wanted),
      positionM: [...at] as Vector,
      surface: { ...PLACEMENT_DEFAULTS.surface, colour: colour ?? STONE },
    };
    taken[placement.id] = { ...placement, revision: '' };
    return creation('placement', placement);
  });
  return { name: `Begin with ${name.toLowerCase()}`, operations };
}
