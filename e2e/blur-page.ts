/** Runs in a bare page: takes pictures of a point light through a lens and measures its disc. */
import type { Camera, Placement, Project } from '@arvex/core';
import { CAMERA_DEFAULTS, cameraAt, deliveredWindow, newProject, PLACEMENT_DEFAULTS } from '@arvex/core';
import { NOTHING_STAGED, setPatch, Stage, viewOf } from '@arvex/stage';

export interface Disc {
  readonly focalLengthMm: number;
  readonly fStop: number;
  readonly focusM: number;
  readonly objectM: number;
}

const WIDTH_PX = 1920;
const SAMPLES = 256;
/** Side of the square light in the picture, pixels; its own share of the spread is taken off. */
const LIGHT_PX = 4;
const BACK_MM = 24.89;
const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;

function projectWith({ focalLengthMm, fStop, focusM, objectM }: Disc): Project {
  const side = (LIGHT_PX * BACK_MM * objectM) / (WIDTH_PX * focalLengthMm);
  const empty = newProject({ project: id(1), set: id(2), sequence: id(3) }, 'Point light');
  const light: Placement = {
    ...PLACEMENT_DEFAULTS,
    id: id(4),
    revision: 'first',
    setId: id(2),
    name: 'Point light',
    piece: { kind: 'box', widthM: side, heightM: side, depthM: side / 100 },
    surface: { kind: 'colour', colour: '#ffffff', luminanceCdM2: 1e8, roughness: null },
    positionM: [0, -side / 2, -objectM],
  };
  const camera: Camera = {
    ...CAMERA_DEFAULTS,
    id: id(5),
    revision: 'first',
    number: 1,
    name: 'Camera 1',
    pose: { positionM: [0, 0, 0], panDeg: 0, tiltDeg: 0, rollDeg: 0 },
    lens: { ...CAMERA_DEFAULTS.lens, focalLengthMm, roundness: 1 },
    focus: { ...CAMERA_DEFAULTS.focus, distanceM: focusM, fStop },
  };
  return { ...empty, placements: { [light.id]: light }, cameras: { [camera.id]: camera } };
}

/** Diameter of the light's disc in a picture 1920 px wide: four times the standard deviation along x. */
async function discPx(disc: Disc, expectedPx: number): Promise<number> {
  const project = projectWith(disc);
  const stage = new Stage(new OffscreenCanvas(16, 16), {
    geometry: () => Promise.reject(new Error('none')),
    picture: () => Promise.reject(new Error('none')),
    lut: () => Promise.reject(new Error('none')),
  });
  await stage.follow(setPatch(NOTHING_STAGED, project));
  const state = cameraAt(project, id(5), 0);
  // Only the middle of the picture is taken, at the scale of the whole.
  const side = Math.ceil(expectedPx) + 24;
  const whole = deliveredWindow(state);
  const half = ((whole.rightMm - whole.leftMm) / WIDTH_PX) * (side / 2);
  const window = { leftMm: -half, rightMm: half, bottomMm: -half, topMm: half };
  const light = stage.light(viewOf(state, 0, window, { sky: false }), side, side, SAMPLES);
  stage.dispose();
  let [sum, first, second] = [0, 0, 0];
  for (let i = 0; i < side * side; i++) {
    const value = light[i * 4] ?? 0;
    const x = (i % side) + 0.5;
    [sum, first, second] = [sum + value, first + value * x, second + value * x * x];
  }
  return 4 * Math.sqrt(second / sum - (first / sum) ** 2 - LIGHT_PX ** 2 / 12);
}

Object.assign(globalThis, { discPx });
