import * as z from 'zod';
import { sceneFlicks } from './fields';

const three = (max: number) =>
  z.tuple([z.number().min(0).max(max), z.number().min(0).max(max), z.number().min(0).max(max)]).readonly();

/** A hand that holds the camera, laid over any rig: how far it strays on each axis, and how often. */
export const handheldSchema = z.object({
  on: z.boolean(),
  /** Times the amounts below; a key on `handheld` wins. */
  amount: z.number().min(0).max(10),
  seed: z.number().int().min(0).max(0xffffffff),
  /** Right, up, back: about so far from its place, millimetres. */
  moveMm: three(1000),
  moveHz: three(20),
  /** Pan, tilt, roll: about so far from its turn, degrees. */
  turnDeg: three(45),
  turnHz: three(20),
  /** From when to when; null has no end. */
  fromFlicks: sceneFlicks.nullable(),
  toFlicks: sceneFlicks.nullable(),
  /** Grows in and dies away within so many seconds of its ends. */
  fadeInS: z.number().min(0).max(60),
  fadeOutS: z.number().min(0).max(60),
});

export type Handheld = z.infer<typeof handheldSchema>;

export const HANDHELD_DEFAULTS: Handheld = {
  on: false,
  amount: 1,
  seed: 1,
  fromFlicks: null,
  toFlicks: null,
  fadeInS: 0,
  fadeOutS: 0,
  moveMm: [6, 8, 5],
  moveHz: [0.5, 0.6, 0.4],
  turnDeg: [0.35, 0.3, 0.15],
  turnHz: [0.7, 0.8, 0.5],
};

type Hand = Pick<Handheld, 'moveMm' | 'moveHz' | 'turnDeg' | 'turnHz'>;

/** Usual hands, stillest first. Amounts are what a shoulder-held camera of some 8 kg does, rounded. */
export const HANDHELD_PRESETS: readonly { readonly name: string; readonly hand: Hand }[] = [
  {
    name: 'breathing',
    hand: { moveMm: [2, 3, 2], moveHz: [0.25, 0.3, 0.2], turnDeg: [0.1, 0.12, 0.05], turnHz: [0.3, 0.3, 0.2] },
  },
  {
    name: 'standing',
    hand: { moveMm: [6, 8, 5], moveHz: [0.5, 0.6, 0.4], turnDeg: [0.35, 0.3, 0.15], turnHz: [0.7, 0.8, 0.5] },
  },
  {
    name: 'walking',
    hand: { moveMm: [18, 26, 12], moveHz: [0.9, 1.8, 0.9], turnDeg: [0.8, 0.7, 0.5], turnHz: [1, 1.8, 0.9] },
  },
  {
    name: 'hurrying',
    hand: { moveMm: [30, 42, 20], moveHz: [1.2, 2.4, 1.2], turnDeg: [1.5, 1.4, 0.9], turnHz: [1.6, 2.4, 1.2] },
  },
  {
    name: 'running',
    hand: { moveMm: [50, 75, 35], moveHz: [1.5, 3, 1.5], turnDeg: [2.6, 2.8, 1.8], turnHz: [2.2, 3, 1.5] },
  },
];

/** Name of the hand with these amounts, if it is a usual one. */
export function handName({ moveMm, moveHz, turnDeg, turnHz }: Hand): string {
  const text = (hand: Hand) => JSON.stringify([hand.moveMm, hand.moveHz, hand.turnDeg, hand.turnHz]);
  const own = text({ moveMm, moveHz, turnDeg, turnHz });
  return HANDHELD_PRESETS.find(({ hand }) => text(hand) === own)?.name ?? 'its own hand';
}
