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
  words: 'lens exposure focus framing',
  icon: 'photo_camera',
  mends: ['camera'],
  card: 'lens',
  bench: () => import('./cameras-bench').then((file) => file.CamerasBench),
};

const cards = () => import('./cards');
const CAMERA_CARDS: readonly BenchCard[] = [
  {
    id: 'lens',
    name: 'Lens and film back',
    words: 'focal length angle of view sensor squeeze anamorphic prime zoom kit swap 35mm wide long',
    places: { cameras: 1, moves: 9 },
    load: () => cards().then((all) => all.LensCard),
  },
  {
    id: 'exposure',
    name: 'Light',
    words: 'expose exposure ev iso shutter angle aperture f-stop nd filter meter histogram waveform hold',
    places: { cameras: 2 },
    load: () => cards().then((all) => all.LightCard),
  },
  {
    id: 'focus',
    name: 'Focus',
    words: 'depth of field sharp hyperfocal blur follow automatic',
    places: { cameras: 3, moves: 10 },
    load: () => cards().then((all) => all.FocusCard),
  },
  {
    id: 'framing',
    name: 'Delivery frame',
    words: 'resolution aspect output size pixels fit crop letterbox subject headroom two shot pov',
    places: { cameras: 4 },
    load: () => cards().then((all) => all.FrameCard),
  },
  {
    id: 'guides',
    name: 'Mask and guides',
    words: 'thirds safe area aspect lines overlay read-outs horizon',
    places: { cameras: 5 },
    load: () => cards().then((all) => all.GuidesCard),
  },
  {
    id: 'place',
    name: 'Place and aim',
    words: 'position height pan tilt roll dutch look at target aim clip clipping near far level offset',
    places: { cameras: 6, moves: 8 },
    load: () => cards().then((all) => all.PlaceCard),
  },
  {
    id: 'glass',
    name: 'Shift, edges, iris',
    words:
      'keep verticals keystone convergence distortion barrel vignette parallel orthographic breathing blades bokeh',
    places: { cameras: 7 },
    load: () => cards().then((all) => all.GlassCard),
  },
  {
    id: 'reference',
    name: 'Reference',
    words: 'picture underlay overlay image photograph storyboard',
    places: { cameras: 9 },
    load: () => cards().then((all) => all.ReferenceCard),
  },
  {
    id: 'package',
    name: 'Packages',
    words: 'preset save settings reuse template',
    places: { cameras: 10 },
    load: () => cards().then((all) => all.PackageCard),
  },
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
