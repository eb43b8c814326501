import type { CameraState, WalkPath } from '@arvex/core';
import { cameraAt, flicksFromSeconds, setCamera } from '@arvex/core';
import { describe, expect, it } from 'vitest';
import { after, projectWithCamera, withFigure } from '../../../packages/core/test/sample-project';
import { flagsOf } from '../src/app/views/picture/ruler-flags';
import { distanceAt, placeOf, ticksIn } from '../src/app/views/picture/ruler-scale';
import { cameraLine, durationText, shutterText, signedDegrees, stopText } from '../src/app/ui/read-outs';
import { fieldPath, heightShade, planPiece, planWalk, roundLengthM } from '../src/app/views/plan/plan-shapes';
import { curvePath, flicksOf, ticks, timesOf, valueAxis, xOf, yOf } from '../src/app/views/curves/curve-axes';

const numbers = (text: string) => (text.match(/-?[\d.]+/g) ?? []).map(Number);

describe('the focus ruler', () => {
  it('goes by factors of distance, and back', () => {
    const places = ticksIn('ft').map(({ metres }) => placeOf(metres));
    expect(places.every(Number.isFinite)).toBe(true);
    expect([...places].sort((a, b) => a - b)).toEqual(places);
    expect(placeOf(2) - placeOf(1)).toBeCloseTo(placeOf(60) - placeOf(30), 9);
    for (const metres of [0.3, 1.5, 12, 100]) expect(distanceAt(placeOf(metres) / 100)).toBeCloseTo(metres, 2);
    expect([placeOf(0.01), placeOf(Infinity), distanceAt(-1), distanceAt(2)]).toEqual([0, 100, 0.3, 100]);
  });

  it('names subjects apart where there is room, together where there is none', () => {
    const at = (...distances: number[]) =>
      flagsOf(distances.map((distanceM, i) => ({ id: String(i), name: `figure ${i + 1}, eyes`, distanceM })));
    expect(at(1, 20).map(({ name, side }) => [name, side])).toEqual([
      ['figure 1, eyes', 'over'],
      ['figure 2, eyes', 'over'],
    ]);
    expect(at(5, 6).map(({ side }) => side)).toEqual(['before', 'after']);
    const [crowd] = at(8, 5, 6, 7);
    expect([crowd?.name, crowd?.lines.length]).toEqual(['figure 2, eyes and 3 more', 4]);
    expect(at(0.1, -4)).toEqual([]); // behind the camera, or on the lens
    expect(at(99)[0]?.side).toBe('before'); // the name stays on the ruler
  });
});

describe('read-outs', () => {
  it('are written as a crew says them', () => {
    expect([shutterText(1 / 48), shutterText(2), stopText(2.8), stopText(4)]).toEqual([
      '1/48 s',
      '2.0 s',
      'ƒ2.8',
      'ƒ4',
    ]);
    expect([signedDegrees(1.24), signedDegrees(-0.04), signedDegrees(-3)]).toEqual(['+1.2°', '0.0°', '-3.0°']);
    expect([durationText(48.4), durationText(200), durationText(-1)]).toEqual(['48 s', '3 min 20 s', '0 s']);
    const { project, cameraId } = projectWithCamera();
    expect(cameraLine(cameraAt(project, cameraId, 0))).toMatch(
      /^35 mm · S35 3-perf · ƒ[\d.]+ · 1\/48 · EV [\d.]+ · ND 3$/,
    );
    const { lens } = project.cameras[cameraId]!;
    const flat = after(project, setCamera(project, cameraId, 'Parallel', { lens: { ...lens, parallelWidthM: 6 } }));
    expect(cameraLine(cameraAt(flat, cameraId, 0))).toMatch(/^parallel, 6 m · /);
  });
});

describe('the plan', () => {
  it('draws the field between two planes across the axis, as wide as the lens sees, shift counted', () => {
    const { project, cameraId } = projectWithCamera({
      pose: { positionM: [2, 1.6, 3], panDeg: 90, tiltDeg: 0, rollDeg: 0 },
    });
    const state: CameraState = cameraAt(project, cameraId, 0);
    const [x1, z1, x2, z2, x3, z3] = numbers(fieldPath(state, 2, 10)) as [
      number,
      number,
      number,
      number,
      number,
      number,
    ];
    expect([x1, x2, x3]).toEqual([4, 12, 12]); // it looks east
    const width = (10 * state.framing.used.widthMm) / state.lens.focalLengthMm;
    expect([z3 - z2, z1]).toEqual([expect.closeTo(width, 2), expect.closeTo(3 - width / 10, 2)]);
    const { lens } = project.cameras[cameraId]!;
    const shifted = after(project, setCamera(project, cameraId, 'Shift', { lens: { ...lens, shiftXMm: 5 } }));
    const moved = numbers(fieldPath(cameraAt(shifted, cameraId, 0), 2, 10));
    expect((moved[3] ?? 0) - z2).toBeCloseTo(50 / 35, 2);
  });

  it('draws things where they are at a time, and a walk with a mark for each second', () => {
    const { project, id } = withFigure(projectWithCamera().project, [1, 0, 2], true);
    const placement = project.placements[id]!;
    const [early, late] = [0, flicksFromSeconds(2)].map((flicks) => planPiece(project, placement, flicks));
    expect(early?.at).toEqual([1, 2]);
    expect(Math.hypot((late?.at[0] ?? 0) - 1, (late?.at[1] ?? 0) - 2)).toBeCloseTo(1.6, 6);
    expect([early?.topM, early && early.acrossM > 0.3 && early.acrossM < 1]).toEqual([expect.closeTo(1.82, 2), true]);
    const walk = placement.motion as WalkPath;
    const drawn = planWalk(walk);
    expect(drawn.nodes).toEqual([
      [1, 2],
      [4, 0],
    ]);
    const [first, second] = drawn.seconds;
    const step = [0, 1].map((i) => (second?.at[i] ?? 0) - (first?.at[i] ?? 0));
    expect(Math.hypot(...step)).toBeCloseTo(0.8, 6);
    expect(drawn.seconds).toHaveLength(Math.ceil(Math.hypot(3, 2) / 0.8));
  });

  it('has a scale bar of a round length in the display unit, and shades that rise with height', () => {
    expect([roundLengthM(7), roundLengthM(0.19), roundLengthM(2000), roundLengthM(7, 0.3048)]).toEqual([
      5,
      0.1,
      2000,
      expect.closeTo(20 * 0.3048, 9),
    ]);
    const shades = [0, 0.5, 2, 10, 30].map(heightShade);
    expect([...shades].sort((a, b) => a - b)).toEqual(shades);
    expect([heightShade(-5), heightShade(1000)].every((shade) => shade >= 0.35 && shade <= 1)).toBe(true);
  });
});

describe('the graph', () => {
  const time = { fromFlicks: 100, toFlicks: 300, widthPx: 400 };
  const curve = [
    { atFlicks: 100, value: -2, shape: 'hold' as const },
    { atFlicks: 200, value: 6, shape: 'linear' as const },
  ];

  it('goes from times to pixels and back, each channel over its own values', () => {
    expect([xOf(time, 150), flicksOf(time, 100)]).toEqual([100, 150]);
    const axis = valueAxis({ curve }, 20, 100);
    expect([yOf(axis, 6) > 20, yOf(axis, -2) < 120, yOf(axis, 2)]).toEqual([true, true, 70]);
    const flat = valueAxis({ curve: [{ atFlicks: 0, value: 3, shape: 'smooth' }] }, 0, 100);
    expect(yOf(flat, 3)).toBe(50); // what does not change lies in the middle
    const handled = { atFlicks: 0, value: 0, shape: 'free' as const, out: { flicks: 10, value: 9 } };
    expect(valueAxis({ curve: [handled, { atFlicks: 50, value: 1, shape: 'smooth' }] }, 0, 10).high).toBeGreaterThan(9);
  });

  it('draws a held key as a step, not as a slope', () => {
    const axis = valueAxis({ curve }, 0, 100);
    const points = curvePath({ curve, after: 'stay' } as never, time, axis)
      .slice(1)
      .split('L')
      .map((point) => point.split(' ').map(Number));
    const ys = new Set(points.filter(([x]) => (x ?? 0) < 199.9).map(([, y]) => y));
    expect([...ys]).toEqual([Number(yOf(axis, -2).toFixed(1))]);
    expect(points.at(-1)?.[1]).toBeCloseTo(yOf(axis, 6), 1);
  });

  it('has round ticks, and room round its keys', () => {
    expect(ticks(0.3, 9.7, 5)).toEqual([2, 4, 6, 8]);
    expect(ticks(-0.04, 0.05, 4)).toEqual([0, 0.05].concat([]));
    const [from, to] = timesOf([curve], 1);
    expect([from < 100, to > 200]).toEqual([true, true]);
    expect(timesOf([], 10)).toEqual([0, 960]);
    expect(timesOf([[{ atFlicks: 50, value: 0, shape: 'smooth' }]], 10)[1]).toBeGreaterThanOrEqual(50 + 240);
  });
});
