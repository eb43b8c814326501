import fc from 'fast-check';
import { Euler, MathUtils, Quaternion, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { approach, cameraAt, deliveredWindow, projectedLens, turnAbout } from '../src/camera';
import type { Curve, Key } from '../src/curve';
import { valueAt } from '../src/curve';
import { setFilmBack } from '../src/edits/camera';
import { removeMark, setMark } from '../src/edits/move';
import type { Pose } from '../src/model';
import { projectPoint, sightThrough } from '../src/optics';
import type { Vector } from '../src/space';
import { anglesToward, rotationOf, turned } from '../src/space';
import { flicksAtFrame } from '../src/time';
import { after, nextId, projectWithCamera } from './sample-project';

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const anyPose: fc.Arbitrary<Pose> = fc.record({
  positionM: fc.tuple(number(-50, 50), number(-50, 50), number(-50, 50)),
  panDeg: number(-400, 400),
  tiltDeg: number(-80, 80),
  rollDeg: number(-30, 30),
});
const curveOf = (values: readonly (readonly [number, number])[], shape: Key['shape'] = 'smooth'): Curve =>
  values.map(([atFlicks, value]) => ({ atFlicks, value, shape }));

describe('curves', () => {
  const anyCurve = fc
    .uniqueArray(fc.tuple(fc.integer({ min: 0, max: 1e9 }), number(-100, 100)), {
      minLength: 2,
      maxLength: 12,
      selector: ([at]) => at,
    })
    .map((keys) => curveOf(keys.sort((a, b) => a[0] - b[0])));

  it('pass through their keys and never overshoot them', () => {
    fc.assert(
      fc.property(anyCurve, number(0, 1), (curve, share) => {
        for (let i = 0; i + 1 < curve.length; i++) {
          const [left, right] = [curve[i] as Key, curve[i + 1] as Key];
          expect(valueAt(curve, left.atFlicks)).toBe(left.value);
          const value = valueAt(curve, left.atFlicks + share * (right.atFlicks - left.atFlicks)) as number;
          expect(value).toBeGreaterThanOrEqual(Math.min(left.value, right.value) - 1e-9);
          expect(value).toBeLessThanOrEqual(Math.max(left.value, right.value) + 1e-9);
        }
      }),
    );
  });

  it('read the same in any order of times, however they were read before', () => {
    fc.assert(
      fc.property(anyCurve, fc.array(fc.integer({ min: -10, max: 1e9 }), { maxLength: 40 }), (curve, times) => {
        const mixed = curve.map((key, i): Key => (i % 3 === 1 ? { ...key, shape: 'linear' } : key));
        const straight = times.map((time) => valueAt([...mixed], time));
        expect(times.map((time) => valueAt(mixed, time))).toEqual(straight);
        expect([...times].reverse().map((time) => valueAt(mixed, time))).toEqual(straight.reverse());
      }),
    );
  });

  it('ease at the ends: a tenth into a two-key move, 2.8 % of the way', () => {
    expect(
      valueAt(
        curveOf([
          [0, 0],
          [1000, 1],
        ]),
        100,
      ),
    ).toBeCloseTo(0.028, 12);
  });

  it('hold and run straight when asked', () => {
    expect(
      valueAt(
        curveOf(
          [
            [0, 0],
            [1000, 1],
          ],
          'hold',
        ),
        999,
      ),
    ).toBe(0);
    expect(
      valueAt(
        curveOf(
          [
            [0, 0],
            [1000, 1],
          ],
          'linear',
        ),
        250,
      ),
    ).toBe(0.25);
    expect(valueAt([], 5)).toBeUndefined();
  });

  it('follow free handles: time and value of the Bézier agree at its parameter', () => {
    fc.assert(
      fc.property(number(0, 1), number(0, 1), number(-3, 3), number(-3, 3), number(0.01, 0.99), (b, c, vb, vc, u) => {
        const span = 1e12;
        const curve: Curve = [
          { atFlicks: 0, value: 0, shape: 'free', out: { flicks: Math.round(b * span), value: vb } },
          { atFlicks: span, value: 1, shape: 'free', in: { flicks: Math.round((c - 1) * span), value: vc } },
        ];
        const mix = (p: number, q: number, r: number, s: number) =>
          (1 - u) ** 3 * p + 3 * (1 - u) ** 2 * u * q + 3 * (1 - u) * u * u * r + u ** 3 * s;
        // A handle that stands still in time makes the value steep there: compare where time moves on.
        const pace = 3 * (1 - u) ** 2 * b + 6 * (1 - u) * u * (c - b) + 3 * u * u * (1 - c);
        fc.pre(pace > 1e-3);
        expect(valueAt(curve, mix(0, b, c, 1) * span)).toBeCloseTo(mix(0, vb, 1 + vc, 1), 6);
      }),
    );
  });
});

describe('rotation', () => {
  it('is pan, then tilt, then roll, as an independent Euler rotation has it', () => {
    fc.assert(
      fc.property(number(-720, 720), number(-90, 90), number(-180, 180), (panDeg, tiltDeg, rollDeg) => {
        const [pan, tilt, roll] = [panDeg, tiltDeg, rollDeg].map(MathUtils.degToRad) as [number, number, number];
        const expected = new Quaternion().setFromEuler(new Euler(tilt, -pan, -roll, 'YXZ'));
        const [x, y, z, w] = rotationOf({ panDeg, tiltDeg, rollDeg });
        expect(w).toBeGreaterThanOrEqual(0);
        expect(Math.abs(expected.dot(new Quaternion(x, y, z, w)))).toBeCloseTo(1, 10);
      }),
    );
  });

  it('looks where it is aimed', () => {
    expect(anglesToward([0, 0, 0], [5, 0, 0])).toMatchObject({ panDeg: 90, tiltDeg: 0 });
    const [x, y, z] = turned([0, 0, -1], rotationOf(anglesToward([1, 2, 3], [4, 6, -9])));
    const aim = new Vector3(3, 4, -12).normalize();
    expect([x, y, z].map((v, i) => v - aim.getComponent(i)).every((error) => Math.abs(error) < 1e-12)).toBe(true);
  });
});

describe('looking about', () => {
  it('turns about the point under the pointer, which stays where it is', () => {
    fc.assert(
      fc.property(
        anyPose,
        number(0.1, 0.9),
        number(0.1, 0.9),
        number(2, 40),
        number(-90, 90),
        (pose, x, y, far, pan) => {
          const { project, cameraId } = projectWithCamera({ pose });
          const state = cameraAt(project, cameraId, 0);
          const [lens, window] = [projectedLens(state), deliveredWindow(state)];
          const { direction: ray } = sightThrough(x, y, state, lens, window);
          const pivot = state.positionM.map((v, i) => v + far * (ray[i] as number)) as unknown as Vector;
          const next = turnAbout(pose, pivot, pan, 20);
          const seen = projectPoint(pivot, { ...next, quaternion: rotationOf(next) }, lens, window);
          expect(seen?.x).toBeCloseTo(x, 6);
          expect(seen?.y).toBeCloseTo(y, 6);
        },
      ),
    );
  });

  it('approaches a point by a share of the distance and never passes it', () => {
    const pose = { positionM: [0, 0, 10] as Vector, panDeg: 0, tiltDeg: 0, rollDeg: 0 };
    expect(approach(pose, [0, 0, 0], 0.5).positionM).toEqual([0, 0, 5]);
    let near = pose;
    for (let i = 0; i < 100; i++) near = approach(near, [0, 0, 0], 0.5);
    expect(near.positionM[2]).toBeGreaterThan(0.049);
  });
});

describe('marks', () => {
  it('keep pose and lens; between them the camera travels and eases', () => {
    const start = projectWithCamera({ pose: { positionM: [0, 1.6, 0], panDeg: 350, tiltDeg: 0, rollDeg: 0 } });
    const ids = () => nextId();
    const { cameraId } = start;
    const end = flicksAtFrame(48, { frames: 24, seconds: 1 });
    const first = after(start.project, setMark(start.project, cameraId, 0, ids()));
    const trial = { positionX: 4, pan: 10, focalLength: 70 };
    const project = after(first, setMark(first, cameraId, end, ids(), trial));
    expect(Object.values(project.moves)[0]?.marks.map((mark) => mark.name)).toEqual(['A', 'B']);
    const middle = cameraAt(project, cameraId, end / 2);
    expect(middle.positionM).toEqual([2, 1.6, 0]);
    expect(middle.panDeg).toBe(360); // the short way from 350° to 10°
    expect(middle.lens.focalLengthMm).toBe(52.5);
    expect(cameraAt(project, cameraId, end / 10).positionM[0]).toBeCloseTo(4 * 0.028, 9);
    expect(cameraAt(project, cameraId, end * 5).positionM[0]).toBe(4);
  });

  it('leave the camera where its last mark was when that is taken out', () => {
    const start = projectWithCamera();
    const marked = after(
      start.project,
      setMark(start.project, start.cameraId, 0, nextId(), { positionY: 7, focalLength: 50 }),
    );
    const markId = Object.values(marked.moves)[0]?.marks[0]?.id ?? '';
    const project = after(marked, removeMark(marked, start.cameraId, markId));
    expect(project.moves).toEqual({});
    expect(cameraAt(project, start.cameraId, 0).positionM[1]).toBe(7);
    expect(cameraAt(project, start.cameraId, 0).lens.focalLengthMm).toBe(50);
  });

  it('keep their angle when the film back changes and the angle is kept', () => {
    const { project: empty, cameraId } = projectWithCamera();
    const project = after(empty, setMark(empty, cameraId, 0, nextId(), { focalLength: 50 }));
    const swapped = after(project, setFilmBack(project, cameraId, { widthMm: 36, heightMm: 24, squeeze: 1 }, 'angle'));
    const [was, is] = [cameraAt(project, cameraId, 0), cameraAt(swapped, cameraId, 0)];
    expect(is.lens.horizontalDeg).toBeCloseTo(was.lens.horizontalDeg, 9);
  });
});
