import type { Project, RenderJob } from '@arvex/core';
import {
  cameraAt,
  clippingLuminance,
  makeCamera,
  newProject,
  ORDER_DEFAULTS,
  partsOf,
  PLACEMENT_DEFAULTS,
  srgbFromLinear,
  withOperations,
} from '@arvex/core';

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;

/** Luminance that clips at the camera's setting, times this, is what the box of the control picture shines with. */
const SHINES = 0.25;
/** Size of the control picture, pixels. */
const [WIDTH_PX, HEIGHT_PX] = [96, 54] as const;
/** So far a code value may be from what it has to be. */
const TOLERANCE = 2;

/** A picture of which every pixel is known: a box that shines by itself before a black sky, in the middle of the frame. */
export function controlPicture(): { readonly project: Project; readonly job: RenderJob } {
  const empty = newProject({ project: id(1), set: id(2), sequence: id(3) }, 'Control');
  const exposure = { ...empty.head.exposure, ndStops: 0 };
  const dark: Project = {
    ...empty,
    head: { ...empty.head, exposure, delivery: { ...empty.head.delivery, widthPx: 1920, heightPx: 1080 } },
    sets: Object.fromEntries(
      Object.entries(empty.sets).map(([key, set]) => [
        key,
        {
          ...set,
          amounts: 'typed' as const,
          sun: { ...set.sun, illuminanceLx: 0 },
          sky: { ...set.sky, illuminanceLx: 0 },
        },
      ]),
    ),
  };
  const pose = { positionM: [0, 1, 10] as [number, number, number], panDeg: 0, tiltDeg: 0, rollDeg: 0 };
  const withCamera = withOperations(dark, makeCamera(dark, id(4), pose, { name: 'Control' }).operations);
  const state = cameraAt(withCamera, id(4), 0);
  const luminanceCdM2 = SHINES * clippingLuminance(state.exposure.ev100, state.exposure.ndStops);
  const box = {
    ...PLACEMENT_DEFAULTS,
    id: id(5),
    revision: 'first',
    setId: id(2),
    name: 'box',
    positionM: [0, 0, 0] as [number, number, number],
    piece: { kind: 'box' as const, widthM: 2, heightM: 2, depthM: 0.2 },
    surface: { ...PLACEMENT_DEFAULTS.surface, colour: '#ffffff', luminanceCdM2 },
  };
  const project: Project = { ...withCamera, placements: { [box.id]: box } };
  const order = {
    ...ORDER_DEFAULTS,
    what: { kind: 'camera-still' as const, cameraId: id(4), frame: 0 },
    size: { kind: 'typed' as const, widthPx: WIDTH_PX, heightPx: HEIGHT_PX },
    samples: 4,
    depthOfField: false,
    formats: { ...ORDER_DEFAULTS.formats, movies: [] },
  };
  const [part] = partsOf(project, order);
  if (!part) throw new Error('The control picture has no frame.');
  const job = {
    renderId: id(6),
    orderId: id(7),
    projectId: id(1),
    state: 'rendering',
    version: 'v000',
    date: '',
  } as const;
  return { project, job: { ...job, order, part } };
}

/** What is wrong with a control picture as it was drawn; nothing where it is right. @param pixels RGBA in 8 bits, rows from the top. */
export function wrongInControl({
  width,
  height,
  data,
}: Pick<ImageData, 'width' | 'height' | 'data'>): string | undefined {
  if (width !== WIDTH_PX || height !== HEIGHT_PX) return `it is ${width} × ${height}`;
  const at = (x: number, y: number) => data[(Math.floor(y * height) * width + Math.floor(x * width)) * 4] ?? 0;
  const shines = Math.round(255 * srgbFromLinear(SHINES));
  const middle = at(0.5, 0.5);
  if (Math.abs(middle - shines) > TOLERANCE) return `its middle is ${middle} instead of ${shines}`;
  const corners = [at(0.02, 0.05), at(0.98, 0.05), at(0.02, 0.95), at(0.98, 0.95)];
  return corners.some((value) => value > TOLERANCE) ? `its corners are ${corners.join(', ')} instead of 0` : undefined;
}
