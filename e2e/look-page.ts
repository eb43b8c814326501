/** Runs in a bare page: shows colours through looks in the graphics, and sets of lamps that glow. */
import type { LookSettings, Lut, Placement, Project } from '@arvex/core';
import {
  CAMERA_DEFAULTS,
  cameraAt,
  LOOK_DEFAULTS,
  lookNumbers,
  newProject,
  PLACEMENT_DEFAULTS,
  RESPONSES,
  shownColour,
} from '@arvex/core';
import {
  LOOK_STEPS,
  lookDefines,
  LookTables,
  lookUniforms,
  NOTHING_STAGED,
  setLookUniforms,
  setPatch,
  Stage,
  viewOf,
} from '@arvex/stage';
import {
  DataTexture,
  FloatType,
  Mesh,
  OrthographicCamera,
  PlaneGeometry,
  RGBAFormat,
  Scene,
  ShaderMaterial,
  WebGLRenderer,
} from 'three';

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
const LUT_ID = id(90);
/** Colours along each side of the cube that is shown. */
const SIDE = 33;

/** Looks that between them take every step of the way of light. */
const LOOKS: Readonly<Record<string, Partial<LookSettings>>> = {
  none: {},
  graded: {
    compensationStops: -0.7,
    white: { kelvin: 4100, tint: -12 },
    cdl: { slope: [1.1, 0.95, 1.2], offset: [0.02, -0.03, 0.01], power: [0.9, 1.1, 1.3], saturation: 1.25 },
    tone: { contrast: 1.4, pivot: 0.104, shadows: 0.6 },
    response: RESPONSES.find(({ name }) => name === 'Faded') ?? LOOK_DEFAULTS.response,
    edgeStops: 1.5,
  },
  silver: {
    response: RESPONSES.find(({ grey }) => grey) ?? LOOK_DEFAULTS.response,
    tone: { contrast: 0.8, pivot: 0.2, shadows: -0.5 },
  },
  table: { lut: { assetId: LUT_ID, share: 0.8 } },
};

/** A table that turns colours and bends them, of another domain than 0 to 1. */
function turningLut(): Lut {
  const size = 9;
  const values = new Float32Array(size ** 3 * 3);
  for (let b = 0, at = 0; b < size; b++)
    for (let g = 0; g < size; g++)
      for (let r = 0; r < size; r++, at += 3) values.set([(g / 8) ** 1.5, (b / 8) ** 0.7, (r / 8) * 0.9], at);
  return { size, values, from: [-0.1, 0, 0], to: [1, 1, 1.2] };
}

/** Light of the cube's colours, as shares of what clips: dark ones in small steps, some beyond clipping. */
function cube(): Float32Array {
  const light = new Float32Array(SIDE ** 3 * 4);
  const value = (step: number) => (step / (SIDE - 1)) ** 2.4 * 6;
  for (let i = 0; i < SIDE ** 3; i++) {
    light.set([value(i % SIDE), value(Math.floor(i / SIDE) % SIDE), value(Math.floor(i / SIDE ** 2)), 1], i * 4);
  }
  return light;
}

/** The greatest difference of graphics and core over all colours of a cube, code values of 255. */
function apart(name: string, edge: number): number {
  const look: LookSettings = { ...LOOK_DEFAULTS, ...LOOKS[name] };
  const lut = turningLut();
  const tables = new LookTables();
  tables.keep(new Map([[LUT_ID, lut]]));
  const light = cube();
  const [width, height] = [SIDE * SIDE, SIDE];
  const texture = new DataTexture(light, width, height, RGBAFormat, FloatType);
  texture.needsUpdate = true;
  const uniforms = { ...lookUniforms(), light: { value: texture }, edge: { value: edge } };
  setLookUniforms(uniforms, look, tables);
  const material = new ShaderMaterial({
    uniforms,
    defines: lookDefines(look, edge < 1 ? 1 : 0, tables),
    vertexShader: 'void main() { gl_Position = vec4(position.xy, 0.0, 1.0); }',
    fragmentShader: `
      uniform sampler2D light;
      uniform float edge;
      ${LOOK_STEPS}
      void main() { gl_FragColor = vec4(lookColour(texelFetch(light, ivec2(gl_FragCoord.xy), 0).rgb, edge), 1.0); }`,
    depthTest: false,
    toneMapped: false,
  });
  const renderer = new WebGLRenderer({ canvas: new OffscreenCanvas(width, height), preserveDrawingBuffer: true });
  renderer.setSize(width, height, false);
  const scene = new Scene();
  const plane = new Mesh(new PlaneGeometry(2, 2), material);
  plane.frustumCulled = false;
  scene.add(plane);
  renderer.render(scene, new OrthographicCamera());
  const bytes = new Uint8Array(width * height * 4);
  const gl = renderer.getContext();
  gl.readPixels(0, 0, width, height, gl.RGBA, gl.UNSIGNED_BYTE, bytes);
  const numbers = lookNumbers(look);
  let worst = 0;
  for (let i = 0; i < SIDE ** 3; i++) {
    const rgb = [0, 1, 2].map((part) => light[i * 4 + part] ?? 0) as [number, number, number];
    shownColour(rgb, numbers, edge, lut).forEach((value, part) => {
      worst = Math.max(worst, Math.abs(value * 255 - (bytes[i * 4 + part] ?? 0)));
    });
  }
  renderer.dispose();
  return worst;
}

/** Two lamps of light groups in the dark, seen from 4 m: to the left one of group 1, to the right one of group 2. */
function lampsProject(look: Partial<LookSettings>): Project {
  const made = newProject({ project: id(1), set: id(2), sequence: id(3) }, 'Glow');
  const [set] = Object.values(made.sets);
  if (!set) throw new Error('A project has a set.');
  const lamp = (n: number, x: number): Placement => ({
    ...PLACEMENT_DEFAULTS,
    id: id(n),
    revision: 'first',
    setId: id(2),
    name: `lamp ${n}`,
    piece: { kind: 'box', widthM: 0.2, heightM: 0.2, depthM: 0.2 },
    surface: { kind: 'colour', colour: '#ffffff', luminanceCdM2: 60_000, roughness: null },
    lightGroupId: id(n + 20),
    positionM: [x, 1.5, -4],
  });
  const camera = {
    ...CAMERA_DEFAULTS,
    id: id(5),
    revision: 'first',
    number: 1,
    name: 'Camera',
    pose: { positionM: [0, 1.6, 0] as const, panDeg: 0, tiltDeg: 0, rollDeg: 0 },
    own: ['look' as const],
    lookId: id(7),
  };
  const level = { stops: 0, tint: '#ffffff', on: true };
  const group = (n: number) => ({ id: id(n), revision: 'first', name: `group ${n}`, level });
  return {
    ...made,
    sets: {
      [set.id]: {
        ...set,
        amounts: 'typed',
        sun: { ...set.sun, illuminanceLx: 0 },
        sky: { ...set.sky, illuminanceLx: 0 },
      },
    },
    placements: { [id(10)]: lamp(10, -0.8), [id(11)]: lamp(11, 0.8) },
    lightGroups: { [id(30)]: group(30), [id(31)]: group(31) },
    cameras: { [camera.id]: camera },
    looks: { [id(7)]: { id: id(7), revision: 'first', name: 'Glowing', ...LOOK_DEFAULTS, ...look } },
  };
}

/** Mean picture values (0 to 1) in a ring round each lamp, and at the picture's far left and right, at a size. */
async function glowing(
  look: Partial<LookSettings>,
  width: number,
): Promise<{ left: number; right: number; far: number }> {
  const height = Math.round((width * 9) / 16);
  const project = lampsProject(look);
  const stage = new Stage(new OffscreenCanvas(16, 16), {
    geometry: () => Promise.reject(new Error('none')),
    picture: () => Promise.reject(new Error('none')),
    lut: () => Promise.reject(new Error('none')),
  });
  await stage.follow(setPatch(NOTHING_STAGED, project));
  const state = cameraAt(project, id(5), 0);
  const view = { ...viewOf(state, 0), aperture: undefined };
  stage.drawFine(view, width, height, 4);
  const sheet = new OffscreenCanvas(width, height).getContext('2d');
  sheet?.drawImage(stage.canvas.transferToImageBitmap(), 0, 0);
  const bytes = sheet?.getImageData(0, 0, width, height).data ?? new Uint8ClampedArray();
  stage.dispose();
  const perMetre = state.lens.focalLengthMm / 4 / state.framing.used.widthMm;
  const mean = (x: number, from: number, to: number) => {
    let [sum, count] = [0, 0];
    for (let py = 0; py < height; py++) {
      for (let px = 0; px < width; px++) {
        const away = Math.hypot((px + 0.5) / width - 0.5 - x, ((py + 0.5) / height - 0.5) * (height / width));
        if (away < from || away > to) continue;
        sum += bytes[(py * width + px) * 4] ?? 0;
        count += 1;
      }
    }
    return sum / Math.max(1, count) / 255;
  };
  const x = 0.8 * perMetre;
  return { left: mean(-x, 0.09, 0.12), right: mean(x, 0.09, 0.12), far: mean(0, 0, 0.03) };
}

Object.assign(globalThis, { apart, glowing, looks: Object.keys(LOOKS) });
