import type { Provider } from '@angular/core';
import type { View } from '../session';
import { VIEWS } from '../session';
import { FreeView, Viewfinder } from './picture';
import { Plan } from './plan';

const curves = () => import('./curves').then((file) => file.CurvesView);

const ALL: readonly View[] = [
  { id: 'plan', order: 1, name: 'Plan', action: 'Plan', keys: 'P', load: () => Plan },
  { id: 'free', order: 2, name: 'Free view', action: 'Free view', keys: 'F', load: () => FreeView },
  { id: 'picture', order: 3, name: 'Picture', action: 'What the camera sees', load: () => Viewfinder },
  {
    id: 'graph',
    order: 4,
    name: 'Graph',
    action: 'Graph of the curves',
    keys: 'Shift+G',
    step: 'moves',
    load: curves,
    inputs: { kind: 'graph' },
  },
  {
    id: 'table',
    order: 5,
    name: 'Time table',
    action: 'Time table of the keys',
    keys: 'Shift+T',
    step: 'moves',
    load: curves,
    inputs: { kind: 'table' },
  },
  {
    id: 'cameras',
    order: 6,
    name: 'Cameras',
    action: 'All cameras side by side',
    keys: 'Alt+C',
    load: () => import('./camera-list').then((file) => file.CameraList),
  },
  {
    id: 'variations',
    order: 7,
    name: 'Variations',
    action: 'Variations of all cameras',
    keys: 'Alt+V',
    step: 'cameras',
    load: () => import('./variations').then((file) => file.VariationsView),
  },
  {
    id: 'lanes',
    order: 8,
    name: 'Lanes',
    action: 'Lanes of the cut',
    keys: 'Shift+L',
    step: 'sequence',
    load: () => import('./lanes').then((file) => file.Lanes),
  },
  {
    id: 'board',
    order: 9,
    name: 'Board',
    action: 'Board and list of the shots',
    keys: 'Shift+B',
    step: 'sequence',
    load: () => import('./board').then((file) => file.Board),
  },
];

/** What the two views can show. */
export function provideViews(): Provider[] {
  return ALL.map((view) => ({ provide: VIEWS, multi: true, useValue: view }));
}
