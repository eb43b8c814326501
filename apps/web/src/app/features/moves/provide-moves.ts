import type { Provider } from '@angular/core';
import type { Step } from '../../session';
import { ACTIONS, STEPS } from '../../session';
import type { BenchCard } from '../../ui';
import { CARDS } from '../../ui';
import { moveActions } from './actions';

const STEP: Step = {
  id: 'moves',
  order: 3,
  name: 'Moves',
  words: 'animate keys marks',
  icon: 'conversion_path',
  mends: ['move'],
  bench: () => import('./moves-bench').then((file) => file.MovesBench),
};

const cards = () => import('./cards');
const MOVE_CARDS: readonly BenchCard[] = [
  {
    id: 'rig',
    name: 'Rig',
    words: 'sticks tripod rail track tracking shot dolly crane jib orbit follow bake nodal head offset',
    places: { moves: 1 },
    load: () => cards().then((all) => all.RigCard),
  },
  {
    id: 'hand',
    name: 'Handheld',
    words: 'shake noise breathing running steady stabilised steps',
    places: { moves: 2 },
    load: () => cards().then((all) => all.HandCard),
  },
  {
    id: 'add-move',
    name: 'Add a move',
    words: 'push in truck tracking shot whip pan pedestal orbit turntable arc dolly zoom',
    places: { moves: 3 },
    load: () => cards().then((all) => all.AddMoveCard),
  },
  {
    id: 'comfort',
    name: 'Comfort',
    words: 'judder strobe speed settle smooth jolt restless ease',
    places: { moves: 4 },
    load: () => cards().then((all) => all.ComfortCard),
  },
  {
    id: 'timing',
    name: 'Timing',
    words:
      'retime slow motion stretch faster reverse ramp speed frame rate fps length copy move mirror offset overcranked',
    places: { moves: 5 },
    load: () => cards().then((all) => all.TimingCard),
  },
  {
    id: 'rack',
    name: 'Rack focus',
    words: 'pull focus change focus',
    places: { moves: 6 },
    load: () => cards().then((all) => all.RackCard),
  },
];

/** What moves bring: their step, their cards and their actions. */
export function provideMoves(): Provider[] {
  return [
    { provide: STEPS, multi: true, useValue: STEP },
    ...MOVE_CARDS.map((card) => ({ provide: CARDS, multi: true, useValue: card })),
    { provide: ACTIONS, multi: true, useFactory: moveActions },
  ];
}
