import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cameraAt, deliveredWindow, projectedLens, rigBody, shakeAt, viewsOf } from '../src/camera';
import { comfortOf, judderLimit } from '../src/comfort';
import type { Curve } from '../src/curve';
import {
  dividedAt,
  easedKeys,
  EASING_DEFAULTS,
  looped,
  mapKeys,
  reversed,
  shapedKeys,
  thinned,
  valueAt,
  valueOnward,
} from '../src/curve';
import type { Edit } from '../src/edits';
import { creation } from '../src/edits';
import { setCamera } from '../src/edits/camera';
import type { MoveOrder } from '../src/edits/move';
import {
  addNamedMove,
  addOrbit,
  addRack,
  bakeRig,
  changeRig,
  copyMove,
  endsBeside,
  keyHere,
  leaveOutMark,
  isMovedOff,
  moveThroughViews,
  ownValues,
  rampMove,
  removeMark,
  reorderMark,
  reshapeRail,
  reverseMove,
  rigAround,
  setCurves,
  setLeg,
  setMark,
  settle,
  spaceMarks,
  stretchMove,
} from '../src/edits/move';
import { changeRate } from '../src/edits/project';
import type { Camera, Project, Rig } from '../src/model';
import { HANDHELD_DEFAULTS, HANDHELD_PRESETS, marksInOrder, moveOf } from '../src/model';
import { projectPoint } from '../src/optics';
import { subjectPointAt } from '../src/set';
import type { Vector } from '../src/space';
import { pathThrough } from '../src/space';
import { flicksAtFrame, flicksFromSeconds } from '../src/time';
import { after, nextId, projectWithCamera, withFigure } from './sample-project';

const FRAME = flicksAtFrame(1, { frames: 24, seconds: 1 });
const frame = (index: number) => index * FRAME;
const at = (atFlicks = 0) => atFlicks;
const distance = (a: Vector, b: Vector) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
const order = (
  move: MoveOrder['move'],
  amount: number,
  seconds: number,
  subjectId: string | null = null,
): MoveOrder => ({
  ...EASING_DEFAULTS,
  move,
  amount,
  seconds,
  subjectId,
});
const keys = (...values: readonly (readonly [number, number])[]): Curve =>
  values.map(([at, value]) => ({ atFlicks: frame(at), value, shape: 'smooth' }));

/** How far a value is from those that a curve has within a hundred flicks: handles are whole flicks, and a curve may be steep. */
function apart(curve: Curve, flicks: number, value: number): number {
  const near = Array.from({ length: 41 }, (_, i) => valueAt(curve, flicks + (i - 20) * 5) ?? NaN);
  return Math.max(0, value - Math.max(...near), Math.min(...near) - value);
}

/** Any curve: keys of all shapes at uneven times, from 0 on. */
const anyCurve: fc.Arbitrary<Curve> = fc
  .array(
    fc.record({
      gap: fc.integer({ min: FRAME / 4, max: FRAME * 30 }),
      value: fc.integer({ min: -9, max: 9 }),
      shape: fc.constantFrom('smooth' as const, 'linear' as const, 'hold' as const, 'free' as const),
      reach: fc.integer({ min: 0, max: FRAME * 10 }),
      lift: fc.integer({ min: -5, max: 5 }),
    }),
    { minLength: 2, maxLength: 8 },
  )
  .map((list) => {
    let atFlicks = -(list[0]?.gap ?? 0);
    return list.map(({ gap, value, shape, reach, lift }, i) => {
      atFlicks += gap;
      // Not so long that the curve stands upright: there its value is not to be had at all.
      const room = (span: number) => Math.floor(Math.min(reach, span * 0.45));
      const [before, after] = [room(gap), room(list[i + 1]?.gap ?? gap)];
      const handles = { in: { flicks: -before || 0, value: lift }, out: { flicks: after, value: -lift || 0 } };
      return { atFlicks, value, shape, ...(shape === 'free' && handles) };
    });
  });

/** A camera with marks at frames, each at a place, looking along −Z. */
function marked(places: readonly (readonly [number, Vector])[]): { project: Project; cameraId: string } {
  const { project: empty, cameraId } = projectWithCamera();
  const project = places.reduce((current, [index, [positionX, positionY, positionZ]]) => {
    const values = { positionX, positionY, positionZ, pan: 0, tilt: 0, roll: 0 };
    return after(current, setMark(current, cameraId, frame(index), nextId(), values));
  }, empty);
  return { project, cameraId };
}
const camera = (project: Project, id: string) => project.cameras[id] as Camera;
const run = (project: Project, ...edits: readonly ((now: Project) => Edit)[]) =>
  edits.reduce((now, edit) => after(now, edit(now)), project);

describe('rigs', () => {
  it('hold the camera where it was, through every one of its keys', () => {
    const { project, cameraId } = marked([
      [0, [0, 1.6, 6]],
      [24, [2, 1.8, 3]],
      [48, [5, 2.4, 1]],
    ]);
    const figure = withFigure(project, [3, 0, -4]);
    const aimed = after(
      figure.project,
      setCamera(figure.project, cameraId, 'Aim', {
        aim: { kind: 'subject', placementId: figure.id, point: 'eyes', offsetM: [0, 0, 0], weight: 1, smoothingS: 0 },
      }),
    );
    for (const kind of ['rail', 'crane', 'orbit', 'follow'] as const) {
      const { edit } = changeRig(aimed, cameraId, rigAround(aimed, cameraId, kind, 0), at());
      const rigged = after(aimed, edit);
      for (const index of [0, 24, 48]) {
        const [is, was] = [rigged, aimed].map((one) => cameraAt(one, cameraId, frame(index)).positionM);
        expect(distance(is as Vector, was as Vector), `${kind} at ${index}`).toBeLessThan(1e-6);
      }
    }
  });

  it('go along a rail at one speed within 0.1 %, bends and straight pieces alike', () => {
    const { project, cameraId } = projectWithCamera();
    const rig: Rig = {
      kind: 'rail',
      atM: [3, 0, -2],
      turnDeg: 30,
      head: 'world',
      closed: false,
      by: 'share',
      along: 0,
      nodesM: [
        [0, 0, 0],
        [4, 0, 0],
        [7, 0, 3],
        [7, 0, 9],
      ],
      straight: [true, false, true],
      cameraM: [0, 1.5, 0],
    };
    const along: Curve = [
      { atFlicks: 0, value: 0, shape: 'linear' },
      { atFlicks: frame(96), value: 100, shape: 'linear' },
    ];
    const whole = run(
      project,
      (now) => setCamera(now, cameraId, 'Rail', { rig }),
      (now) => setCurves(now, cameraId, 'Along', { along }, at()),
    );
    const steps = Array.from({ length: 96 }, (_, i) =>
      distance(
        cameraAt(whole, cameraId, frame(i)).positionM,
        cameraAt(whole, cameraId, frame(i) + FRAME / 100).positionM,
      ),
    );
    const mean = steps.reduce((sum, step) => sum + step, 0) / steps.length;
    for (const step of steps) expect(Math.abs(step / mean - 1)).toBeLessThan(1e-3);
    expect(mean * 9600).toBeCloseTo(pathThrough(rig.nodesM, false, rig.straight).lengthM, 2);
  });

  it('keep a trolley at its nodes when the track changes', () => {
    const { project, cameraId } = marked([
      [0, [0, 1.6, 6]],
      [24, [3, 1.6, 4]],
      [48, [6, 1.6, 6]],
    ]);
    const onRail = after(project, changeRig(project, cameraId, rigAround(project, cameraId, 'rail', 0), at()).edit);
    const { rig } = camera(onRail, cameraId);
    if (rig.kind !== 'rail') throw new Error('not on a rail');
    const nodesM = rig.nodesM.map(([x, y, z], i): [number, number, number] => (i === 1 ? [x, y, z - 5] : [x, y, z]));
    const bent = after(onRail, reshapeRail(onRail, cameraId, 'Node', { ...rig, nodesM }));
    expect(cameraAt(bent, cameraId, frame(24)).positionM[2]).toBeCloseTo(-1, 9);
    expect(cameraAt(bent, cameraId, frame(48)).positionM[0]).toBeCloseTo(6, 9);
  });

  it('carry a crane’s head: level in the world, or turning with the arm', () => {
    const { project, cameraId } = projectWithCamera();
    const crane = {
      kind: 'crane',
      atM: [0, 0, 0],
      turnDeg: 0,
      columnM: 1.3,
      riserM: 0,
      swingDeg: 90,
      pitchDeg: 30,
    } as const;
    const on = (head: 'world' | 'carried') => {
      const rig: Rig = { ...crane, atM: [0, 0, 0], armM: 6, head };
      const pose = { ...camera(project, cameraId).pose, panDeg: 0, tiltDeg: 0, rollDeg: 0 };
      return cameraAt(after(project, setCamera(project, cameraId, 'Crane', { rig, pose })), cameraId, 0);
    };
    const level = on('world');
    expect(level.positionM[0]).toBeCloseTo(6 * Math.cos(Math.PI / 6), 9);
    expect(level.positionM[1]).toBeCloseTo(1.3 + 3, 9);
    expect([level.panDeg, level.tiltDeg]).toEqual([0, 0]);
    const carried = on('carried');
    expect(carried.panDeg).toBeCloseTo(90, 9);
    expect(carried.tiltDeg).toBeCloseTo(30, 9);
  });

  it('bake to keys within a millimetre and a hundredth of a degree, and say how far they stray', () => {
    const { project, cameraId } = projectWithCamera();
    const figure = withFigure(project, [0, 0, -4]);
    const orbit = after(
      figure.project,
      addOrbit(figure.project, cameraId, { subjectId: figure.id, degrees: 150, seconds: 5, loop: false }, at()),
    );
    const { edit, deviation } = bakeRig(orbit, cameraId, at());
    const baked = after(orbit, edit);
    expect(camera(baked, cameraId).rig.kind).toBe('sticks');
    expect(deviation.metres).toBeLessThan(0.001);
    expect(deviation.degrees).toBeLessThan(0.01);
    expect(moveOf(baked, cameraId)?.curves['positionX']?.length).toBeLessThan(80);
    const worst = Math.max(
      ...Array.from({ length: 121 }, (_, i) =>
        distance(cameraAt(baked, cameraId, frame(i)).positionM, cameraAt(orbit, cameraId, frame(i)).positionM),
      ),
    );
    expect(worst).toBeCloseTo(deviation.metres, 9);
  });
});

describe('a hand', () => {
  const hand = { ...HANDHELD_DEFAULTS, on: true, seed: 7 };

  it('strays alike for one seed and otherwise for another, about as far as it says', () => {
    const straysAt = (seed: number) => (flicks: number) => shakeAt({ ...hand, seed }, 1, flicks)?.turn.panDeg ?? NaN;
    const times = Array.from({ length: 4000 }, (_, i) => frame(i));
    const pans = times.map(straysAt(7));
    expect(pans).toEqual(times.map(straysAt(7)));
    expect(pans).not.toEqual(times.map(straysAt(8)));
    // The same on every machine: the noise is made of whole numbers and plain arithmetic only.
    expect([1, 10, 100, 1000, 3999].map((index) => pans[index])).toEqual([
      -0.015573085003270004, 0.09783013204991417, 0.0333832466533902, 0.18221007439478587, 0.12224450264757317,
    ]);
    expect(Math.max(...pans.map(Math.abs))).toBeGreaterThan(hand.turnDeg[0] * 0.6);
    expect(Math.max(...pans.map(Math.abs))).toBeLessThan(hand.turnDeg[0] * 1.8);
    expect(Math.abs(pans.reduce((sum, pan) => sum + pan, 0) / pans.length)).toBeLessThan(hand.turnDeg[0] / 10);
  });

  it('fades in and out, and every usual hand is stronger than the one before', () => {
    const within = { ...hand, fromFlicks: frame(24), toFlicks: frame(72), fadeInS: 1, fadeOutS: 1 };
    expect(shakeAt(within, 1, frame(23))).toBeUndefined();
    expect(shakeAt(within, 1, frame(48))).toEqual(shakeAt(hand, 1, frame(48)));
    expect(shakeAt(within, 1, frame(73))).toBeUndefined();
    const size = ({ hand: { turnDeg } }: (typeof HANDHELD_PRESETS)[number]) => turnDeg[0];
    expect(HANDHELD_PRESETS.map(size)).toEqual([...HANDHELD_PRESETS.map(size)].sort((a, b) => a - b));
  });
});

describe('named moves', () => {
  it('push in along the axis by the metres asked for, and settle', () => {
    const { project, cameraId } = projectWithCamera();
    const moved = after(project, addNamedMove(project, cameraId, order('push-in', 2, 2), at(frame(12))));
    const [from, to] = [cameraAt(moved, cameraId, 0), cameraAt(moved, cameraId, frame(12) + flicksFromSeconds(2.5))];
    expect(distance(from.positionM, to.positionM)).toBeCloseTo(2, 9);
    const late = cameraAt(moved, cameraId, frame(12) + flicksFromSeconds(2.5) - FRAME);
    expect(distance(late.positionM, to.positionM) * 24).toBeLessThan(0.1);
  });

  it.each([28, 70])('hold a subject’s height through a dolly zoom to %d mm within 0.1 %% of the frame', (toMm) => {
    for (const walks of [false, true]) {
      const { project, cameraId } = projectWithCamera();
      const figure = withFigure(project, [0.4, 0, -6], walks);
      const moved = after(
        figure.project,
        addNamedMove(figure.project, cameraId, order('dolly-zoom', toMm, 3, figure.id), at()),
      );
      const heights = Array.from({ length: 84 }, (_, i) => {
        const state = cameraAt(moved, cameraId, frame(i));
        const placement = moved.placements[figure.id];
        if (!placement) throw new Error('the figure is gone');
        const [x, eyesY, z] = subjectPointAt(moved, placement, 'eyes', frame(i));
        const window = { leftMm: 0, rightMm: 1, bottomMm: 0, topMm: state.framing.used.heightMm };
        // A metre at the subject's own depth, as a share of the frame.
        const shares = [eyesY, eyesY - 1].map(
          (y) => projectPoint([x, y, z], state, projectedLens(state), window)?.y ?? 0,
        );
        return Math.abs((shares[0] ?? 0) - (shares[1] ?? 0));
      });
      expect(Math.max(...heights) - Math.min(...heights)).toBeLessThan(0.001);
      expect(cameraAt(moved, cameraId, frame(84)).lens.focalLengthMm).toBeCloseTo(toMm, 6);
    }
  });

  it('orbit with equal steps, the one over the seam included, the middle staying where it was in the picture', () => {
    const { project, cameraId } = projectWithCamera();
    const figure = withFigure(project, [0, 0, -5]);
    const turning = after(
      figure.project,
      addOrbit(figure.project, cameraId, { subjectId: figure.id, degrees: 360, seconds: 4, loop: true }, at()),
    );
    const places = Array.from({ length: 98 }, (_, i) => cameraAt(turning, cameraId, frame(i)).positionM);
    const steps = places.slice(1).map((place, i) => distance(place, places[i] as Vector));
    expect(Math.max(...steps) - Math.min(...steps)).toBeLessThan(1e-9);
    expect(distance(places[96] as Vector, places[0] as Vector)).toBeLessThan(1e-9);
    expect(distance(places[95] as Vector, places[0] as Vector)).toBeGreaterThan(0.1);
    const eyesM = subjectPointAt(figure.project, figure.project.placements[figure.id]!, 'eyes', 0);
    const eyesAt = (now: Project, index: number) => {
      const state = cameraAt(now, cameraId, frame(index));
      return projectPoint(eyesM, state, projectedLens(state), deliveredWindow(state));
    };
    for (const index of [0, 30, 77]) {
      expect(eyesAt(turning, index)?.x).toBeCloseTo(eyesAt(figure.project, 0)?.x ?? NaN, 9);
      expect(eyesAt(turning, index)?.y).toBeCloseTo(eyesAt(figure.project, 0)?.y ?? NaN, 9);
    }
  });

  it('go through views in their order at an even speed, or by the legs’ own times', () => {
    const { project, cameraId } = marked([
      [0, [0, 1.6, 6]],
      [24, [4, 2, 3]],
      [48, [5, 3, -4]],
    ]);
    const views = viewsOf(project, cameraId, marksInOrder(moveOf(project, cameraId)));
    const through = (even: boolean) => {
      const legsFlicks = [frame(24), frame(72)];
      const markIds = views.map(() => nextId());
      return after(
        project,
        moveThroughViews(project, cameraId, { views, legsFlicks, even, eased: false }, { atFlicks: at(), markIds }),
      );
    };
    const legs = through(false);
    expect(distance(cameraAt(legs, cameraId, frame(24)).positionM, [4, 2, 3])).toBeLessThan(1e-6);
    expect(distance(cameraAt(legs, cameraId, frame(96)).positionM, [5, 3, -4])).toBeLessThan(1e-6);
    const even = through(true);
    const speeds = Array.from({ length: 95 }, (_, i) =>
      distance(cameraAt(even, cameraId, frame(i)).positionM, cameraAt(even, cameraId, frame(i) + FRAME / 50).positionM),
    );
    expect(Math.max(...speeds) / Math.min(...speeds)).toBeLessThan(1.001);
    // Each view's mark has its keys, on the way too.
    const { curves } = moveOf(even, cameraId)!;
    const off = marksInOrder(moveOf(even, cameraId)).filter((mark) =>
      isMovedOff({ curves }, even.cameras[cameraId]!, mark),
    );
    expect(off).toEqual([]);
  });

  it('never flip where a camera passes straight over what it looks at', () => {
    const { project, cameraId } = marked([
      [0, [0, 6, 3]],
      [48, [0, 6, -3]],
    ]);
    const aimed = after(
      project,
      setCamera(project, cameraId, 'Aim', { aim: { kind: 'point', positionM: [0, 0, 0.001] } }),
    );
    let before = cameraAt(aimed, cameraId, 0).panDeg;
    for (let i = 1; i <= 480; i++) {
      const { panDeg } = cameraAt(aimed, cameraId, (frame(48) * i) / 480);
      expect(Math.abs(panDeg - before)).toBeLessThan(30);
      before = panDeg;
    }
  });
});

describe('marks', () => {
  const three = () =>
    marked([
      [0, [0, 1.6, 6]],
      [10, [2, 1.6, 3]],
      [48, [5, 1.6, 1]],
    ]);
  const frames = (project: Project, cameraId: string) =>
    marksInOrder(moveOf(project, cameraId)).map((mark) => `${mark.name}${mark.atFlicks / FRAME}`);

  it('are spaced, given legs, put in another order and left out, their poses going with them', () => {
    const { project, cameraId } = three();
    const spaced = after(project, spaceMarks(project, cameraId, FRAME));
    expect(frames(spaced, cameraId)).toEqual(['A0', 'B24', 'C48']);
    expect(cameraAt(spaced, cameraId, frame(24)).positionM[0]).toBeCloseTo(2, 9);
    const [a, b, c] = marksInOrder(moveOf(spaced, cameraId));
    const legged = after(spaced, setLeg(spaced, cameraId, a?.id ?? '', frame(12)));
    expect(frames(legged, cameraId)).toEqual(['A0', 'B12', 'C36']);
    const turned = after(spaced, reorderMark(spaced, cameraId, c?.id ?? '', 0));
    expect(frames(turned, cameraId)).toEqual(['C0', 'A24', 'B48']);
    expect(cameraAt(turned, cameraId, 0).positionM[0]).toBeCloseTo(5, 9);
    const without = after(spaced, leaveOutMark(spaced, cameraId, b?.id ?? '', true));
    expect(cameraAt(without, cameraId, frame(24)).positionM[0]).toBeCloseTo(2.5, 9);
    const again = after(without, leaveOutMark(without, cameraId, b?.id ?? '', false));
    expect(cameraAt(again, cameraId, frame(24)).positionM[0]).toBeCloseTo(2, 9);
    const removed = after(without, removeMark(without, cameraId, b?.id ?? ''));
    expect(frames(removed, cameraId)).toEqual(['A0', 'C48']);
  });
});

describe('tools for curves', () => {
  const curve = keys([0, 1], [10, 4], [20, 2]);
  const all = new Set(curve.map((key) => key.atFlicks));

  it('move, scale, mirror, turn round and repeat', () => {
    expect(mapKeys(curve, all, { timeScale: 2, aboutFlicks: frame(10) }).map((key) => key.atFlicks / FRAME)).toEqual([
      // What would begin before the scene stops at its start, all together.
      -10 + 10,
      10 + 10,
      30 + 10,
    ]);
    const together = { timeScale: 1e-9, aboutFlicks: 0 };
    expect(() => mapKeys(curve, all, together)).toThrow(/one frame/);
    expect(mapKeys(curve, all, { valueScale: -1, aboutValue: 2 }).map((key) => key.value)).toEqual([3, 0, 2]);
    expect(reversed(curve, all).map((key) => key.value)).toEqual([2, 4, 1]);
    expect(looped(curve, all, frame(20)).map((key) => [key.atFlicks / FRAME, key.value])).toEqual([
      [0, 1],
      [10, 4],
      [20, 2],
      [30, 4],
      [40, 2],
    ]);
    const again = looped(curve, all, frame(21)).slice(3);
    expect(again.map((key) => [key.atFlicks / FRAME, key.value])).toEqual([
      [21, 1],
      [31, 4],
      [41, 2],
    ]);
    expect(valueOnward(curve, 'repeat', frame(25))).toBeCloseTo(valueAt(curve, frame(5)) ?? NaN, 12);
    expect(valueOnward(curve, 'onward', frame(45))).toBeCloseTo((valueAt(curve, frame(5)) ?? NaN) + 2, 12);
  });

  it('read backward as they read forward, whatever the shape of the keys', () => {
    fc.assert(
      fc.property(anyCurve, (one) => {
        const back = reversed(one, new Set(one.map((key) => key.atFlicks)));
        const end = one.at(-1)?.atFlicks ?? 0;
        for (let share = 0.013; share < 1; share += 0.0371) {
          expect(valueAt(back, end - Math.round(end * share))).toBeCloseTo(
            valueAt(one, Math.round(end * share)) ?? NaN,
            4,
          );
        }
      }),
    );
  });

  it('become free, or are keyed between two keys, without changing their form', () => {
    fc.assert(
      fc.property(anyCurve, fc.double({ min: 0.01, max: 0.99, noNaN: true }), (one, where) => {
        const end = one.at(-1)?.atFlicks ?? 0;
        const free = shapedKeys(
          one,
          new Set(one.filter(({ shape }) => shape !== 'hold').map((key) => key.atFlicks)),
          'free',
        );
        const more = dividedAt(one, Math.round(end * where));
        for (let share = 0.013; share < 1; share += 0.0371) {
          const [at, was] = [Math.round(end * share), valueAt(one, Math.round(end * share)) ?? NaN];
          expect(apart(more, at, was)).toBeLessThan(1e-3);
          expect(apart(free, at, was)).toBeLessThan(1e-3);
        }
      }),
    );
  });

  it('thin dense keys and stay within the tolerance that is said', () => {
    const dense: Curve = Array.from({ length: 400 }, (_, i) => ({
      atFlicks: frame(i),
      value: Math.sin(i / 30) * 5,
      shape: 'smooth' as const,
    }));
    const { curve: thin, error } = thinned(dense, 0.02);
    expect(thin.length).toBeLessThan(80);
    const worst = Math.max(...dense.map((key) => Math.abs((valueAt(thin, key.atFlicks) ?? 0) - key.value)));
    expect(worst).toBeLessThanOrEqual(error + 1e-12);
    expect(error).toBeLessThanOrEqual(0.02);
  });

  it('ease a key by flat handles as long as they are told', () => {
    const eased = easedKeys(keys([0, 0], [20, 1]), new Set([0]), { in: 0, out: 0.5 });
    expect(valueAt(eased, frame(2))).toBeLessThan(valueAt(keys([0, 0], [20, 1]), frame(2)) ?? 0);
    expect(eased[0]?.out?.flicks).toBe(frame(10));
  });
});

describe('retiming', () => {
  const two = () =>
    marked([
      [24, [0, 1.6, 6]],
      [72, [4, 1.6, 6]],
    ]);

  it('stretches, reverses and ramps over the length that was asked for', () => {
    const { project, cameraId } = two();
    const long = after(project, stretchMove(project, cameraId, frame(96), { along: 'camera' as const }));
    expect(cameraAt(long, cameraId, frame(120)).positionM[0]).toBeCloseTo(4, 9);
    expect(cameraAt(long, cameraId, frame(72)).positionM[0]).toBeCloseTo(2, 9);
    const back = after(project, reverseMove(project, cameraId));
    expect(cameraAt(back, cameraId, frame(24)).positionM[0]).toBeCloseTo(4, 9);
    const ramped = after(project, rampMove(project, cameraId, 0.5, 1.5));
    // An even change from half to one and a half times the speed: a quarter of 3/8 behind in the middle.
    const middle = cameraAt(ramped, cameraId, frame(48)).positionM[0];
    expect(middle).toBeCloseTo(cameraAt(project, cameraId, frame(24 + 48 * (0.5 * 0.5 + 0.25 * 0.5))).positionM[0], 2);
    expect(cameraAt(ramped, cameraId, frame(72)).positionM[0]).toBeCloseTo(4, 9);
  });

  it('keeps seconds or frame numbers at another rate, as it says', () => {
    const { project, cameraId } = two();
    const rate = { frames: 30, seconds: 1 };
    const seconds = after(project, changeRate(project, rate, 'seconds', { along: 'both' as const }));
    expect(cameraAt(seconds, cameraId, flicksFromSeconds(3)).positionM[0]).toBeCloseTo(4, 9);
    const frames = after(project, changeRate(project, rate, 'frames', { along: 'both' as const }));
    expect(cameraAt(frames, cameraId, flicksAtFrame(72, rate)).positionM[0]).toBeCloseTo(4, 9);
  });

  it('copies a move in the world, or begun from where the other camera stands and turned with it', () => {
    const { project, cameraId } = two();
    const other = nextId();
    const pose: Camera['pose'] = { positionM: [10, 3, 0], panDeg: 90, tiltDeg: 0, rollDeg: 0 };
    const { revision: _revision, ...own } = camera(project, cameraId);
    const both = after(project, {
      name: 'Second camera',
      operations: [creation('camera', { ...own, id: other, number: 2, pose })],
    });
    const to = [other];
    const world = after(both, copyMove(both, cameraId, to, ['place', 'head'], 'world'));
    expect(cameraAt(world, other, frame(72)).positionM).toEqual(cameraAt(both, cameraId, frame(72)).positionM);
    const relative = after(both, copyMove(both, cameraId, to, ['place', 'head'], 'relative'));
    const end = cameraAt(relative, other, frame(72));
    // To the right of a camera that looks along −Z is +X; of one that looks along +X it is +Z.
    expect(end.positionM[0]).toBeCloseTo(10, 9);
    expect(end.positionM[2]).toBeCloseTo(4, 9);
    expect(end.panDeg).toBeCloseTo(90, 9);
  });
});

describe('focus over time', () => {
  it('goes from one subject to another in the seconds it is given, evenly in dioptres', () => {
    const { project, cameraId } = projectWithCamera();
    const near = withFigure(project, [0, 0, -2]);
    const far = withFigure(near.project, [0, 0, -8]);
    const rack = {
      id: nextId(),
      subjectId: far.id,
      point: 'eyes' as const,
      startFlicks: frame(24),
      durationFlicks: frame(24),
      ease: 0,
    };
    const racked = after(far.project, addRack(far.project, cameraId, rack, near.id));
    const depth = (index: number) => cameraAt(racked, cameraId, frame(index)).focus.distanceM;
    const [a, b] = [depth(0), depth(60)];
    expect(b - a).toBeCloseTo(6, 6);
    expect(depth(36)).toBeCloseTo(2 / (1 / a + 1 / b), 9);
    expect(cameraAt(racked, cameraId, frame(36)).focus.rack?.share).toBeCloseTo(0.5, 9);
  });
});

describe('comfort', () => {
  const panning = (degreesASecond: number) => {
    const { project, cameraId } = projectWithCamera();
    const pan: Curve = [
      { atFlicks: 0, value: 0, shape: 'linear' },
      { atFlicks: frame(96), value: degreesASecond * 4, shape: 'linear' },
    ];
    return { project: after(project, setCurves(project, cameraId, 'Pan', { pan }, at())), cameraId };
  };

  it('reads a pan’s speed, and its flow in the middle as tan of the step over the frame', () => {
    const { project, cameraId } = panning(6);
    const { frames } = comfortOf(project, cameraId, 0, frame(90));
    expect(frames[40]?.turnRate).toBeCloseTo(6, 6);
    expect(frames[40]?.speed).toBe(0);
    const { lens, framing } = cameraAt(project, cameraId, 0);
    const middle = (Math.tan((6 / 24) * (Math.PI / 180)) * lens.focalLengthMm * 24) / framing.used.widthMm;
    expect(frames[40]?.flow).toBeGreaterThanOrEqual(middle);
    expect(frames[40]?.flow).toBeLessThan(middle * 1.35);
  });

  it('marks strobing beyond the limit for the rate and shutter, and nothing below it', () => {
    expect(judderLimit({ frames: 24, seconds: 1 }, 180)).toBeCloseTo(1 / 7, 12);
    expect(judderLimit({ frames: 48, seconds: 1 }, 180)).toBeCloseTo(2 / 7, 12);
    const calm = panning(2);
    expect(comfortOf(calm.project, calm.cameraId, 0, frame(90)).events).toEqual([]);
    const fast = panning(40);
    const { events, restless } = comfortOf(fast.project, fast.cameraId, 0, frame(90));
    // It begins at once, too: that is seen even where the first key is the first frame looked at.
    expect(events.map(({ kind }) => kind)).toEqual(['strobe', 'sudden-start']);
    expect(restless.whole).toBeGreaterThan(0.5);
  });

  it('finds a camera that stops dead, and settling it leaves no jolt', () => {
    const { project, cameraId } = marked([
      [0, [0, 1.6, 6]],
      [24, [3, 1.6, 6]],
    ]);
    const move = moveOf(project, cameraId);
    const positionX = (move?.curves['positionX'] ?? []).map((key) => ({ ...key, shape: 'linear' as const }));
    const dead = after(project, setCurves(project, cameraId, 'Dead', { positionX }, at()));
    const stops = (now: Project) =>
      comfortOf(now, cameraId, 0, frame(60)).events.filter(({ kind }) => kind === 'sudden-stop');
    const [stop] = stops(dead);
    expect(stop?.fromFrame).toBe(24);
    const mended = after(dead, settle(dead, cameraId, { kind: 'sudden-stop', atFlicks: frame(24), settleS: 1 }).edit);
    expect(stops(mended)).toEqual([]);
    expect(cameraAt(mended, cameraId, frame(60)).positionM[0]).toBeCloseTo(3, 9);
  });
});

describe('channels', () => {
  it('key EV, taken up by neutral density, and by ISO where there is none left to take', () => {
    const { project, cameraId } = projectWithCamera();
    const open = cameraAt(project, cameraId, 0).exposure.ev100;
    const ev: Curve = [
      { atFlicks: 0, value: open + 2, shape: 'linear' },
      { atFlicks: frame(24), value: open - 1, shape: 'linear' },
    ];
    const keyed = after(project, setCurves(project, cameraId, 'EV', { ev }, at()));
    const [bright, dark] = [cameraAt(keyed, cameraId, 0).exposure, cameraAt(keyed, cameraId, frame(24)).exposure];
    expect([bright.ndStops, bright.iso]).toEqual([2, 100]);
    expect([dark.ndStops, dark.iso]).toEqual([0, 200]);
    expect(dark.ev100).toBeCloseTo(open - 1, 12);
  });

  it('key the stops of a light group for one camera alone', () => {
    const { project, cameraId } = projectWithCamera();
    const groupId = nextId();
    const group = {
      id: groupId,
      revision: 'first',
      name: 'lamp room',
      level: { stops: 1, tint: '#ffddaa', on: false },
    };
    const lit = { ...project, lightGroups: { [groupId]: group } };
    const channel = `light:${groupId}`;
    const curve = keys([0, -3], [24, 2]);
    const keyed = after(lit, setCurves(lit, cameraId, 'Light', { [channel]: curve }, at()));
    expect(cameraAt(keyed, cameraId, frame(24)).lightMix[groupId]).toEqual({ stops: 2, tint: '#ffddaa', on: true });
    expect(keyed.lightGroups[groupId]?.level.on).toBe(false);
  });

  it('go where the time of the move says: slower, backward, held', () => {
    const { project, cameraId } = marked([
      [0, [0, 1.6, 6]],
      [48, [4, 1.6, 6]],
    ]);
    const timeWarp: Curve = [
      { atFlicks: 0, value: 2, shape: 'linear' },
      { atFlicks: frame(48), value: 0, shape: 'linear' },
    ];
    const backward = after(project, setCurves(project, cameraId, 'Time', { timeWarp }, at()));
    for (const index of [0, 13, 48]) {
      const there = cameraAt(project, cameraId, frame(48 - index)).positionM[0];
      expect(cameraAt(backward, cameraId, frame(index)).positionM[0]).toBeCloseTo(there, 6);
    }
  });

  it('rest where the camera is when their last key goes', () => {
    const { project, cameraId } = marked([
      [0, [0, 1.6, 6]],
      [48, [4, 1.6, 6]],
    ]);
    const still = after(project, setCurves(project, cameraId, 'Delete keys', { positionX: [] }, frame(24)));
    expect(camera(still, cameraId).pose.positionM[0]).toBeCloseTo(2, 9);
    expect(cameraAt(still, cameraId, frame(48)).positionM[0]).toBeCloseTo(2, 9);
    expect(moveOf(still, cameraId)?.curves['positionX']).toBeUndefined();
  });

  it('are refused by a name that no camera has', () => {
    const { project, cameraId } = projectWithCamera();
    const wrong = keys([0, 1]);
    expect(() => after(project, setCurves(project, cameraId, 'Wrong', { wrong }, at()))).toThrow(
      /no such channel|invalid/i,
    );
  });
});

describe('what a person sets on a rig', () => {
  it('is its numbers: places become swing, pitch and arm, and a carried head turns back', () => {
    fc.assert(
      fc.property(
        fc.tuple(fc.double({ min: -9, max: 9, noNaN: true }), fc.double({ min: 2, max: 9, noNaN: true })),
        fc.double({ min: -60, max: 60, noNaN: true }),
        ([x, y], pan) => {
          const { project, cameraId } = projectWithCamera();
          const crane: Rig = {
            kind: 'crane',
            atM: [0.5, 0, 12],
            turnDeg: 20,
            head: 'carried',
            columnM: 1.3,
            riserM: 0.2,
            swingDeg: 10,
            pitchDeg: 5,
            armM: 5,
          };
          const rigged = after(project, setCamera(project, cameraId, 'Crane', { rig: crane }));
          const world = { positionX: x, positionY: y, positionZ: 1, pan, tilt: -4, roll: 2 };
          const own = ownValues(rigged, cameraId, world, 0);
          const state = cameraAt(rigged, cameraId, 0, own);
          expect(distance(state.positionM, [x, y, 1])).toBeLessThan(1e-9);
          expect(state.panDeg).toBeCloseTo(pan, 6);
          expect([state.tiltDeg, state.rollDeg]).toEqual([expect.closeTo(-4, 6), expect.closeTo(2, 6)]);
        },
      ),
    );
  });

  it('stays on the track where a rail cannot go', () => {
    const { project, cameraId } = marked([
      [0, [0, 1.6, 6]],
      [24, [6, 1.6, 6]],
    ]);
    const onRail = after(project, changeRig(project, cameraId, rigAround(project, cameraId, 'rail', 0), at()).edit);
    const own = ownValues(onRail, cameraId, { positionX: 3, positionZ: 2 }, 0);
    const { positionM } = cameraAt(onRail, cameraId, 0, own);
    expect(positionM[0]).toBeCloseTo(3, 6);
    expect(positionM[2]).toBeCloseTo(6, 6);
    const body = rigBody(onRail, cameraId, 0);
    expect(body.handles.map(({ kind }) => kind)).toEqual(['rig', 'node', 'node']);
    expect(body.handles[2]?.atM[0]).toBeCloseTo(6, 9);
  });

  it('follows a subject with a lag that grows with its speed', () => {
    const { project, cameraId } = projectWithCamera();
    const figure = withFigure(project, [0, 0, -5], true);
    const rig = (lagS: number): Rig => ({
      kind: 'follow',
      atM: [0, 0, 0],
      turnDeg: 0,
      head: 'world',
      subjectId: figure.id,
      point: 'eyes',
      axes: 'world',
      offsetM: [0, 0, 4],
      lagS,
    });
    const behind = (lagS: number): number => {
      const followed = after(figure.project, setCamera(figure.project, cameraId, 'Follow', { rig: rig(lagS) }));
      const placement = followed.placements[figure.id];
      const [x, , z] = placement ? subjectPointAt(followed, placement, 'eyes', frame(48)) : [0, 0, 0];
      const [cx, , cz] = cameraAt(followed, cameraId, frame(48)).positionM;
      return Math.hypot(cx - x, cz - 4 - z);
    };
    expect(behind(0)).toBeLessThan(1e-9);
    // At an even 0.8 m/s it is behind by what is walked in a lag.
    expect(behind(0.3)).toBeCloseTo(0.24, 3);
    expect(behind(0.4)).toBeCloseTo(0.32, 3);
  });
});

describe('a channel that is keyed where it stands', () => {
  it('changes nothing: neither exposure, nor a light group, nor the clock of the move', () => {
    const { project: bare, cameraId } = marked([
      [0, [0, 1.6, 0]],
      [48, [4, 1.6, 0]],
    ]);
    const groupId = nextId();
    const level = { stops: -1.5, tint: '#ffffff', on: true };
    const group = { id: groupId, revision: 'first', name: 'lantern', level };
    const project = { ...bare, lightGroups: { [groupId]: group } };
    for (const channel of ['ev', 'timeWarp', 'fStop', 'shiftY', `light:${groupId}`] as const) {
      const keyed = after(project, keyHere(project, cameraId, channel, at(frame(20))));
      expect(moveOf(keyed, cameraId)?.curves[channel]?.length, channel).toBeGreaterThan(0);
      for (const index of [0, 13, 20, 48]) {
        const [now, before] = [cameraAt(keyed, cameraId, frame(index)), cameraAt(project, cameraId, frame(index))];
        expect(distance(now.positionM, before.positionM), channel).toBeLessThan(1e-9);
        const seen = ({ exposure }: typeof now) => exposure.ev100 + exposure.ndStops;
        expect(seen(now)).toBeCloseTo(seen(before), 9);
        expect(now.lightMix[groupId]).toEqual(before.lightMix[groupId]);
      }
    }
  });

  it('keeps a group dark that is switched off', () => {
    const { project: bare, cameraId } = projectWithCamera();
    const groupId = nextId();
    const group = { id: groupId, revision: 'first', name: 'room', level: { stops: 0, tint: '#ffffff', on: false } };
    const project = { ...bare, lightGroups: { [groupId]: group } };
    const keyed = after(project, keyHere(project, cameraId, `light:${groupId}`, at(0)));
    expect(cameraAt(keyed, cameraId, frame(9)).lightMix[groupId]?.on).toBe(false);
  });
});

describe('a new follower', () => {
  it('follows whom the camera is about, else who is nearest the middle of its picture, else nobody can be', () => {
    const { project: bare, cameraId } = projectWithCamera();
    expect(() => rigAround(bare, cameraId, 'follow', 0)).toThrow(/nobody to follow/);
    const aside = withFigure(bare, [4, 0, -6]);
    const ahead = withFigure(aside.project, [0.3, 0, -9]);
    const { project, id: behindId } = withFigure(ahead.project, [0, 0, 3]);
    expect(rigAround(project, cameraId, 'follow', 0)).toMatchObject({ subjectId: ahead.id });
    const aim = { kind: 'subject', placementId: behindId, point: 'eyes', weight: 1, smoothingS: 0 } as const;
    const aimed = after(project, setCamera(project, cameraId, 'Aim', { aim: { ...aim, offsetM: [0, 0, 0] } }));
    expect(rigAround(aimed, cameraId, 'follow', 0)).toMatchObject({ subjectId: behindId });
  });
});

describe('a named move on a rig', () => {
  it('tells how far from its end it ends where the rig cannot go there', () => {
    const { project, cameraId } = marked([[0, [0, 1.6, 0]]]);
    const truck = order('truck', 1.5, 2);
    expect(endsBeside(project, cameraId, truck, at(0))).toBe(0);
    // A new rail of 4 m lies across the view, so that a truck goes along it and a push in cannot leave it.
    const { edit } = changeRig(project, cameraId, rigAround(project, cameraId, 'rail', 0), at(0));
    const railed = after(project, edit);
    expect(endsBeside(railed, cameraId, truck, at(0))).toBeLessThan(0.005);
    expect(endsBeside(railed, cameraId, order('push-in', 1.5, 2), at(0))).toBeCloseTo(1.5, 3);
    expect(endsBeside(railed, cameraId, order('pan', 30, 2), at(0))).toBe(0);
  });
});
