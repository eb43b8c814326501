import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { angleBetweenDeg, cameraAt, deliveredWindow, deviation, projectedLens } from '../src/camera';
import { findingsOf } from '../src/checks';
import { comfortOf } from '../src/comfort';
import type { Curve } from '../src/curve';
import { EASING_DEFAULTS } from '../src/curve';
import { setCamera } from '../src/edits/camera';
import type { MoveOrder } from '../src/edits/move';
import { addNamedMove, bakeRig, changeRig, copyMove, keyHere, rigAround, setCurves, setMark } from '../src/edits/move';
import { arrayPlacements, attachPlacements, deletePlacements, keyPlacement } from '../src/edits/set';
import { cameraRows } from '../src/facts';
import type { Camera, Project, Rig } from '../src/model';
import { applyChange, boundsOf, CAMERA_DEFAULTS, CHANNELS, moveOf, rigSchema, SHOT_DEFAULTS } from '../src/model';
import { focusLimits, holdSharpMarked, projectPoint, sightThrough } from '../src/optics';
import { placementAt } from '../src/set';
import type { Vector } from '../src/space';
import { distanceBetween, pathThrough } from '../src/space';
import { flicksPerFrame } from '../src/time';
import { after, nextId, projectWithCamera, SEQUENCE_ID, withFigure } from './sample-project';

const FRAME = flicksPerFrame({ frames: 24, seconds: 1 });
const frame = (index: number) => Math.round(index * FRAME);
const metres = (most: number) => fc.double({ min: -most, max: most, noNaN: true });
const pose = (positionM: Vector, panDeg = 0): Camera['pose'] => ({ positionM, panDeg, tiltDeg: 0, rollDeg: 0 });
const line = (...keys: readonly (readonly [number, number])[]): Curve =>
  keys.map(([at, value]) => ({ atFlicks: frame(at), value, shape: 'linear' }));
const keyed = (project: Project, cameraId: string, curves: Record<string, Curve>) =>
  after(project, setCurves(project, cameraId, 'Keys', curves, 0));
const order = (move: MoveOrder['move'], amount: number, subjectId: string | null): MoveOrder => ({
  ...EASING_DEFAULTS,
  settleS: 0,
  move,
  amount,
  seconds: 2,
  subjectId,
});
const turns = (project: Project, cameraId: string, frames: number) =>
  Array.from({ length: frames }, (_, i) =>
    angleBetweenDeg(cameraAt(project, cameraId, frame(i)), cameraAt(project, cameraId, frame(i + 1))),
  );

describe('a pan', () => {
  it('goes on from frame to frame, however often an aimed or carried camera goes round', () => {
    const kinds = fc.constantFrom('orbit' as const, 'keys' as const, 'rail' as const);
    fc.assert(
      fc.property(kinds, fc.integer({ min: 1, max: 4 }), fc.boolean(), metres(170), (kind, rounds, forward, own) => {
        const sign = forward ? 1 : -1;
        const base = { atM: [0, 0, 0] as Vector, turnDeg: 0 };
        const ring: Vector[] = [0, 1, 2, 3, 4].map((i) => [5 * Math.sin(i * 1.2566), 0, 5 * Math.cos(i * 1.2566)]);
        const rigs: Record<typeof kind, Rig> = {
          orbit: {
            kind: 'orbit',
            ...base,
            head: 'world',
            subjectId: null,
            point: 'middle',
            angleDeg: 0,
            radiusM: 4,
            heightM: 1,
          },
          keys: { kind: 'sticks' },
          rail: {
            kind: 'rail',
            ...base,
            head: 'carried',
            nodesM: ring,
            straight: [],
            closed: true,
            by: 'share',
            along: 0,
            cameraM: [0, 1.5, 0],
          },
        };
        const aim: Camera['aim'] = kind === 'rail' ? { kind: 'free' } : { kind: 'point', positionM: [0.2, 1, 0.1] };
        const { project, cameraId } = projectWithCamera({ rig: rigs[kind], aim, pose: pose([0, 2, 5], own) });
        const count = 240;
        const round = (at: (angle: number) => number): Curve =>
          Array.from({ length: count + 1 }, (_, i) => ({
            atFlicks: frame(i),
            shape: 'linear' as const,
            value: at((sign * rounds * i * 2 * Math.PI) / count),
          }));
        const moved = keyed(
          project,
          cameraId,
          kind === 'orbit'
            ? { orbit: line([0, 0], [count, sign * rounds * 360]) }
            : kind === 'rail'
              ? { along: line([0, 0], [count, sign * rounds * 100]) }
              : { positionX: round((angle) => 5 * Math.sin(angle)), positionZ: round((angle) => 5 * Math.cos(angle)) },
        );
        const pans = [...cameraRows(moved, cameraId, 1001, 1001 + count)].map((row) => Number(row['pan_deg']));
        const steps = pans.slice(1).map((pan, i) => Math.abs(pan - (pans[i] ?? NaN)));
        expect(Math.max(...steps)).toBeLessThan(60);
        expect(Math.abs((pans[count] ?? NaN) - (pans[0] ?? NaN))).toBeCloseTo(360 * rounds, 6);
        // And a part of the table says the same as the whole.
        const [later] = cameraRows(moved, cameraId, 1200, 1200);
        expect(later?.['pan_deg']).toBe(pans[199]);
      }),
      { numRuns: 40 },
    );
  });
});

describe('an aim', () => {
  it('turns evenly over its target, and never flips with any share of its weight', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.05, max: 1, noNaN: true }),
        fc.double({ min: 0.5, max: 4, noNaN: true }),
        (weight, radiusM) => {
          const { project, cameraId } = projectWithCamera();
          const figure = withFigure(project, [0, 0, 0]);
          const rig: Rig = {
            kind: 'orbit',
            atM: [0, 0, 0],
            turnDeg: 0,
            head: 'world',
            subjectId: figure.id,
            point: 'eyes',
            angleDeg: 0,
            radiusM,
            heightM: 3,
          };
          const aim: Camera['aim'] = {
            kind: 'subject',
            placementId: figure.id,
            point: 'eyes',
            offsetM: [0, 0, 0],
            weight,
            smoothingS: 0,
          };
          const aimed = after(figure.project, setCamera(figure.project, cameraId, 'Aim', { rig, aim }));
          const moved = keyed(aimed, cameraId, { orbit: line([0, 0], [240, 720]) });
          expect(Math.max(...turns(moved, cameraId, 240))).toBeLessThan(6);
        },
      ),
      { numRuns: 30 },
    );
  });

  it('stays on the target of a head that carries its camera beside its axis', () => {
    fc.assert(
      fc.property(fc.tuple(metres(300), metres(300), metres(300)), metres(6), (offset, x) => {
        const aim: Camera['aim'] = { kind: 'point', positionM: [x, 1, -5] };
        const { project, cameraId } = projectWithCamera({ headOffsetMm: offset, aim });
        const state = cameraAt(project, cameraId, 0);
        const seen = projectPoint([x, 1, -5], state, projectedLens(state), deliveredWindow(state));
        expect([seen?.x, seen?.y]).toEqual([expect.closeTo(0.5, 4), expect.closeTo(0.5, 4)]);
        expect(distanceBetween(state.positionM, [0, 1.6, 0])).toBeCloseTo(Math.hypot(...offset) / 1000, 9);
      }),
    );
  });
});

describe('a follower with a lag', () => {
  it('sets out and turns without a lurch, and is behind by its lag at an even speed', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.2, max: 3, noNaN: true }),
        fc.double({ min: 0.3, max: 2, noNaN: true }),
        (lagS, speed) => {
          const { project, cameraId } = projectWithCamera();
          const figure = withFigure(project, [0, 0, 0]);
          const placement = figure.project.placements[figure.id];
          if (!placement) throw new Error('nobody');
          const positionX = [...line([0, 0], [48, 0], [480, 18 * speed])];
          const walking = {
            ...figure.project,
            placements: { [figure.id]: { ...placement, motion: { kind: 'keys' as const, curves: { positionX } } } },
          };
          const rig: Rig = {
            kind: 'follow',
            atM: [0, 0, 0],
            turnDeg: 0,
            head: 'world',
            subjectId: figure.id,
            point: 'foot',
            axes: 'world',
            offsetM: [0, 0, 3],
            lagS,
          };
          const followed = after(walking, setCamera(walking, cameraId, 'Follow', { rig }));
          const xs = Array.from({ length: 480 }, (_, i) => cameraAt(followed, cameraId, frame(i)).positionM[0]);
          const speeds = xs.slice(1).map((x, i) => (x - (xs[i] ?? 0)) * 24);
          const jolts = speeds.slice(1).map((one, i) => Math.abs(one - (speeds[i] ?? 0)));
          // A tenth of the speed it comes to is not felt in one frame, unless the lag itself is that short.
          expect(Math.max(...jolts)).toBeLessThan(Math.max(0.1, 0.06 / lagS) * speed);
          const [x] = placementAt(followed, figure.id, frame(470)).positionM;
          if (lagS < 2) expect(x - (xs[470] ?? 0)).toBeCloseTo(lagS * speed, 2);
        },
      ),
      { numRuns: 30 },
    );
  });
});

describe('named moves', () => {
  // So far that nobody whom a move is about ever comes to stand behind the camera.
  const MOVES: readonly (readonly [MoveOrder['move'], number])[] = [
    ...([
      ['push-in', 0.8],
      ['truck', -1.5],
      ['pedestal', 0.7],
      ['pan', 10],
      ['tilt', -8],
      ['zoom', 60],
    ] as const),
    ...([
      ['boom', 1.2],
      ['dolly-zoom', 30],
      ['arc', 50],
      ['roll', 5],
    ] as const),
  ];

  it('one after another keep what came before, its ease too, and begin from the pose', () => {
    const chain = fc.array(fc.constantFrom(...MOVES), { minLength: 2, maxLength: 5 });
    fc.assert(
      fc.property(chain, (moves) => {
        const { project: empty, cameraId } = projectWithCamera({ pose: pose([0.5, 1.6, 6], 8) });
        const figure = withFigure(empty, [0.4, 0, -4]);
        let project = figure.project;
        moves.forEach(([move, amount], i) => {
          const before = project;
          project = after(project, addNamedMove(project, cameraId, order(move, amount, figure.id), frame(i * 48)));
          for (const at of Array.from({ length: i * 12 + 1 }, (_, k) => frame(k * 4))) {
            const [was, is] = [cameraAt(before, cameraId, at), cameraAt(project, cameraId, at)];
            expect(distanceBetween(was.positionM, is.positionM), `${move} after ${i}`).toBeLessThan(0.0015);
            expect(angleBetweenDeg(was, is)).toBeLessThan(0.02);
            expect(Math.abs(was.lens.focalLengthMm - is.lens.focalLengthMm)).toBeLessThan(0.03);
          }
        });
      }),
      { numRuns: 40 },
    );
  });

  it('go evenly in image scale where that is asked for', () => {
    const { project, cameraId } = projectWithCamera();
    const even = { ...order('zoom', 140, null), easeIn: 0, easeOut: 0, inScale: true };
    const zoomed = after(project, addNamedMove(project, cameraId, even, 0));
    const at = (index: number) => cameraAt(zoomed, cameraId, frame(index)).lens.focalLengthMm;
    expect(at(24)).toBeCloseTo(Math.sqrt(at(0) * at(48)), 1);
  });
});

describe('a key', () => {
  it('is set where it is seen, whatever the speed curve, and changes nothing by itself', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 160 }), fc.double({ min: 0, max: 2, noNaN: true }), (at, from) => {
        const { project: empty, cameraId } = projectWithCamera();
        const timeWarp: Curve = [
          { atFlicks: frame(12), value: 0, shape: 'smooth' },
          { atFlicks: frame(108), value: 4, shape: 'smooth' },
        ];
        const positionX: Curve = [0, 30, 60, 96].map((index, i) => ({
          atFlicks: frame(index),
          value: i * i * from,
          shape: 'smooth',
        }));
        const project = keyed(empty, cameraId, { timeWarp, positionX });
        const same = after(project, keyHere(project, cameraId, 'positionX', frame(at)));
        for (let index = 0; index <= 160; index += 5) {
          const [was, is] = [project, same].map((one) => cameraAt(one, cameraId, frame(index)).positionM[0]);
          expect(is).toBeCloseTo(was ?? NaN, 5);
        }
        const marked = after(project, setMark(project, cameraId, frame(at), nextId(), { positionX: 7 }));
        expect(cameraAt(marked, cameraId, frame(at)).positionM[0]).toBeCloseTo(7, 6);
      }),
    );
  });

  it('has a value that its channel can have: refused when it is written, held when it is read', () => {
    const { project, cameraId } = projectWithCamera();
    for (const channel of CHANNELS) {
      const { min, max } = boundsOf(channel);
      for (const value of [min - Math.abs(min) * 0.1 - 1, max * 1.1 + 1]) {
        const move = {
          id: cameraId,
          revision: 'first',
          cameraId,
          curves: { [channel]: [...line([0, value])] },
          after: {},
          marks: [],
        };
        const { id, revision: _, ...fields } = move;
        const write = () =>
          applyChange(project, { id: nextId(), operations: [{ op: 'create', kind: 'move', id, fields }] });
        expect(write, channel).toThrow(/lies between/);
        // What was kept before there were bounds is read within them, and told.
        const kept = { ...project, moves: { [cameraId]: move } };
        const state = cameraAt(kept, cameraId, 0);
        const numbers = [
          ...state.positionM,
          state.panDeg,
          state.lens.focalLengthMm,
          state.lens.horizontalDeg,
          state.focus.nearM,
        ];
        expect([...numbers, state.exposure.ev100, state.exposure.iso].every(Number.isFinite), channel).toBe(true);
        expect(findingsOf(kept).some(({ code }) => code === 'key-impossible')).toBe(true);
      }
    }
  });
});

describe('what a deviation says', () => {
  it('is what is seen over the whole scene: of followers, loops and hands too', () => {
    const { project, cameraId } = projectWithCamera({ pose: pose([0, 1.6, 5]) });
    const figure = withFigure(project, [0, 0, 0], true);
    const onFollow = changeRig(figure.project, cameraId, rigAround(figure.project, cameraId, 'follow', 0), 0);
    const followed = after(figure.project, onFollow.edit);
    const walked = distanceBetween(
      placementAt(followed, figure.id, 0).positionM,
      placementAt(followed, figure.id, frame(24 * 10)).positionM,
    );
    expect(onFollow.deviation.metres).toBeCloseTo(walked, 3);
    const baked = bakeRig(followed, cameraId, 0);
    const keys = after(followed, baked.edit);
    for (const index of [0, 50, 100, 150]) {
      const [was, is] = [followed, keys].map((one) => cameraAt(one, cameraId, frame(index)).positionM);
      expect(distanceBetween(was as Vector, is as Vector)).toBeLessThan(Math.max(1e-9, baked.deviation.metres + 1e-9));
    }
    expect(baked.deviation.metres).toBeLessThan(0.001);
  });

  it('is looked for between the halves of a frame where the stretch is short: slowed down, it would be seen', () => {
    const { project, cameraId } = projectWithCamera({ pose: pose([0, 1.6, 5]) });
    const aside = keyed(project, cameraId, { positionX: line([0, 0], [0.25, 0.2], [0.5, 0], [1, 0]) });
    expect(deviation(project, aside, cameraId, 0, frame(1)).metres).toBeCloseTo(0.2, 6);
  });

  it('is little for baked keys, however sharp a bend is ridden how fast in how long a scene', () => {
    const node = fc.tuple(metres(4), fc.constant(0), metres(4));
    const nodes = fc.array(node, { minLength: 3, maxLength: 6 });
    fc.assert(
      fc.property(nodes, fc.boolean(), fc.integer({ min: 24, max: 96 }), (nodesM, straight, frames) => {
        const { project, cameraId } = projectWithCamera({
          rig: {
            kind: 'rail',
            atM: [1, 0, 2],
            turnDeg: 20,
            head: 'world',
            closed: false,
            by: 'share',
            along: 0,
            nodesM,
            straight: nodesM.map(() => straight),
            cameraM: [0, 1.5, 0],
          },
        });
        const { project: walked } = withFigure(project, [0, 0, 0], true);
        const baked = bakeRig(keyed(walked, cameraId, { along: line([0, 0], [frames, 100]) }), cameraId, 0);
        expect(baked.deviation.metres).toBeLessThan(0.001);
        expect(baked.deviation.degrees).toBeLessThan(0.01);
      }),
      { numRuns: 30 },
    );
  });
});

describe('a path', () => {
  it('has a length, places and headings for any nodes, on each other, up and down, closed or not', () => {
    const node = fc.tuple(
      fc.integer({ min: 0, max: 2 }),
      fc.integer({ min: 0, max: 2 }),
      fc.integer({ min: 0, max: 2 }),
    );
    fc.assert(
      fc.property(
        fc.array(node, { minLength: 2, maxLength: 7 }),
        fc.boolean(),
        fc.array(fc.boolean(), { maxLength: 7 }),
        (nodes, closed, straight) => {
          const path = pathThrough(nodes, closed, straight.some(Boolean) ? straight : 'smooth');
          expect(Number.isFinite(path.lengthM)).toBe(true);
          expect(path.nodeDistancesM.length).toBe(
            closed && path.nodeDistancesM.length > nodes.length ? nodes.length + 1 : nodes.length,
          );
          nodes.forEach((at, i) =>
            expect(distanceBetween(path.pointAt(path.nodeDistancesM[i] ?? NaN), at)).toBeLessThan(1e-6),
          );
          for (let share = 0; share <= 1; share += 0.05) {
            const at = path.lengthM * share;
            for (const value of [...path.pointAt(at), ...path.directionAt(at), path.headingDegAt(at)])
              expect(value).not.toBeNaN();
          }
          const rig = {
            kind: 'rail',
            atM: [0, 0, 0],
            turnDeg: 0,
            head: 'carried',
            nodesM: nodes,
            straight,
            closed,
            by: 'share',
          };
          const parsed = rigSchema.parse({ ...rig, along: 30, cameraM: [0, 1, 0] });
          const { project, cameraId } = projectWithCamera({ rig: parsed });
          expect(cameraAt(project, cameraId, 0).positionM.every(Number.isFinite)).toBe(true);
        },
      ),
    );
  });
});

describe('comfort', () => {
  it('feels a dead start, stop or turning round alike at any rate, and none where all is eased', () => {
    for (const [frames, seconds] of [
      ...([
        [24, 1],
        [25, 1],
        [48, 1],
      ] as const),
      ...([
        [60, 1],
        [24000, 1001],
      ] as const),
    ]) {
      const { project: at24, cameraId } = projectWithCamera();
      const project = { ...at24, head: { ...at24.head, rate: { frames, seconds } } };
      const dead = keyed(project, cameraId, { positionX: line([24, 0], [72, 1], [120, 0], [168, 1]) });
      const kinds = comfortOf(dead, cameraId, 0, frame(200)).events.map(({ kind }) => kind);
      expect(
        kinds.filter((kind) => kind !== 'strobe'),
        `${frames}/${seconds}`,
      ).toEqual([...['sudden-start', 'reversal', 'reversal', 'sudden-stop']]);
      // Nobody sees the camera start or stop where its shot begins and ends with it.
      const own = { id: nextId(), revision: 'first', sequenceId: SEQUENCE_ID, cameraId, name: 'SL_010', order: 'f' };
      const shot = { ...SHOT_DEFAULTS, ...own };
      const cut = { ...shot, sceneStartFlicks: frame(24), durationFlicks: frame(168) - frame(24) };
      const seen = comfortOf({ ...dead, shots: { [shot.id]: cut } }, cameraId, 0, frame(200)).events;
      expect(seen.filter(({ kind }) => kind !== 'strobe').map(({ kind }) => kind)).toEqual(['reversal', 'reversal']);
      const eased = [0, 1].map((value, i): Curve[number] => ({ atFlicks: frame(24 + i * 96), value, shape: 'smooth' }));
      const calm = comfortOf(keyed(project, cameraId, { positionX: eased }), cameraId, 0, frame(160)).events;
      expect(calm.filter(({ kind }) => kind !== 'strobe')).toEqual([]);
    }
  });

  it('reads the flow of the picture that is drawn: with shift, squeeze, distortion and parallel sight', () => {
    const lens = fc.record({
      shiftXMm: metres(5),
      distortionPercent: fc.double({ min: -12, max: 12, noNaN: true }),
      parallelWidthM: fc.constantFrom(null, 8),
    });
    fc.assert(
      fc.property(lens, fc.constantFrom(1, 2), metres(3), (parts, squeeze, step) => {
        const back = { ...CAMERA_DEFAULTS.filmBack, squeeze };
        const { project, cameraId } = projectWithCamera({
          lens: { ...CAMERA_DEFAULTS.lens, ...parts },
          filmBack: back,
        });
        const moved = keyed(project, cameraId, { pan: line([0, 0], [48, step]), positionX: line([0, 0], [48, step]) });
        const [a, b] = [cameraAt(moved, cameraId, 0), cameraAt(moved, cameraId, FRAME)];
        const window = deliveredWindow(a);
        const points = [0, 0.5, 1].flatMap((x) => [0, 0.5, 1].map((y) => [x, y] as const));
        const seen = points
          .filter(([x, y]) => (x === 0.5) === (y === 0.5))
          .map(([x, y]) => {
            const { fromM, direction } = sightThrough(x, y, a, projectedLens(a), window);
            const along = a.focus.distanceM / -direction[2];
            const at: Vector = [
              fromM[0] + direction[0] * along,
              fromM[1] + direction[1] * along,
              fromM[2] + direction[2] * along,
            ];
            const then = projectPoint(at, b, projectedLens(b), window);
            // What no ray brings to the film has left the frame.
            if (!then) return 1;
            return Math.hypot(then.x - x, ((then.y - y) * a.framing.used.heightMm) / a.framing.used.widthMm);
          });
        expect(comfortOf(moved, cameraId, 0, frame(8)).frames[0]?.flow).toBeCloseTo(Math.max(...seen) * 24, 6);
      }),
    );
  });
});

describe('what stands in the set', () => {
  it('may go: cameras that hung on it stay where they were', () => {
    for (const kind of ['follow', 'orbit'] as const) {
      const { project, cameraId } = projectWithCamera({ pose: pose([20, 1.6, -30], 40) });
      const figure = withFigure(project, [22, 0, -35]);
      const rigged = after(
        figure.project,
        changeRig(figure.project, cameraId, rigAround(figure.project, cameraId, kind, 0), 0).edit,
      );
      const aim: Camera['aim'] = {
        kind: 'subject',
        placementId: figure.id,
        point: 'eyes',
        offsetM: [0, 0, 0],
        weight: 1,
        smoothingS: 0,
      };
      const focus = { ...CAMERA_DEFAULTS.focus, mode: 'follow' as const, subjectId: figure.id };
      const aimed = after(rigged, setCamera(rigged, cameraId, 'Aim', { aim, focus }));
      const left = after(aimed, deletePlacements(aimed, [figure.id]));
      const [was, is] = [cameraAt(aimed, cameraId, 0), cameraAt(left, cameraId, 0)];
      expect(distanceBetween(was.positionM, is.positionM)).toBeLessThan(1e-9);
      expect(angleBetweenDeg(was, is)).toBeLessThan(1e-6);
      expect(is.focus.distanceM).toBeCloseTo(was.focus.distanceM, 9);
      const gone = { ...aimed, placements: {} };
      expect(findingsOf(gone).filter(({ code }) => code === 'subject-gone').length).toBeGreaterThan(0);
    }
  });

  it('is copied with all its keys and all that it carries, once', () => {
    const { project } = projectWithCamera();
    const block = withFigure(project, [1, 0, 2]);
    const box = withFigure(block.project, [2, 0, 2]);
    const attached = after(box.project, attachPlacements(box.project, [box.id], block.id, 0));
    const moving = [0, 48].reduce(
      (now, at) => after(now, keyPlacement(now, block.id, frame(at), { positionM: [1 + at, 0, 2] })),
      attached,
    );
    const before = new Set(Object.keys(moving.placements));
    const copied = after(moving, arrayPlacements(moving, [block.id, box.id], nextId, 1, [0, 0, 3]));
    const copies = Object.keys(copied.placements).filter((id) => !before.has(id));
    expect(copies).toHaveLength(2);
    for (const at of [0, 24, 48]) {
      const places = (ids: readonly string[]) =>
        ids.map((id) => placementAt(copied, id, frame(at)).positionM).sort((a, b) => a[0] - b[0]);
      const originals = places([block.id, box.id]);
      places(copies).forEach(([x, , z], i) => {
        expect([x, z]).toEqual([
          expect.closeTo(originals[i]?.[0] ?? NaN, 9),
          expect.closeTo((originals[i]?.[2] ?? NaN) + 3, 9),
        ]);
      });
    }
  });
});

describe('a copied move', () => {
  it('begins where the other camera stands, from any rig', () => {
    for (const kind of ['sticks', 'rail', 'crane', 'orbit', 'follow'] as const) {
      const { project, cameraId } = projectWithCamera({ pose: pose([0, 1.6, 6], 10) });
      const figure = withFigure(project, [1, 0, -2]);
      const other = nextId();
      const second: Camera = {
        id: other,
        revision: 'first',
        number: 2,
        name: 'Second',
        ...CAMERA_DEFAULTS,
        pose: pose([40, 2.5, -20], 100),
        aim: { kind: 'point', positionM: [50, 1.4, -22] },
      };
      const both = { ...figure.project, cameras: { ...figure.project.cameras, [other]: second } };
      const moved = keyed(both, cameraId, {
        positionX: line([0, 0], [24, 1.5], [48, 3]),
        positionZ: line([0, 6], [24, 5], [48, 4]),
        pan: line([0, 10], [24, 16], [48, 22]),
      });
      const rigged =
        kind === 'sticks'
          ? moved
          : after(moved, changeRig(moved, cameraId, rigAround(moved, cameraId, kind, 0), 0).edit);
      const copied = after(rigged, copyMove(rigged, cameraId, [other], ['place', 'head'], 'relative'));
      const start = cameraAt(copied, other, 0);
      expect(distanceBetween(start.positionM, [40, 2.5, -20]), kind).toBeLessThan(0.001);
      // A tilt that is not keyed is no part of the move: it is as the other camera stood, its aim counted.
      if (kind !== 'follow') expect(start.tiltDeg).toBeCloseTo(cameraAt(rigged, other, 0).tiltDeg, 6);
      for (const at of [12, 36, 48]) {
        const [a, b] = [cameraAt(rigged, cameraId, frame(at)), cameraAt(rigged, cameraId, 0)];
        const [c, d] = [cameraAt(copied, other, frame(at)), start];
        expect(distanceBetween(c.positionM, d.positionM), kind).toBeCloseTo(
          distanceBetween(a.positionM, b.positionM),
          2,
        );
        expect(c.panDeg - d.panDeg, kind).toBeCloseTo(a.panDeg - b.panDeg, 1);
      }
      expect(moveOf(copied, other)).toBeDefined();
    }
  });
});

describe('two distances held sharp', () => {
  it('are held at the stop that is given, or it says what is', () => {
    const mm = fc.double({ min: 10, max: 200, noNaN: true });
    fc.assert(
      fc.property(
        mm,
        fc.double({ min: 1.5, max: 20, noNaN: true }),
        fc.double({ min: 1.1, max: 20, noNaN: true }),
        (focal, near, far) => {
          const [nearMm, farMm] = [focal * 3 * near, focal * 3 * near * far];
          const held = holdSharpMarked(focal, nearMm, farMm, 0.02, 1.4);
          expect(held.fStop).toBeLessThanOrEqual(22);
          const limits = focusLimits(focal, held.fStop, held.focusMm, 0.02);
          expect([held.nearMm, held.farMm]).toEqual([limits.nearMm, limits.farMm]);
          expect(held.holds).toBe(limits.nearMm <= nearMm * (1 + 1e-9) && limits.farMm >= farMm * (1 - 1e-9));
        },
      ),
    );
    expect(() => holdSharpMarked(50, 3000, 2000, 0.03, 1.4)).toThrow(/before the far one/);
  });
});
