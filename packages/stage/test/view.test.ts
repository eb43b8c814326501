import type { Camera as ProjectCamera } from '@arvex/core';
import { applyChange, CAMERA_DEFAULTS, cameraAt, newProject, projectPoint } from '@arvex/core';
import { Camera, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { scopesOf } from '../src/reading';
import { sampleView } from '../src/painter';
import {
  aim,
  irisPoint,
  irisRadius,
  offsetByPixels,
  samplePlace,
  throughAperture,
  viewOf,
  withShutter,
} from '../src/view';
import fc from 'fast-check';

const [WIDTH, HEIGHT] = [1920, 1080];
const FRAME = 29_400_000;
const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;

const anyCamera: fc.Arbitrary<ProjectCamera> = fc
  .record({
    positionM: fc.tuple(number(-100, 100), number(-20, 60), number(-100, 100)),
    panDeg: number(-360, 360),
    tiltDeg: number(-85, 85),
    rollDeg: number(-45, 45),
    focalLengthMm: number(10, 200),
    shiftXMm: number(-8, 8),
    shiftYMm: number(-8, 8),
    squeeze: fc.constantFrom(1, 1.33, 2),
    parallelWidthM: fc.constantFrom(null, null, null, 12),
    fit: fc.constantFrom('match-width', 'match-height', 'show-all', 'fill'),
  })
  .map((c) => ({
    ...CAMERA_DEFAULTS,
    id: id(9),
    revision: 'first',
    number: 1,
    name: 'Any camera',
    pose: { positionM: c.positionM, panDeg: c.panDeg, tiltDeg: c.tiltDeg, rollDeg: c.rollDeg },
    filmBack: { widthMm: 24.89, heightMm: 18.66, squeeze: c.squeeze },
    lens: {
      ...CAMERA_DEFAULTS.lens,
      focalLengthMm: c.focalLengthMm,
      shiftXMm: c.shiftXMm,
      shiftYMm: c.shiftYMm,
      parallelWidthM: c.parallelWidthM,
    },
    framing: { ...CAMERA_DEFAULTS.framing, fit: c.fit },
  }));

function stateOf({ id: cameraId, revision: _revision, ...fields }: ProjectCamera) {
  const empty = newProject({ project: id(1), set: id(2), sequence: id(3) }, 'Saltmarsh Light');
  const operations = [{ op: 'create' as const, kind: 'camera' as const, id: cameraId, fields: fields as never }];
  return cameraAt(applyChange(empty, { id: id(4), name: 'Make', operations }), cameraId, 0);
}

describe('the picture’s projection', () => {
  it('agrees with the core’s to 0.01 pixel on 1 000 random points and cameras', () => {
    let seen = 0;
    fc.assert(
      fc.property(anyCamera, number(0, 1), number(0, 1), number(0.5, 300), (camera, x, y, depth) => {
        const state = stateOf(camera);
        const view = viewOf(state, 0);
        const picture = new Camera();
        aim(picture, view);
        // A point somewhere in the frame, found through the picture's own inverse.
        const onRay = new Vector3(2 * x - 1, 1 - 2 * y, 0.5).unproject(picture);
        const from =
          state.lens.parallelWidthM === null
            ? new Vector3(...state.positionM)
            : new Vector3(2 * x - 1, 1 - 2 * y, -1).unproject(picture);
        const point = onRay.sub(from).normalize().multiplyScalar(depth).add(from);
        const core = projectPoint([point.x, point.y, point.z], view.pose, view.lens, view.window);
        const drawn = point.clone().project(picture);
        expect(Math.abs(((drawn.x + 1) / 2 - (core?.x ?? NaN)) * WIDTH)).toBeLessThan(0.01);
        expect(Math.abs(((1 - drawn.y) / 2 - (core?.y ?? NaN)) * HEIGHT)).toBeLessThan(0.01);
        seen += 1;
      }),
      { numRuns: 1000 },
    );
    expect(seen).toBe(1000);
  });

  it('moves by exactly the pixels asked for, for samples within a pixel', () => {
    const view = viewOf(stateOf({ ...CAMERA_DEFAULTS, id: id(9), revision: 'first', number: 1, name: 'Pier ride' }), 0);
    const at = (v: typeof view) => projectPoint([0.4, 1.9, -7], v.pose, v.lens, v.window);
    const moved = at(offsetByPixels(view, 0.25, -0.5, WIDTH, HEIGHT));
    expect(((at(view)?.x ?? 0) - (moved?.x ?? 0)) * WIDTH).toBeCloseTo(0.25, 9);
    expect(((at(view)?.y ?? 0) - (moved?.y ?? 0)) * HEIGHT).toBeCloseTo(0.5, 9);
  });

  it('through any point of the aperture keeps the plane in focus where it is, and moves the rest by the blur circle', () => {
    const state = stateOf({ ...CAMERA_DEFAULTS, id: id(9), revision: 'first', number: 1, name: 'Boat' });
    const view = viewOf(state, 0);
    const at = (v: typeof view, z: number) => projectPoint([0.3, 1.9, z], v.pose, v.lens, v.window);
    fc.assert(
      fc.property(number(-0.02, 0.02), number(-0.02, 0.02), (x, y) => {
        const moved = throughAperture(view, 6, x, y);
        expect(at(moved, -6)?.x).toBeCloseTo(at(view, -6)?.x ?? NaN, 9);
        expect(at(moved, -6)?.y).toBeCloseTo(at(view, -6)?.y ?? NaN, 9);
        // A point at s is displaced on the film by f·x·(1/d − 1/s).
        const [f, d, s] = [view.lens.focalLengthMm, 6, 9];
        const shift = f * x * (1 / d - 1 / s);
        const width = view.window.rightMm - view.window.leftMm;
        expect((at(moved, -s)?.x ?? NaN) - (at(view, -s)?.x ?? NaN)).toBeCloseTo(shift / width, 9);
      }),
    );
  });

  it('fills the iris evenly: a circle, straight blades, and what lies between', () => {
    for (const iris of [
      { blades: 0, roundness: 0, rotationDeg: 0 },
      { blades: 6, roundness: 0, rotationDeg: 10 },
      { blades: 7, roundness: 0.5, rotationDeg: -20 },
    ]) {
      const points = Array.from({ length: 4000 }, (_, i) => irisPoint(iris, i));
      for (const { x, y } of points) {
        expect(Math.hypot(x, y)).toBeLessThanOrEqual(irisRadius(iris, Math.atan2(y, x)) + 1e-12);
      }
      const mean = (pick: (p: { x: number; y: number }) => number) => points.reduce((s, p) => s + pick(p), 0) / 4000;
      expect(Math.abs(mean((p) => p.x))).toBeLessThan(0.01);
      // Second moment of a disc is 1/4 along each axis, of a regular hexagon 5/24.
      if (iris.blades === 0) expect(mean((p) => p.x * p.x)).toBeCloseTo(0.25, 2);
      if (iris.blades === 6) expect(mean((p) => p.y * p.y)).toBeCloseTo(5 / 24, 2);
    }
  });

  it('counts a picture for the scopes: what clips, what is black, where each step lies', () => {
    const pixels = new Float32Array([
      2000,
      500,
      500,
      1,
      0,
      0,
      0,
      1,
      1000 * 0.2140411,
      1000 * 0.2140411,
      1000 * 0.2140411,
      1,
      999,
      999,
      999,
      1,
    ]);
    const scopes = scopesOf(pixels, 2, 2, 1000);
    expect([scopes.clipped, scopes.black]).toEqual([0.25, 0.25]);
    expect(scopes.histogram.y[127] ?? 0).toBe(1); // linear 0.214 is shown as one half
    expect(scopes.waveform.counts[63] ?? 0).toBe(1);
    expect(scopes.histogram.r.reduce((sum, n) => sum + n, 0)).toBe(4);
  });

  it('spreads its samples evenly over the pixel', () => {
    const samples = Array.from({ length: 64 }, (_, i) => samplePlace(i));
    const mean = (pick: (s: { x: number; y: number }) => number) => samples.reduce((sum, s) => sum + pick(s), 0) / 64;
    expect(Math.abs(mean((s) => s.x))).toBeLessThan(0.02);
    expect(Math.abs(mean((s) => s.y))).toBeLessThan(0.02);
    const quadrants = new Set(samples.map((s) => `${s.x > 0} ${s.y > 0}`));
    expect(quadrants.size).toBe(4);
  });
});

describe('the open shutter', () => {
  it('is sampled over its own time only, evenly, and never reaches the next frame', () => {
    const empty = newProject({ project: id(1), set: id(2), sequence: id(3) }, 'Saltmarsh Light');
    const camera = { ...CAMERA_DEFAULTS, id: id(9), revision: 'first', number: 1, name: 'Pier ride' };
    const pan = [
      { atFlicks: 0, value: 0, shape: 'linear' as const },
      { atFlicks: 24 * FRAME, value: 48, shape: 'linear' as const },
    ];
    const move = { id: id(8), revision: 'first', cameraId: id(9), curves: { pan }, after: {}, marks: [] };
    const project = { ...empty, cameras: { [id(9)]: camera }, moves: { [id(8)]: move } };
    const state = cameraAt(project, id(9), 10 * FRAME);
    const view = withShutter(viewOf(state, 10 * FRAME), project, state);
    const times = view.shutter.map(({ atFlicks }) => atFlicks / FRAME - 10);
    expect(Math.min(...times)).toBeGreaterThan(0);
    // Half of the frame's time at 180°.
    expect(Math.max(...times)).toBeLessThan(0.5);
    const taken = Array.from({ length: 64 }, (_, i) => sampleView(view, i, WIDTH, HEIGHT).atFlicks / FRAME - 10);
    expect(taken.reduce((sum, time) => sum + time, 0) / taken.length).toBeCloseTo(0.25, 1);
    expect(new Set(taken).size).toBe(view.shutter.length);
    const still = { ...project, moves: {} };
    const resting = cameraAt(still, id(9), 0);
    expect(withShutter(viewOf(resting, 0), still, resting).shutter).toEqual([]);
  });
});
