import fc from 'fast-check';
import { beforeEach, describe, expect, it } from 'vitest';
import type { Project } from '../src';
import {
  addShot,
  againstOrder,
  anyOrderSchema,
  burnInTexts,
  bytesOf,
  CROSS_PLACES,
  CUBE_FACES,
  layoutOf,
  MOVIE_DEFAULTS,
  eyeOffsetM,
  FIRST_RECIPES,
  flicksAtFrame,
  frameFileName,
  frameFiles,
  framesOfPart,
  folderOf,
  heardOfPart,
  LOOK_DEFAULTS,
  mixedPicture,
  movieFileName,
  movieRate,
  nameProblems,
  NO_PICTURES,
  ORDER_DEFAULTS,
  ORDER_FORM,
  orderedProject,
  orderByRecipe,
  orderSentence,
  outputSize,
  panoramaDirection,
  parallaxShare,
  PANORAMA_DEFAULTS,
  partFrame,
  partPicture,
  partsOf,
  recipeFrom,
  recipeSchema,
  renderOrderSchema,
  setCurves,
  setSequence,
  STEREO_DEFAULTS,
  withoutGone,
} from '../src';
import type { BurnIn, OrderedPictures, Panorama, RenderOrder } from '../src';
import { after, nextId, projectWithCamera, SEQUENCE_ID } from './sample-project';

const NUMBER = { version: 'v003', date: '2026-11-27' };
const RATE = { frames: 24, seconds: 1 };
const frames = (count: number) => flicksAtFrame(count, RATE);

let project: Project;
let cameraId: string;
const shotIds: string[] = [];

/** Two shots of one camera, 10 and 20 frames, that overlap in the scene; handles of 4 frames. */
beforeEach(() => {
  ({ project, cameraId } = projectWithCamera());
  shotIds.splice(0, 2, nextId(), nextId());
  const [first = '', second = ''] = shotIds;
  const shot = { cameraId, sceneStartFlicks: frames(8), durationFlicks: frames(10) };
  project = after(project, addShot(project, SEQUENCE_ID, { ...shot, id: first }));
  project = after(project, addShot(project, SEQUENCE_ID, { ...shot, id: second, durationFlicks: frames(20) }));
  const handles = { handleInFlicks: frames(4), handleOutFlicks: frames(4) };
  project = after(project, setSequence(project, SEQUENCE_ID, 'Handles', handles));
});

const order = (change: Partial<RenderOrder> = {}): RenderOrder => ({
  ...ORDER_DEFAULTS,
  what: { kind: 'cut', sequenceId: SEQUENCE_ID },
  ...change,
});
const parts = (change: Partial<RenderOrder> = {}) => partsOf(project, order(change));
const shots = { kind: 'shots', sequenceId: SEQUENCE_ID, shotIds: null } as const;

describe('the parts of an order', () => {
  it('are the whole cut, a range of it by the numbers that are shown, or every so many-th frame at its true speed', () => {
    const count = (change: Partial<RenderOrder>) => parts(change).map(framesOfPart);
    expect(count({})).toEqual([30]);
    const range = { range: { first: 1006, last: 1010 }, step: 1, handles: false };
    expect(partFrame(parts({ frames: range })[0]!, 0)).toEqual({ kind: 'picture', source: 5, number: 1006 });
    expect(count({ frames: range })).toEqual([5]);
    expect(count({ frames: { ...range, range: { first: 2000, last: 2010 } } })).toEqual([]);
    const third = { range: null, step: 3, handles: false };
    expect(count({ frames: third })).toEqual([10]);
    expect(movieRate(order({ frames: third }), RATE)).toEqual({ frames: 24, seconds: 3 });
  });

  it('are shots by themselves with their handles, numbered as in the cut', () => {
    const [first, second] = parts({ what: shots, frames: { range: null, step: 1, handles: true } });
    expect([first, second].map((part) => framesOfPart(part!))).toEqual([18, 28]);
    expect(partFrame(second!, 0)).toEqual({ kind: 'picture', source: -4, number: 1007 });
    // In its handle a shot goes on with its own camera: four frames before its beginning in the scene.
    expect(partPicture(project, second!, -4)).toMatchObject({ cameraId, sceneFlicks: frames(4) });
    expect(parts({ what: { ...shots, shotIds: [shotIds[1]!] } })).toHaveLength(1);
  });

  it('are cameras over their own ranges: the move, else where shots look through them', () => {
    const cameras = { kind: 'cameras', cameraIds: null } as const;
    expect(parts({ what: cameras }).map(framesOfPart)).toEqual([20]); // scene frames 8 to 27
    const keys = [3, 40].map((at) => ({ atFlicks: frames(at), value: at, shape: 'linear' as const }));
    project = after(project, setCurves(project, cameraId, 'Truck', { positionX: keys }, 0));
    expect(partFrame(parts({ what: cameras })[0]!, 0)).toMatchObject({ source: 3, number: 1004 });
    expect(parts({ what: cameras }).map(framesOfPart)).toEqual([38]);
    const still = { kind: 'camera-still', cameraId, frame: 12 } as const;
    expect(parts({ what: still }).map(framesOfPart)).toEqual([1]);
  });

  it('have a slate before each shot, under which no sound is heard', () => {
    const sound = {
      id: nextId(),
      revision: 'first',
      sequenceId: SEQUENCE_ID,
      assetId: nextId(),
      name: 'bell',
      lane: 0,
      startFlicks: 0,
      trimS: 0,
      lengthS: 1,
      fadeInS: 0,
      fadeOutS: 0,
      gainDb: 0,
      muted: false,
    };
    project = { ...project, sounds: { [sound.id]: sound } };
    const [part] = parts({ slateFrames: 12, slates: 'each' });
    expect(framesOfPart(part!)).toBe(54);
    expect([0, 11, 12, 22, 34].map((at) => partFrame(part!, at))).toMatchObject([
      { kind: 'slate', place: 1, shotId: shotIds[0] },
      { kind: 'slate', place: 12 },
      { kind: 'picture', source: 0 },
      { kind: 'slate', place: 13, shotId: shotIds[1] },
      { kind: 'picture', source: 10 },
    ]);
    const heard = heardOfPart(project, part!);
    expect(heard.count).toBe(54 * 2000);
    expect(
      heard.parts.map(({ at, count, fileFrom }) => [at, count, fileFrom].map((samples) => samples / 2000)),
    ).toEqual([
      [12, 10, 0],
      [34, 14, 10],
    ]);
  });

  it('have slates with names of their own, however little a name says', () => {
    const asked = {
      ...ORDER_DEFAULTS,
      slateFrames: 12,
      slates: 'each',
      names: { ...ORDER_DEFAULTS.names, frames: '{frame}' },
    };
    const [part] = parts(asked as Partial<RenderOrder>);
    const order = { ...asked, what: { kind: 'cut', sequenceId: SEQUENCE_ID } } as RenderOrder;
    const names = Array.from({ length: framesOfPart(part!) }, (_, at) =>
      frameFileName(project, order, part!, NUMBER, at),
    );
    expect(new Set(names).size).toBe(names.length);
  });

  it('have one slate at the head of a cut where they are asked for: the cut stays as long as it is', () => {
    const [part] = parts({ slateFrames: 12, slates: 'head' });
    expect([0, 11, 12, 41].map((at) => partFrame(part!, at))).toMatchObject([
      { kind: 'slate', place: 1, shotId: null },
      { kind: 'slate', place: 12 },
      { kind: 'picture', source: 0 },
      { kind: 'picture', source: 29 },
    ]);
    expect(framesOfPart(part!)).toBe(42);
    const told = burnInTexts(project, part!, NUMBER, 0);
    expect(['shot', 'camera', 'lens'].map((what) => told({ what, text: '' } as BurnIn))).toEqual([
      project.sequences[SEQUENCE_ID]?.name,
      '–',
      '–',
    ]);
    const third = { ...ORDER_DEFAULTS.frames, step: 3 };
    expect(parts({ slateFrames: 12, slates: 'head', frames: third })[0]?.runs[0]).toMatchObject({
      kind: 'slate',
      count: 4,
    });
    expect(parts({ slateFrames: 12, slates: 'head', what: shots })).toHaveLength(2); // shots by themselves have one each
  });

  it('have the size of what they show, with both eyes, all round, and bars', () => {
    const size = (change: Partial<RenderOrder>): number[] => {
      const { widthPx, heightPx } = outputSize(order(change), parts(change)[0]!);
      return [widthPx, heightPx];
    };
    expect(size({})).toEqual([1920, 1080]);
    expect(size({ size: { kind: 'share', share: 1 / 3 } })).toEqual([640, 360]);
    expect(size({ size: { kind: 'typed', widthPx: 333, heightPx: 111 } })).toEqual([333, 111]);
    expect(size({ stereo: STEREO_DEFAULTS })).toEqual([3840, 1080]);
    expect(size({ stereo: { ...STEREO_DEFAULTS, layout: 'over-under' } })).toEqual([1920, 2160]);
    const round = (change: Partial<Panorama>) => ({ panorama: { ...PANORAMA_DEFAULTS, widthPx: 4096, ...change } });
    expect(size(round({}))).toEqual([4096, 2048]);
    expect(size(round({ kind: 'cube' }))).toEqual([4096, 3072]);
    expect(size(round({ kind: 'cube', cube: 'strip' }))).toEqual([6144, 1024]);
    expect(size(round({ kind: 'cylinder' }))).toEqual([4096, 1304]); // 4096 × tan 45° / π
    const items = [{ what: 'frame' as const, text: '', x: 0.5, y: 0.95 }];
    expect(size({ burnIns: { items, size: 0.05, outside: true, logoAssetId: null } })[1]).toBe(1080 + 2 * 98);
  });
});

describe('names', () => {
  it('stand for what they say at each frame', () => {
    const names = { folder: '{version}/{part}', frames: '{project}_{shot}_{take}.{frame:6}', movie: '{camera}-{date}' };
    const [part] = parts({ names });
    const asked = order({ names });
    expect(folderOf(project, asked, part!, NUMBER)).toBe('v003/Sequence');
    expect(frameFileName(project, asked, part!, NUMBER, 12)).toMatch(/^Saltmarsh-Light_\S+_a\.001013$/);
    expect(movieFileName(project, asked, part!, NUMBER)).toBe('Pier-ride-2026-11-27');
  });

  it('are refused where they would overwrite, share or trip a file system, and say the way out', () => {
    const problem = (names: Partial<RenderOrder['names']>, change: Partial<RenderOrder> = {}) => {
      const asked = order({ ...change, names: { ...ORDER_DEFAULTS.names, ...names } });
      return nameProblems(project, asked, partsOf(project, asked), NUMBER)[0]?.message ?? 'none';
    };
    expect(problem({})).toBe('none');
    expect(problem({ frames: '{shot}' })).toContain('Put {frame} in the name');
    expect(problem({ frames: '{shot}.{fram}' })).toContain('{fram} stands for nothing');
    expect(problem({ frames: 'a:b.{frame}' })).toContain('refuse');
    expect(problem({ folder: 'con/x' })).toContain('Windows');
    // Nothing leaves its place: neither upward, nor hidden, nor under a name that a file system would change.
    for (const folder of ['..', '../x', 'x/../../y', '.x', 'x./y', 'x /y'])
      expect(problem({ folder }), folder).toContain('begins or ends with a dot or a space');
    expect(problem({ folder: 'x', frames: 'y.{frame}', movie: '{project}' }, { what: shots })).toContain(
      'Put {part} in a name',
    );
    expect(problem({ frames: 'a/{frame}' })).toContain('folder');
    expect(problem({ folder: '{frame}' })).toContain('has no frame');
    expect(problem({ folder: 'x'.repeat(199) })).toContain('longer than');
  });
});

describe('what stands against an order', () => {
  const stops = (change: Partial<RenderOrder>) =>
    againstOrder(project, order(change), parts(change), NUMBER)
      .filter(({ stops: stop }) => stop)
      .map(({ message }) => message)
      .join(' ');

  it('is nothing for one that can be given, and all that readiness knows, with its mend', () => {
    expect(stops({})).toBe('');
    const { shots: all } = project;
    const [id = ''] = shotIds;
    project = { ...project, shots: { ...all, [id]: { ...all[id]!, cameraId: null } } };
    const [first] = againstOrder(project, order(), parts(), NUMBER);
    expect(first).toMatchObject({ stops: true, finding: { code: 'shot-without-camera', shotId: id } });
    // The other shot may be rendered by itself.
    expect(stops({ what: { ...shots, shotIds: [shotIds[1]!] } })).toBe('');
    project = { ...project, shots: {} };
    expect(stops({})).toContain('has no shots');
  });

  const { formats } = ORDER_DEFAULTS;
  const none = { ...formats, movies: [], pictures: NO_PICTURES };
  const only = (pictures: Partial<OrderedPictures>) => ({ ...none, pictures: { ...NO_PICTURES, ...pictures } });
  const clear = { kind: 'transparent', alpha: 'straight', shadow: false } as const;
  const round = { ...PANORAMA_DEFAULTS, widthPx: 4096 };
  const wide = { ...PANORAMA_DEFAULTS, widthPx: 16_384 };
  const six = { ...PANORAMA_DEFAULTS, kind: 'cube', cube: 'six' } as const;
  const odd = { size: { kind: 'typed', widthPx: 333, heightPx: 100 } } as const;
  it.each<[string, Partial<RenderOrder>]>([
    ['Nothing would be made', { formats: none }],
    ['no place for it', { places: { zip: false, folder: false } }],
    ['H.264 has no transparency', { background: clear }],
    ['JPEG has no transparency', { background: clear, formats: only({ jpeg: { quality: 90 } }) }],
    ['Six faces are no movie', { panorama: six }],
    ['No movie is wider', { panorama: wide }],
    ['Light groups are kept apart', { formats: { ...formats, layers: { ...formats.layers, lightGroups: true } } }],
    ['An anaglyph', { stereo: { ...STEREO_DEFAULTS, layout: 'anaglyph' }, formats: only({ exr: { depth: 'half' } }) }],
    [
      'no shadow is caught',
      { panorama: round, background: { ...clear, shadow: true }, formats: only({ png: { bits: 8 } }) },
    ],
    [
      'Depth and masks',
      { panorama: round, formats: { ...only({ exr: { depth: 'half' } }), layers: { ...formats.layers, depth: true } } },
    ],
    ['Lines and depth', { panorama: round, shading: 'lines' }],
    ['EXR is written up to', { panorama: wide, formats: only({ exr: { depth: 'half' } }) }],
    ['even sizes', { ...odd, oddSizes: 'refuse' }],
    ['pixels are drawn', { size: { kind: 'typed', widthPx: 40_000, heightPx: 20_000 } }],
  ])('says "%s" where that is so, and nothing else', (said, change) => {
    const all = againstOrder(project, order(change), parts(change), NUMBER).filter(({ stops: stop }) => stop);
    expect(all.map(({ message }) => message)).toEqual([expect.stringContaining(said)]);
  });

  it('is nothing where a row may be added, or nothing of it is in the way', () => {
    expect(stops(odd)).toBe('');
    expect(stops({ panorama: round })).toBe('');
    expect(stops({ background: clear, formats: only({ png: { bits: 8 } }) })).toBe('');
    expect(frameFiles(project, order({ panorama: six }))).toHaveLength(6);
    const light = againstOrder(
      project,
      order({ formats: only({ exr: { depth: 'half' } }), look: false }),
      parts(),
      NUMBER,
    );
    expect(light).toContainEqual(expect.objectContaining({ stops: false, where: 'formats' }));
  });
});

describe('an order of the first form', () => {
  const { formats, form: _form, ...rest } = ORDER_DEFAULTS;
  const { pictures: _pictures, layersLie: _layersLie, ...kept } = formats;
  const first = { ...rest, what: { kind: 'cameras', cameraIds: null } };

  it('is read as what it said', () => {
    const old = { ...kept, png: 16, jpeg: 80, exr: 'float', exrLayout: 'together' };
    const { form, formats: now } = anyOrderSchema.parse({ ...first, formats: old });
    expect([form, now.layersLie]).toEqual([ORDER_FORM, 'together']);
    expect(now.pictures).toEqual({
      png: { bits: 16 },
      jpeg: { quality: 80 },
      tiff: null,
      exr: { depth: 'float' },
    });
    const bare = anyOrderSchema.parse({ ...first, formats: { ...kept, png: null, jpeg: null, exr: null } });
    expect([bare.formats.pictures, bare.formats.layersLie]).toEqual([NO_PICTURES, 'apart']);
  });

  it('is refused where it was none, and so is one of a form to come', () => {
    for (const bad of [undefined, 7, {}, { ...first, formats: { ...kept, png: 12 } }, { ...ORDER_DEFAULTS, form: 3 }])
      expect(anyOrderSchema.safeParse(bad).success).toBe(false);
  });
});

describe('recipes', () => {
  it('are three from the start, and orders come back from them as they were', () => {
    expect(FIRST_RECIPES.map(({ name }) => name)).toEqual(['quick preview', 'review', 'deliver']);
    for (const recipe of FIRST_RECIPES) {
      expect(recipeSchema.parse(recipe)).toEqual(recipe);
      const made = orderByRecipe(recipe, SEQUENCE_ID);
      expect(renderOrderSchema.parse(made)).toEqual(made);
      expect(recipeFrom(made, recipe.id, recipe.name)).toEqual(recipe);
      expect(orderSentence(project, made)[0]?.words).toMatch(/the cut|all 2 shots/);
      expect(bytesOf(project, made, partsOf(project, made))).toBeGreaterThan(1000);
    }
  });

  it('leave out what is gone', () => {
    const gone = order({
      what: { ...shots, shotIds: [nextId()] },
      visible: { ...ORDER_DEFAULTS.visible, without: [nextId()] },
    });
    expect(withoutGone(gone, project)).toMatchObject({ what: { shotIds: null }, visible: { without: [] } });
    const typed = orderedProject(project, order({ size: { kind: 'typed', widthPx: 640, heightPx: 640 } }));
    expect(typed.head.delivery).toEqual({ widthPx: 640, heightPx: 640, pixelAspect: 1 });
  });
});

describe('two eyes and all round', () => {
  it('have no parallax at the convergence, and as much far away as the eyes are apart for it', () => {
    const eyes = { eyeDistanceMm: 63, convergenceM: 6 };
    expect(parallaxShare(eyes, 35, 24.89, 6)).toBeCloseTo(0, 12);
    // 63 mm × 35 mm / 6 000 mm on 24.89 mm of film.
    expect(parallaxShare(eyes, 35, 24.89, Infinity)).toBeCloseTo(0.014765, 6);
    expect(parallaxShare(eyes, 35, 24.89, 3)).toBeCloseTo(-0.014765, 6);
    expect(eyeOffsetM(STEREO_DEFAULTS, 'left')).toBe(-0.0315);
    expect(eyeOffsetM({ ...STEREO_DEFAULTS, swapped: true }, 'left')).toBe(0.0315);
  });

  it('look ahead in the middle, and the same way on both sides of every seam', () => {
    const close = (a: readonly number[] | undefined, b: readonly number[]) => {
      const length = Math.hypot(...(a ?? [0]));
      b.forEach((value, i) => expect((a?.[i] ?? NaN) / length).toBeCloseTo(value, 6));
    };
    close(panoramaDirection({ kind: 'sphere' }, 0.5, 0.5), [0, 0, -1]);
    close(panoramaDirection({ kind: 'sphere' }, 0.75, 0.5), [1, 0, 0]);
    close(panoramaDirection({ kind: 'sphere' }, 0.3, 0), [0, 1, 0]);
    const half = Math.SQRT1_2;
    close(panoramaDirection({ kind: 'cylinder', halfHeight: 1 }, 0.5, 0), [0, half, -half]);
    const onCross = (face: keyof typeof CROSS_PLACES, x: number, y: number) => {
      const [column, row] = CROSS_PLACES[face];
      return panoramaDirection({ kind: 'cross' }, (column + x) / 4, (row + y) / 3);
    };
    const edge = 1 - 1e-9;
    fc.assert(
      fc.property(fc.double({ min: 0.001, max: 0.999, noNaN: true }), (along) => {
        const seams = [
          [onCross('front', edge, along), onCross('right', 0, along)],
          [onCross('right', edge, along), onCross('back', 0, along)],
          [onCross('left', edge, along), onCross('front', 0, along)],
          [onCross('up', along, edge), onCross('front', along, 0)],
          [onCross('front', along, edge), onCross('down', along, 0)],
          [onCross('back', edge, along), onCross('left', 0, along)],
        ];
        for (const [a, b] of seams)
          b?.forEach((value, i) => expect(Math.abs(value - (a?.[i] ?? NaN))).toBeLessThan(1e-6));
      }),
      { numRuns: 20 },
    );
    expect(panoramaDirection({ kind: 'cross' }, 0.05, 0.05)).toBeUndefined();
    expect(CUBE_FACES.map((face) => panoramaDirection({ kind: 'face', face }, 0.5, 0.5))).toHaveLength(6);
  });

  it.each([
    ['left', [-1, 0, 0]],
    ['front', [0, 0, -1]],
    ['right', [1, 0, 0]],
    ['back', [0, 0, 1]],
    ['up', [0, 1, 0]],
    ['down', [0, -1, 0]],
  ] as const)('show in the middle of the face "%s" what lies there, as a file and in the cross', (face, ahead) => {
    const asked = { ...PANORAMA_DEFAULTS, kind: 'cube', cube: 'six' } as const;
    const [column, row] = CROSS_PLACES[face];
    const seen = [
      panoramaDirection(layoutOf(asked, face), 0.5, 0.5),
      panoramaDirection(layoutOf({ ...asked, cube: 'cross' }), (column + 0.5) / 4, (row + 0.5) / 3),
    ];
    for (const direction of seen) direction?.forEach((value, i) => expect(value).toBeCloseTo(ahead[i] ?? NaN, 9));
    expect(seen).not.toContain(undefined);
  });
});

describe('room on the disk', () => {
  const NO_MOVIES = { ...ORDER_DEFAULTS.formats, movies: [] };
  const room = (change: Partial<RenderOrder>) => {
    const made = order(change);
    return bytesOf(project, made, partsOf(project, made));
  };

  it('grows with the frames, with the pixels, and with what each format takes', () => {
    const frames = (first: number, last: number) => ({ range: { first, last }, step: 1, handles: false });
    const whole = room({ formats: NO_MOVIES, frames: frames(1001, 1020) });
    expect(whole / room({ formats: NO_MOVIES, frames: frames(1001, 1005) })).toBeCloseTo(4, 9);
    const size = (share: number) => room({ formats: NO_MOVIES, size: { kind: 'share', share } });
    expect(size(1) / size(0.5)).toBeCloseTo(4, 2);
    const only = (chosen: Partial<RenderOrder['formats']['pictures']>) =>
      room({ formats: { ...NO_MOVIES, pictures: { ...NO_PICTURES, ...chosen } } });
    const png = only({ png: { bits: 8 } });
    expect(only({ png: { bits: 16 } }) / png).toBeCloseTo(4.2 / 1.2, 9);
    expect(only({ exr: { depth: 'float' } }) / only({ exr: { depth: 'half' } })).toBeCloseTo(2, 9);
    expect(only({ png: { bits: 8 }, jpeg: { quality: 90 } })).toBeCloseTo(png + only({ jpeg: { quality: 90 } }), 3);
  });

  it('is four thirds with transparency where a format has it, and a quarter for depth', () => {
    const clear = { kind: 'transparent', alpha: 'straight', shadow: false } as const;
    expect(room({ formats: NO_MOVIES, background: clear }) / room({ formats: NO_MOVIES })).toBeCloseTo(4 / 3, 9);
    const pictures = { ...NO_PICTURES, exr: { depth: 'half' } } as const;
    const linear = (depth: boolean) => ({ ...NO_MOVIES, pictures, layers: { ...NO_MOVIES.layers, depth } });
    expect(room({ formats: linear(true) }) / room({ formats: linear(false) })).toBeCloseTo(1.25, 9);
  });

  it('of a movie at a rate is that rate over its time, however many frames it leaves out', () => {
    const movies = [{ ...MOVIE_DEFAULTS, by: { kind: 'rate', megabits: 8 } }] as const;
    const formats = { ...NO_MOVIES, pictures: NO_PICTURES, movies: [...movies] };
    const seconds = 30 / 24;
    // What it is made from is kept, too: the same in both.
    const made = (step: number) => room({ formats, frames: { range: null, step, handles: false } });
    const frames = (count: number) =>
      room({ formats: NO_MOVIES, frames: { range: { first: 1001, last: 1000 + count }, step: 1, handles: false } });
    expect(made(1) - frames(30)).toBeCloseTo(1e6 * seconds, 0);
    expect(made(3) - frames(10)).toBeCloseTo(1e6 * seconds, 0);
  });
});

describe('light that is mixed anew', () => {
  it('is darker toward the edges by as many stops as the look says, with the square of how far out it lies', () => {
    const grey = (times: number) => [
      { lightGroupId: null, pixels: Float32Array.from({ length: 4 * 15 }, (_, i) => (i % 4 === 3 ? 1 : 0.2 * times)) },
    ];
    const window = { leftMm: -10, rightMm: 10, bottomMm: -5, topMm: 5 };
    const look = { settings: LOOK_DEFAULTS, lut: undefined };
    const shown = mixedPicture(grey(1), 5, {}, { ...look, edge: { stops: 1.5, cornerMm: Math.hypot(10, 5), window } });
    const [left, up] = [8, 10 / 3]; // the middle of the first pixel of five by three
    const even = mixedPicture(grey(2 ** ((-1.5 * (left * left + up * up)) / 125)), 5, {}, { ...look, edge: undefined });
    expect(Math.abs((shown[0] ?? 0) - (even[0] ?? 0))).toBeLessThanOrEqual(1);
    const middle = mixedPicture(grey(1), 5, {}, { ...look, edge: undefined });
    expect([shown[3 * 7], (shown[0] ?? 0) < (shown[3] ?? 0)]).toEqual([middle[3 * 7], true]);
  });
});
