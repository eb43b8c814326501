import type { Provider } from '@angular/core';
import type { Step } from '../../session';
import { ACTIONS, STEPS } from '../../session';
import type { BenchCard } from '../../ui';
import { CARDS } from '../../ui';
import { FILE_TAKERS } from '../interchange';
import { sequenceActions } from './actions';
import { playingActions } from './playing-actions';
import { SoundTracks } from './sound/sound-tracks';

const STEP: Step = {
  id: 'sequence',
  order: 4,
  name: 'Sequence',
  words: 'cut add shot trim order edit',
  icon: 'view_column',
  mends: ['sequence'],
  opens: 'lanes',
  card: 'shot',
  pictureShare: 0.56,
  bench: () => import('./sequence-bench').then((file) => file.SequenceBench),
};

const cards = () => import('./cards');
const SEQUENCE_CARDS: readonly BenchCard[] = [
  {
    id: 'shot',
    name: 'Shot',
    words: 'camera scene time length trim handles order continues action ripple',
    places: { sequence: 1 },
    load: () => cards().then((all) => all.ShotCard),
  },
  {
    id: 'speed',
    name: 'Speed',
    words: 'retime slow fast motion reverse hold freeze ramp overcranked undercranked',
    places: { sequence: 2 },
    load: () => cards().then((all) => all.SpeedCard),
  },
  {
    id: 'joins',
    name: 'Into it, out of it',
    words: 'transition dissolve fade cut black',
    places: { sequence: 3 },
    load: () => cards().then((all) => all.JoinsCard),
  },
  {
    id: 'takes',
    name: 'Takes',
    words: 'alternate swap pick compare promote',
    places: { sequence: 4 },
    load: () => cards().then((all) => all.TakesCard),
  },
  {
    id: 'coverage',
    name: 'Coverage',
    words: 'gaps missing handles overlap mend check',
    places: { sequence: 6 },
    load: () => cards().then((all) => all.CoverageCard),
  },
  {
    id: 'continuity',
    name: 'Continuity',
    words: 'line of action 180 jump cut eyeline screen direction pair over the shoulder reverse',
    places: { sequence: 7 },
    load: () => cards().then((all) => all.ContinuityCard),
  },
  {
    id: 'rigging',
    name: 'Could it be rigged',
    words: 'clear of the set reach crew possible',
    places: { sequence: 8 },
    load: () => cards().then((all) => all.RiggingCard),
  },
  {
    id: 'sound',
    name: 'Sound',
    words: 'audio scratch music waveform gain mute fade',
    places: { sequence: 9 },
    load: () => cards().then((all) => all.SoundCard),
  },
  {
    id: 'markers',
    name: 'Markers',
    words: 'tap beat flag snap joints',
    places: { sequence: 10 },
    load: () => cards().then((all) => all.MarkersCard),
  },
];

/** What the sequence brings: its step, its cards and its actions. */
export function provideSequence(): Provider[] {
  return [
    { provide: STEPS, multi: true, useValue: STEP },
    ...SEQUENCE_CARDS.map((card) => ({ provide: CARDS, multi: true, useValue: card })),
    { provide: ACTIONS, multi: true, useFactory: sequenceActions },
    { provide: FILE_TAKERS, multi: true, useExisting: SoundTracks },
    { provide: ACTIONS, multi: true, useFactory: playingActions },
  ];
}
