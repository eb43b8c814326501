import type { Provider } from '@angular/core';
import { FINDINGS } from '../../readiness';
import type { Step } from '../../session';
import { ACTIONS, STEPS } from '../../session';
import type { BenchCard } from '../../ui';
import { CARDS } from '../../ui';
import { cameraActions } from './actions';
import { clipFindings, exposureFindings } from './findings';

const STEP: Step = {
  id: 'cameras',
  order: 2,
  name: 'Cameras',
  icon: 'photo_camera',
  mends: ['camera'],
  bench: () => import('./cameras-bench').then((file) => file.CamerasBench),
};

const cards = () => import('./cards');
const CAMERA_CARDS: readonly BenchCard[] = [
  { id: 'lens', places: { cameras: 1, moves: 9 }, load: () => cards().then((all) => all.LensCard) },
  { id: 'exposure', places: { cameras: 2 }, load: () => cards().then((all) => all.LightCard) },
  { id: 'focus', places: { cameras: 3, moves: 10 }, load: () => cards().then((all) => all.FocusCard) },
  { id: 'framing', places: { cameras: 4 }, load: () => cards().then((all) => all.FrameCard) },
  { id: 'guides', places: { cameras: 5 }, load: () => cards().then((all) => all.GuidesCard) },
  { id: 'place', places: { cameras: 6, moves: 8 }, load: () => cards().then((all) => all.PlaceCard) },
  { id: 'glass', places: { cameras: 7 }, load: () => cards().then((all) => all.GlassCard) },
  { id: 'light', places: { cameras: 8 }, load: () => cards().then((all) => all.LightMixCard) },
  { id: 'reference', places: { cameras: 9 }, load: () => cards().then((all) => all.ReferenceCard) },
  { id: 'package', places: { cameras: 10 }, load: () => cards().then((all) => all.PackageCard) },
];

/** What cameras bring: their step, their cards, what the picture finds, and their actions. */
export function provideCameras(): Provider[] {
  return [
    { provide: STEPS, multi: true, useValue: STEP },
    ...CAMERA_CARDS.map((card) => ({ provide: CARDS, multi: true, useValue: card })),
    { provide: FINDINGS, multi: true, useFactory: exposureFindings },
    { provide: FINDINGS, multi: true, useFactory: clipFindings },
    { provide: ACTIONS, multi: true, useFactory: cameraActions },
  ];
}
