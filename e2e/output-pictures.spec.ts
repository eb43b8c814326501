import { execFileSync } from 'node:child_process';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import type { Panorama, PanoramaLayout, RenderOrder, Stereo } from '@arvex/core';
import {
  layoutOf,
  LOOK_DEFAULTS,
  mixedPicture,
  NO_PICTURES,
  ORDER_DEFAULTS,
  panoramaDirection,
  PANORAMA_DEFAULTS,
  STEREO_DEFAULTS,
} from '@arvex/core';
import type { LinearPicture } from '@arvex/interchange/pictures';
import { pictureOfExr } from '@arvex/interchange/pictures';
import { decode } from 'fast-png';
import fc from 'fast-check';
import { bundle } from './bundle';
import type { Scene, Thing } from './output-page';

const script = bundle(join(import.meta.dirname, 'output-page.ts'));

let page: Page;
test.beforeAll(async ({ browser }) => {
  page = await browser.newPage();
  await page.addScriptTag({ content: await script });
});
test.afterAll(() => page.close());

/** The files of a frame of an order, by their role. */
async function filesOf(scene: Scene, change: Partial<RenderOrder>): Promise<ReadonlyMap<string, Buffer>> {
  type Made = (scene: Scene, change: Partial<RenderOrder>) => Promise<Record<string, string>>;
  const made = await page.evaluate(([on, asked]) => (globalThis as unknown as { filesOf: Made }).filesOf(on, asked), [
    scene,
    change,
  ] as const);
  return new Map(Object.entries(made).map(([role, text]) => [role, Buffer.from(text, 'base64')]));
}

async function pngOf(scene: Scene, change: Partial<RenderOrder>, role = 'png') {
  return decode((await filesOf(scene, change)).get(role) ?? Buffer.alloc(0));
}

/** A picture as another reader has it, as PNG whose colours are not multiplied with their alpha. */
function readAnew(bytes: Buffer | undefined, ending: string): Buffer {
  const directory = test.info().outputDir;
  mkdirSync(directory, { recursive: true });
  const [from, to] = [join(directory, `read.${ending}`), join(directory, 'read.png')];
  writeFileSync(from, bytes ?? Buffer.alloc(0));
  execFileSync('oiiotool', ['--iconfig', 'oiio:UnassociatedAlpha', '1', from, '-o', to]);
  return readFileSync(to);
}

const NOTHING_ELSE: RenderOrder['formats'] = { ...ORDER_DEFAULTS.formats, movies: [] };
const SMALL = { kind: 'typed', widthPx: 480, heightPx: 270 } as const;
const FLOOR: Thing = { piece: { kind: 'ground', widthM: 200, depthM: 200 }, at: [0, 0, 0] };
const box = (at: Thing['at'], colour: string): Thing => ({
  piece: { kind: 'box', widthM: 1, heightM: 1.5, depthM: 1 },
  at,
  colour,
});
/** A small cube that shines by itself, about a point. */
const mark = (at: Thing['at'], sizeM = 0.06): Thing => ({
  piece: { kind: 'box', widthM: sizeM, heightM: sizeM, depthM: sizeM },
  at: [at[0], at[1] - sizeM / 2, at[2]],
  colour: '#ffffff',
  shines: 500,
});
const YARD: Scene = {
  things: [FLOOR, box([0, 0, -6], '#c04030'), box([1.5, 0, -8], '#3050c0')],
  eye: [0, 1.6, 0],
  tiltDeg: -8,
  sunLx: 3000,
  skyLx: 800,
};

/** The middle of what shines within a part of a picture, pixels. */
function middle(picture: ReturnType<typeof decode>, within = { left: 0, top: 0, right: Infinity, bottom: Infinity }) {
  const { width, height, channels, data } = picture;
  let [x, y, sum] = [0, 0, 0];
  for (let row = Math.max(0, within.top); row < Math.min(height, within.bottom); row++) {
    for (let column = Math.max(0, within.left); column < Math.min(width, within.right); column++) {
      const value = data[(row * width + column) * channels] ?? 0;
      const light = (value / (data instanceof Uint16Array ? 65_535 : 255)) ** 2.2;
      x += light * (column + 0.5);
      y += light * (row + 0.5);
      sum += light;
    }
  }
  return { x: x / sum, y: y / sum, light: sum };
}

test('two eyes see points at known distances as far apart as geometry says, within 0.3 pixel', async () => {
  const eyes: Stereo = { ...STEREO_DEFAULTS, layout: 'two-files', eyeDistanceMm: 63, convergenceM: 4 };
  for (const distanceM of [2, 4, 9]) {
    const scene: Scene = { things: [mark([0, 1.6, -distanceM])], eye: [0, 1.6, 0], skyLx: 0 };
    const size = { kind: 'typed', widthPx: 640, heightPx: 360 } as const;
    const black = { kind: 'colour', colour: '#000000' } as const;
    const files = await filesOf(scene, { size, stereo: eyes, background: black, formats: NOTHING_ELSE, samples: 8 });
    const [left, right] = ['left.png', 'right.png'].map((role) => middle(decode(files.get(role) ?? Buffer.alloc(0))));
    // Parallax on the film (63 mm × 35 mm × (1/4 − 1/d)) as pixels of 24.66 mm, of which 16 : 9 leaves all of the height.
    const widthMm = 13.87 * (16 / 9);
    const expected = (63 * 35 * (1 / 4000 - 1 / ((distanceM - 0.03) * 1000)) * 640) / widthMm;
    expect(right!.light).toBeGreaterThan(1);
    expect(Math.abs(right!.x - left!.x - expected), `${distanceM} m: ${right!.x - left!.x}`).toBeLessThan(0.3);
    expect(Math.abs(right!.y - left!.y)).toBeLessThan(0.1);
  }
});

test('the same order makes the same bytes in a window and in a worker, and again', async () => {
  const change = {
    size: SMALL,
    formats: { ...NOTHING_ELSE, pictures: { ...NOTHING_ELSE.pictures, exr: { depth: 'half' as const } } },
    samples: 4,
  };
  const here = await filesOf(YARD, change);
  const again = await filesOf(YARD, change);
  const made = await page.evaluate(
    ([source, scene, asked]) => {
      const answers = 'onmessage = async ({ data }) => postMessage(await globalThis.filesOf(...data))';
      const worker = new Worker(URL.createObjectURL(new Blob([`${source}\n${answers}`])));
      return new Promise<Record<string, string>>((resolve, reject) => {
        worker.onmessage = ({ data }: MessageEvent<Record<string, string>>) => resolve(data);
        worker.onerror = ({ message }) => reject(new Error(message));
        worker.postMessage([scene, asked]);
      });
    },
    [await script, YARD, change] as const,
  );
  expect([...here.keys()]).toEqual(['png', 'exr']);
  for (const [role, file] of here) {
    expect([role, again.get(role)?.equals(file)]).toEqual([role, true]);
    expect([role, Buffer.from(made[role] ?? '', 'base64').equals(file)]).toEqual([role, true]);
  }
});

test('a picture depends on the project alone, whatever the same renderer drew before', async () => {
  test.setTimeout(120_000);
  const length = fc.constantFrom(0.4, 3, 30, 130, 400);
  const thing: fc.Arbitrary<Thing> = fc.record({
    piece: fc.oneof(
      fc.record({ kind: fc.constant('ground' as const), widthM: length, depthM: length }),
      fc.record({
        kind: fc.constant('box' as const),
        widthM: length,
        heightM: fc.constantFrom(0.5, 2),
        depthM: length,
      }),
      fc.record({
        kind: fc.constant('cylinder' as const),
        radiusM: fc.constantFrom(0.3, 2),
        heightM: fc.constantFrom(1, 4),
      }),
    ),
    at: fc.tuple(fc.integer({ min: -8, max: 8 }), fc.constant(0), fc.integer({ min: -25, max: -6 })),
    colour: fc.constantFrom('#808080', '#c04030', '#f0f0e0'),
    group: fc.constantFrom('warm' as const, 'cold' as const),
  });
  const scene: fc.Arbitrary<Scene> = fc.record({
    things: fc.array(thing, { minLength: 1, maxLength: 8 }),
    eye: fc.constantFrom([0, 1.7, 4] as const, [-3, 6, 8] as const),
    sunLx: fc.constantFrom(0, 40_000),
    skyLx: fc.constantFrom(4000, 12_000),
  });
  const order: fc.Arbitrary<Partial<RenderOrder>> = fc.record({
    background: fc.constantFrom(
      ORDER_DEFAULTS.background,
      { kind: 'transparent', alpha: 'premultiplied', shadow: true } as const,
      { kind: 'transparent', alpha: 'straight', shadow: false } as const,
    ),
    shading: fc.constantFrom('full' as const, 'clay' as const, 'lean' as const),
  });
  type After = (drawn: readonly (readonly [Scene, Partial<RenderOrder>])[]) => Promise<Record<string, string>>;
  const small = { size: { kind: 'typed', widthPx: 160, heightPx: 90 }, formats: NOTHING_ELSE, samples: 2 } as const;
  await fc.assert(
    fc.asyncProperty(fc.array(fc.tuple(scene, order), { minLength: 2, maxLength: 5 }), async (histories) => {
      const drawn = histories.map(([one, change]) => [one, { ...change, ...small }] as const);
      const after = await page.evaluate(
        (all) => (globalThis as unknown as { filesAfter: After }).filesAfter(all),
        drawn,
      );
      const [last, change] = drawn.at(-1)!;
      const alone = await filesOf(last, change);
      for (const [role, file] of alone) expect(Buffer.from(after[role] ?? '', 'base64').equals(file), role).toBe(true);
    }),
    { numRuns: 8 },
  );
});

const degreesBetween = (a: readonly number[], b: readonly number[]) => {
  const dot = a.reduce((sum, value, i) => sum + value * (b[i] ?? 0), 0);
  return (Math.acos(Math.min(1, dot / Math.hypot(...a) / Math.hypot(...b))) * 180) / Math.PI;
};

test('a panorama shows known points where their directions are, within 0.1°, whichever way it is laid', async () => {
  const points: Thing['at'][] = [
    [3, 1.6, -4],
    [-5, 4, 1],
    [0.5, -2, -3],
    [2, 6, 3],
  ];
  // The camera looks to the right and down: directions are told from its heading, with a level horizon.
  const turn = (30 * Math.PI) / 180;
  const told = points.map(([x, y, z]) => [
    x * Math.cos(turn) + z * Math.sin(turn),
    y - 1.6,
    -x * Math.sin(turn) + z * Math.cos(turn),
  ]);
  const scene: Scene = {
    things: points.map((at) => mark(at, 0.15)),
    eye: [0, 1.6, 0],
    panDeg: 30,
    tiltDeg: -20,
    skyLx: 0,
  };
  const background = { kind: 'colour', colour: '#000000' } as const;
  const layouts: Partial<Panorama>[] = [
    {},
    { kind: 'cylinder', heightDeg: 130 },
    { kind: 'cube' },
    { kind: 'cube', cube: 'strip' },
  ];
  for (const change of layouts) {
    const panorama = { ...PANORAMA_DEFAULTS, widthPx: 1024, ...change };
    const layout: PanoramaLayout = layoutOf(panorama);
    const { width, height, channels, data } = await pngOf(scene, {
      panorama,
      background,
      formats: NOTHING_ELSE,
      samples: 4,
    });
    const found = told.map(() => ({ sum: [0, 0, 0], light: 0 }));
    for (let at = 0; at < width * height; at++) {
      const value = data[at * channels] ?? 0;
      if (value === 0) continue;
      const seen = panoramaDirection(layout, ((at % width) + 0.5) / width, (Math.floor(at / width) + 0.5) / height);
      const which = seen && told.findIndex((direction) => degreesBetween(direction, seen) < 6);
      const own = which === undefined ? undefined : found[which];
      if (!own || !seen) continue;
      const light = (value / 255) ** 2.2;
      seen.forEach((part, i) => (own.sum[i] = (own.sum[i] ?? 0) + (light * part) / Math.hypot(...seen)));
      own.light += light;
    }
    for (const [i, direction] of told.entries()) {
      expect(found[i]?.light, `${layout.kind} ${i}`).toBeGreaterThan(1);
      expect(degreesBetween(found[i]?.sum ?? [], direction), `${layout.kind} ${i}`).toBeLessThan(0.1);
    }
  }
});

test('the seams of a panorama are equal on both sides, and larger than a tile it has none', async () => {
  const panorama = { ...PANORAMA_DEFAULTS, widthPx: 2304 };
  const { width, height, channels, data } = await pngOf(YARD, { panorama, formats: NOTHING_ELSE, samples: 1 });
  const value = (x: number, y: number) => data[(y * width + x) * channels] ?? 0;
  const step = (x: number) => {
    let most = 0;
    for (let y = 0; y < height; y += 3) most = Math.max(most, Math.abs(value(x, y) - value((x + 1) % width, y)));
    return most;
  };
  // Left and right meet at the back; tiles meet at 2048; faces of the cube that it is taken from at each eighth.
  for (const x of [width - 1, 2047, width / 8 - 1, (3 * width) / 8 - 1])
    expect(step(x), `at ${x}`).toBeLessThanOrEqual(4);
});

test('two eyes see round with the same parallax in every direction', async () => {
  const panorama: Panorama = { ...PANORAMA_DEFAULTS, kind: 'cylinder', heightDeg: 20, widthPx: 720 };
  const eyes: Stereo = { ...STEREO_DEFAULTS, layout: 'two-files', eyeDistanceMm: 200, convergenceM: 100_000 };
  const points: Thing['at'][] = [
    [0, 1.6, -3],
    [3, 1.6, 0],
    [-2.12, 1.6, 2.12],
  ];
  const scene: Scene = { things: points.map((at) => mark(at, 0.1)), eye: [0, 1.6, 0], skyLx: 0 };
  const background = { kind: 'colour', colour: '#000000' } as const;
  const files = await filesOf(scene, { panorama, stereo: eyes, background, formats: NOTHING_ELSE, samples: 2 });
  for (const [x, , z] of points) {
    const at = Math.round((0.5 + Math.atan2(x, -z) / (2 * Math.PI)) * 720);
    const within = { left: at - 40, right: at + 40, top: 0, bottom: Infinity };
    const [left, right] = ['left.png', 'right.png'].map(
      (role) => middle(decode(files.get(role) ?? Buffer.alloc(0)), within).x,
    );
    // 200 mm at 3 m are 2 × asin(0.1 / 3), of 720 pixels for a whole turn; the left eye sees it farther right.
    const expected = (2 * Math.asin(0.1 / 2.95) * 720) / (2 * Math.PI);
    expect(Math.abs((left ?? 0) - (right ?? 0) - expected), `${x} ${z}`).toBeLessThan(0.6);
  }
});

test('what is transparent over a grey is the same as before that grey, in 8 and 16 bits', async () => {
  const clear = { kind: 'transparent', alpha: 'straight', shadow: false } as const;
  const scene: Scene = { ...YARD, things: YARD.things.slice(1) };
  for (const png of [8, 16] as const) {
    const formats = { ...NOTHING_ELSE, pictures: { ...NO_PICTURES, png: { bits: png }, tiff: { bits: png } } };
    const files = await filesOf(scene, { size: SMALL, formats, background: clear, samples: 16 });
    const over = decode(files.get('png') ?? Buffer.alloc(0));
    expect(decode(readAnew(files.get('tif'), 'tif')).data, 'as TIFF').toEqual(over.data);
    const before = await pngOf(scene, {
      size: SMALL,
      formats,
      background: { kind: 'colour', colour: '#808080' },
      samples: 16,
    });
    expect([over.channels, over.depth]).toEqual([4, png]);
    const most = png === 16 ? 65_535 : 255;
    let [apart, soft] = [0, 0];
    for (let i = 0; i < over.width * over.height; i++) {
      const alpha = (over.data[i * 4 + 3] ?? 0) / most;
      if (alpha > 0.1 && alpha < 0.9) soft += 1;
      for (let c = 0; c < 3; c++) {
        const laid = (over.data[i * 4 + c] ?? 0) * alpha + (128 / 255) * most * (1 - alpha);
        apart = Math.max(apart, (Math.abs(laid - (before.data[i * before.channels + c] ?? 0)) * 255) / most);
      }
    }
    expect(soft).toBeGreaterThan(100);
    expect(apart).toBeLessThanOrEqual(1);
  }
});

test('shadows are kept as alpha of black: laid over the bare ground they darken it as the set does', async () => {
  const white = {
    ...YARD,
    sunLx: 1500,
    skyLx: 300,
    things: YARD.things.map((one, i) => (i === 0 ? { ...one, colour: '#ffffff' } : one)),
  };
  const shared = {
    size: SMALL,
    formats: { ...NOTHING_ELSE, pictures: { ...NO_PICTURES, exr: { depth: 'float' as const } } },
    samples: 12,
  };
  const linear = async (scene: Scene, change: Partial<RenderOrder>): Promise<LinearPicture> =>
    exr((await filesOf(scene, { ...shared, ...change })).get('exr'));
  const clear = { kind: 'transparent', alpha: 'premultiplied', shadow: true } as const;
  const [caught, whole, bare] = [
    await linear(white, { background: clear }),
    await linear(white, {}),
    await linear({ ...white, things: white.things.slice(0, 1) }, {}),
  ];
  let [worst, shaded] = [0, 0];
  for (let y = 150; y < 270; y += 3) {
    for (let x = 0; x < 480; x += 3) {
      const at = (y * 480 + x) * 4;
      const alpha = caught.pixels[at + 3] ?? 0;
      const own = caught.pixels[at + 1] ?? 0;
      const laid = own + (bare.pixels[at + 1] ?? 0) * (1 - alpha);
      if (own < 1e-6 && alpha > 0.2) shaded += 1;
      worst = Math.max(worst, Math.abs(laid - (whole.pixels[at + 1] ?? 0)) / (bare.pixels[at + 1] ?? 1));
    }
  }
  expect(shaded).toBeGreaterThan(40);
  // A hundredth of what lies open.
  expect(worst).toBeLessThan(0.01);
});

const exr = (bytes: Buffer | undefined): LinearPicture => {
  const own = new Uint8Array(bytes ?? Buffer.alloc(0));
  return pictureOfExr(own.buffer);
};

test('OpenEXR is read back by another reader as the light that it holds; depth is in metres, masks are shares', async () => {
  const layers = { depth: true, masks: false, lightGroups: false };
  const files = await filesOf(YARD, {
    size: SMALL,
    samples: 4,
    formats: { ...NOTHING_ELSE, pictures: { ...NOTHING_ELSE.pictures, exr: { depth: 'half' } }, layers },
  });
  const light = exr(files.get('exr'));
  const directory = test.info().outputDir;
  mkdirSync(directory, { recursive: true });
  writeFileSync(join(directory, 'light.exr'), files.get('exr') ?? Buffer.alloc(0));
  const options = [
    '-v',
    'error',
    '-i',
    join(directory, 'light.exr'),
    '-f',
    'rawvideo',
    '-pix_fmt',
    'gbrapf32le',
    'pipe:1',
  ];
  const raw = execFileSync('ffmpeg', options, { maxBuffer: 1e9 });
  const plane = 480 * 270;
  for (let i = 0; i < plane; i += 997) {
    const red = raw.readFloatLE((2 * plane + i) * 4);
    expect(Math.abs(red - (light.pixels[i * 4] ?? 0))).toBeLessThanOrEqual(Math.abs(red) / 1024 + 1e-6);
  }
  // The front of the first box stands 5.5 m away, seen from 8° above: along the axis a little more or less.
  const depth = exr(files.get('depth.exr')).pixels[(120 * 480 + 240) * 4] ?? 0;
  const tilt = (8 * Math.PI) / 180;
  const sight = Math.atan(((135 - 120.5) * 13.87) / 270 / 35);
  expect(Math.abs(depth - (5.5 / Math.cos(sight - tilt)) * Math.cos(sight))).toBeLessThan(0.01);
});

test('light groups are kept apart: with any mix they come to the picture of that mix', async () => {
  const lamp = (lumen: number): Thing['piece'] => ({
    kind: 'practical',
    lamp: 'point',
    lumen,
    kelvin: 3200,
    coneDeg: 60,
    softness: 0.2,
    shadow: true,
    widthM: 0.3,
    heightM: 0.3,
  });
  const things: Thing[] = [
    ...YARD.things,
    { piece: lamp(40_000), at: [-1.5, 2, -5], group: 'warm' },
    { piece: lamp(25_000), at: [-0.8, 2.4, -4], group: 'warm' },
    { piece: lamp(60_000), at: [2.5, 2.2, -6], group: 'cold' },
  ];
  const scene: Scene = { ...YARD, things, sunLx: 200, skyLx: 60, ev100Iso: 1600 };
  const layers = { depth: false, masks: false, lightGroups: true };
  const shared = { size: SMALL, samples: 12 };
  const apart = await filesOf(scene, {
    ...shared,
    formats: { ...NOTHING_ELSE, pictures: { ...NO_PICTURES, exr: { depth: 'half' } }, layers },
  });
  const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
  const names = { 'light-sky': id(20), 'light-warm': id(21), 'light-cold': id(22), 'light-ungrouped': null };
  const groups = Object.entries(names).map(([name, lightGroupId]) => {
    return { lightGroupId, pixels: exr(apart.get(`${name}.exr`)).pixels };
  });
  // One is off, one is two stops down and one a stop up.
  const mix = {
    [id(20)]: { stops: -2, tint: '#ffffff', on: true },
    [id(21)]: { stops: 1, tint: '#ffffff', on: true },
    [id(22)]: { stops: 0, tint: '#ffffff', on: false },
  };
  const fresh = await pngOf(
    { ...scene, lightMix: mix },
    { ...shared, formats: { ...NOTHING_ELSE, pictures: { ...NO_PICTURES, png: { bits: 16 } } } },
  );
  const look = { settings: LOOK_DEFAULTS, lut: undefined, edge: undefined };
  const mixed = mixedPicture(groups, fresh.width, mix, look);
  // Half a code value of the picture, and half of one where it is rounded to 8 bits.
  let worst = 0;
  fresh.data.forEach((value, i) => (worst = Math.max(worst, Math.abs((mixed[i] ?? 0) - value / 257))));
  expect(groups[2]!.pixels.some((value, i) => i % 4 !== 3 && value > 0.01)).toBe(true);
  expect(mixed.some((value) => value > 240)).toBe(true);
  expect(worst).toBeLessThan(1);
});
