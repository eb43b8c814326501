import type { Edit, LightMix, LookSettings, Project } from '@arvex/core';
import {
  addLook,
  CDL_DEFAULTS,
  keepVariation,
  LOOK_DEFAULTS,
  RESPONSES,
  setCameraMix,
  setLook,
  setVariation,
  wearLook,
  wearVariation,
} from '@arvex/core';
import { exposed } from './staging';

/** What is needed to dress the demo's cameras. */
interface Wardrobe {
  readonly idOf: (words: string) => string;
  readonly cameraId: (name: string) => string;
  readonly groupId: (name: string) => string;
}

type Dressing = (project: Project, wardrobe: Wardrobe) => Edit;

const response = (name: string) => RESPONSES.find((one) => one.name === name) ?? LOOK_DEFAULTS.response;
const tone = (contrast: number, shadows = 0) => ({ ...LOOK_DEFAULTS.tone, contrast, shadows });
const look = (parts: Partial<LookSettings>): LookSettings => ({ ...LOOK_DEFAULTS, ...parts });
const level = (stops: number, tint = '#ffffff') => ({ stops, tint, on: true });

/** Only the lamp room and the lantern glow: the lamps, and the glass through which the one is seen. */
const lampGlow = ({ idOf }: Wardrobe, amount: number): LookSettings['glow'] => ({
  ...LOOK_DEFAULTS.glow,
  amount,
  threshold: 0.4,
  size: 0.035,
  of: { kind: 'things', ids: ['glass lens', 'lamp', 'lantern'].map((name) => idOf(`placement ${name}`)) },
});

/** One look for the four cameras that see the evening begin. */
const SHARED = ['Gallery crane', 'Pier ride', 'Boat, long lens', 'Over the courier'];
const EVENING = look({
  white: { kelvin: 5800, tint: 0 },
  cdl: { ...CDL_DEFAULTS, saturation: 1.08 },
  tone: tone(1.1),
  response: response('Warm evening'),
});

/** A camera's variation: how it differs from what was worn before. */
function variation(
  camera: string,
  name: string,
  settings: (wardrobe: Wardrobe) => Partial<LookSettings>,
  mix: (wardrobe: Wardrobe) => LightMix,
  iso?: number,
): Dressing[] {
  const id = ({ idOf }: Wardrobe) => idOf(`variation ${camera} ${name}`);
  const dressed = (wardrobe: Wardrobe) => ({ cameraId: wardrobe.cameraId(camera), variationId: id(wardrobe) });
  return [
    (project, { cameraId }) => wearVariation(project, cameraId(camera), null),
    (project, wardrobe) =>
      keepVariation(
        project,
        { cameraId: wardrobe.cameraId(camera), variationId: null },
        { variation: id(wardrobe), look: wardrobe.idOf(`look ${camera} ${name}`) },
        name,
      ),
    (project, wardrobe) => setLook(project, dressed(wardrobe), name, settings(wardrobe), wardrobe.idOf('unused')),
    (project, wardrobe) => setCameraMix(project, wardrobe.cameraId(camera), name, mix(wardrobe), id(wardrobe)),
    (project, wardrobe) =>
      setVariation(project, wardrobe.cameraId(camera), id(wardrobe), name, {
        exposure: iso === undefined ? null : { ...exposed, iso },
      }),
  ];
}

const wears =
  (camera: string, name: string): Dressing =>
  (project, { idOf, cameraId }) =>
    wearVariation(project, cameraId(camera), idOf(`variation ${camera} ${name}`));

const NIGHT = {
  white: { kelvin: 5600, tint: 0 },
  cdl: { ...CDL_DEFAULTS, saturation: 0.9 },
  tone: tone(1.08, 0.1),
  response: response('Cold night'),
} as const;
const [LAST, INSIDE] = ['Night over the flats', 'Inside the hut'];

/** How the cameras of the demo are dressed: a shared look, lamps that glow, dusk and night, the hut from day to night. */
export const DRESSING: readonly Dressing[] = [
  (project, { idOf }) => addLook(project, idOf('look evening'), 'Saltmarsh evening', EVENING),
  ...SHARED.map(
    (camera): Dressing =>
      (project, { idOf, cameraId }) =>
        wearLook(project, { cameraId: cameraId(camera), variationId: null }, idOf('look evening')),
  ),
  (project, wardrobe) =>
    addLook(project, wardrobe.idOf('look lamp'), 'Lamp room', look({ tone: tone(1.06), glow: lampGlow(wardrobe, 1) })),
  ...['Round the lens', 'The lamp takes'].map(
    (camera): Dressing =>
      (project, { idOf, cameraId }) =>
        wearLook(project, { cameraId: cameraId(camera), variationId: null }, idOf('look lamp')),
  ),
  ...variation(
    LAST,
    'dusk',
    (wardrobe) => ({ ...EVENING, response: response('Warm evening'), glow: lampGlow(wardrobe, 1.5) }),
    ({ groupId }) => ({ [groupId('outside')]: level(-1.2, '#ffe2c8'), [groupId('lamp room')]: level(-1) }),
    640,
  ),
  ...variation(
    LAST,
    'night',
    (wardrobe) => ({ ...NIGHT, glow: lampGlow(wardrobe, 3) }),
    ({ groupId }) => ({ [groupId('outside')]: level(-4.5, '#9fb4ff'), [groupId('lamp room')]: level(-1) }),
  ),
  ...variation(
    INSIDE,
    'day',
    () => ({ white: { kelvin: 5200, tint: 0 }, tone: tone(1.05, 0.15), response: response('Soft shoulder') }),
    ({ groupId }) => ({ [groupId('outside')]: level(3, '#f4f7ff'), [groupId('hut')]: level(3, '#b9ccff') }),
    800,
  ),
  ...variation(
    INSIDE,
    'sunset',
    () => EVENING,
    ({ groupId }) => ({ [groupId('outside')]: level(1, '#ffcf9e'), [groupId('hut')]: level(1) }),
  ),
  ...variation(
    INSIDE,
    'night',
    () => ({ ...NIGHT, white: { kelvin: 4200, tint: 0 }, response: response('Soft shoulder') }),
    ({ groupId }) => ({ [groupId('outside')]: level(-5, '#9fb4ff'), [groupId('hut')]: level(4) }),
  ),
  wears(LAST, 'night'),
  wears(INSIDE, 'day'),
];
