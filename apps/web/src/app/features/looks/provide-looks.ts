import type { Provider } from '@angular/core';
import { ACTIONS } from '../../session';
import type { BenchCard } from '../../ui';
import { CARDS } from '../../ui';
import { FILE_TAKERS } from '../interchange';
import { lookActions } from './actions';
import { LookFiles } from './look-files';

const cards = () => import('./cards');
const LOOK_CARDS: readonly BenchCard[] = [
  {
    id: 'look',
    name: 'Look',
    words: 'grade colour compensation white balance kelvin tint contrast pivot shadows saturation edges lut cube cdl',
    places: { cameras: 2.1 },
    load: () => cards().then((all) => all.LookCard),
  },
  {
    id: 'decision',
    name: 'Slope, offset, power',
    words: 'cdl colour decision grade red green blue',
    places: { cameras: 2.2 },
    load: () => cards().then((all) => all.DecisionCard),
  },
  {
    id: 'response',
    name: 'Response',
    words: 'curve black and white print faded silver points tone',
    places: { cameras: 2.3 },
    load: () => cards().then((all) => all.ResponseCard),
  },
  {
    id: 'glow',
    name: 'Glow and streaks',
    words: 'bloom flare bright halo arms',
    places: { cameras: 2.4 },
    load: () => cards().then((all) => all.GlowCard),
  },
  {
    id: 'light',
    name: 'Light mix',
    words: 'groups lamps key light fill day night day-for-night tint solo meter',
    places: { cameras: 2.5 },
    load: () => cards().then((all) => all.LightMixCard),
  },
  {
    id: 'variations',
    name: 'Variations',
    words: 'day sunset night dusk compare wipe wear alternatives',
    places: { cameras: 2.6 },
    load: () => cards().then((all) => all.VariationsCard),
  },
];

/** What looks bring: their cards, and their actions. */
export function provideLooks(): Provider[] {
  return [
    ...LOOK_CARDS.map((card) => ({ provide: CARDS, multi: true, useValue: card })),
    { provide: FILE_TAKERS, multi: true, useExisting: LookFiles },
    { provide: ACTIONS, multi: true, useFactory: lookActions },
  ];
}
