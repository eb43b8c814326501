import type { Provider } from '@angular/core';
import type { Step } from '../../session';
import { ACTIONS, STEPS } from '../../session';
import type { BenchCard } from '../../ui';
import { CARDS } from '../../ui';
import { FILE_TAKERS } from '../interchange';
import { setActions } from './actions';
import { Imports } from './imports';

const STEP: Step = {
  id: 'set',
  order: 1,
  name: 'Set',
  words: 'build import geometry bring in files light prop thing piece turn round turntable walk',
  icon: 'landscape',
  mends: ['set'],
  bench: () => import('./set-bench').then((file) => file.SetBench),
};

const cards = () => import('./cards');
const SET_CARDS: readonly BenchCard[] = [
  {
    id: 'daylight',
    name: 'Sun and sky',
    words: 'sunlight key light shadow time of day golden hour dusk dawn azimuth elevation date weather',
    places: { set: 1 },
    load: () => cards().then((all) => all.DaylightCard),
  },
  {
    id: 'light-groups',
    name: 'Light groups',
    words: 'lamps practicals key light fill mix dim',
    places: { set: 2 },
    load: () => cards().then((all) => all.LightGroupsCard),
  },
  {
    id: 'units',
    name: 'Units and snapping',
    words: 'metre feet inch centimetre grid snap scale',
    places: { set: 3 },
    load: () => cards().then((all) => all.UnitsCard),
  },
];

/** What the set brings: its step, its cards and its actions. */
export function provideSet(): Provider[] {
  return [
    { provide: STEPS, multi: true, useValue: STEP },
    ...SET_CARDS.map((card) => ({ provide: CARDS, multi: true, useValue: card })),
    { provide: FILE_TAKERS, multi: true, useExisting: Imports },
    { provide: ACTIONS, multi: true, useFactory: setActions },
  ];
}
