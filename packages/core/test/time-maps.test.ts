import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import * as z from 'zod';
import { angleBetweenDeg, cameraAt, markState, sceneAt, sceneSpanOf } from '../src/camera';
import type { Curve } from '../src/curve';
import type { Edit } from '../src/edits';
import type { CloseEdit } from '../src/edits/move';
import {
  bakeRig,
  changeRig,
  copyMove,
  mappedCamera,
  mappedCutTimes,
  mappedMove,
  mappedPlacement,
  mappedSequence,
  mappedShot,
  rampMove,
  reverseMove,
  rigAround,
  shiftMove,
  stretchMove,
  TIMES,
} from '../src/edits/move';
import { changeRate } from '../src/edits/project';
import type { Camera, EntityKind, Move, Project, RigKind } from '../src/model';
import { ALL_KINDS, CAMERA_DEFAULTS, cutTimesOf, KINDS, moveOf, PLACEMENT_DEFAULTS, SHOT_DEFAULTS } from '../src/model';
import { distanceBetween } from '../src/space';
import { flicksPerFrame } from '../src/time';
import { after, nextId, projectWithCamera } from './sample-project';

const FRAME = flicksPerFrame({ frames: 24, seconds: 1 });
const frame = (index: number) => Math.round(index * FRAME);

/** Keys over some frames that begin at frame 0 and end at the last, of any shape but one that jumps. */
const wave = (last: number, size: number): fc.Arbitrary<Curve> =>
  fc
    .array(
      fc.tuple(fc.double({ min: -1, max: 1, noNaN: true }), fc.constantFrom('smooth' as const, 'linear' as const)),
      {
        minLength: 2,
        maxLength: 5,
      },
    )
    .map((keys) =>
      keys.map(([value, shape], i) => ({
        atFlicks: frame(Math.round((i * last) / (keys.length - 1))),
        value: value * size,
        shape,
      })),
    );

/** A camera that goes somewhere, and another one that stands. */
const anyMove = fc
  .record({ x: wave(96, 4), z: wave(96, 4), pan: wave(96, 60), zoom: wave(96, 10) })
  .map(({ x, z: south, pan, zoom }) => {
    const { project, cameraId } = projectWithCamera();
    const other = nextId();
    const second: Camera = { id: other, revision: 'first', number: 2, name: 'Second', ...CAMERA_DEFAULTS };
    const focalLength = zoom.map((key) => ({ ...key, value: 50 + key.value }));
    const curves = { positionX: [...x], positionZ: [...south], pan: [...pan], focalLength };
    const marks = [{ id: nextId(), name: 'A', atFlicks: frame(96), leftOut: null }];
    const move: Move = { id: cameraId, revision: 'first', cameraId, curves, after: {}, marks };
    const cameras = { ...project.cameras, [other]: second };
    return { project: { ...project, cameras, moves: { [cameraId]: move } }, cameraId, other };
  });

/** Something that changes time or the rig, where what was at a time comes to be, and how far it says that it strays. */
interface Stepped {
  readonly edit: Edit;
  readonly to: (flicks: number) => number;
  readonly cameraId?: string;
  readonly deviation?: CloseEdit['deviation'];
}
type Step = (project: Project, cameraId: string) => Stepped;

const spanIn = (project: Project, cameraId: string) => sceneSpanOf(moveOf(project, cameraId)) ?? ([0, 0] as const);
const still = { along: 'both' as const };

const anyStep = (other: string): fc.Arbitrary<Step> =>
  fc.oneof(
    fc.integer({ min: 12, max: 300 }).map((length): Step => (project, id) => {
      const [first, last] = spanIn(project, id);
      const unit = flicksPerFrame(project.head.rate);
      return {
        edit: stretchMove(project, id, length * unit, still),
        to: (flicks) => first + ((flicks - first) * length * unit) / (last - first),
      };
    }),
    fc.integer({ min: -200, max: 200 }).map((frames): Step => (project, id) => {
      const by = Math.max(-spanIn(project, id)[0], frame(frames));
      return { edit: shiftMove(project, id, by, still), to: (flicks) => flicks + by };
    }),
    fc.constant<Step>((project, id) => {
      const [first, last] = spanIn(project, id);
      return { edit: reverseMove(project, id), to: (flicks) => first + last - flicks };
    }),
    fc
      .constantFrom({ frames: 24, seconds: 1 }, { frames: 25, seconds: 1 }, { frames: 48, seconds: 1 })
      .map((rate): Step => (project) => {
        const scale = flicksPerFrame(rate) / flicksPerFrame(project.head.rate);
        return { edit: changeRate(project, rate, 'frames', still), to: (flicks) => flicks * scale };
      }),
    fc.constant<Step>((project, id) => ({ ...bakeRig(project, id, 0), to: (flicks) => flicks })),
    fc.constantFrom<RigKind>('sticks', 'rail', 'crane', 'orbit').map((kind): Step => (project, id) => {
      const changed = changeRig(project, id, rigAround(project, id, kind, 0), 0);
      return { ...changed, to: (flicks) => flicks };
    }),
    fc.constant<Step>((project, id) => {
      const to = id === other ? Object.keys(project.cameras).find((one) => one !== other) : other;
      const groups = ['place', 'head', 'lens'] as const;
      return { edit: copyMove(project, id, [to ?? id], groups, 'world'), to: (flicks) => flicks, cameraId: to ?? id };
    }),
  );

describe('whatever changes time', () => {
  it('composes: after any of it in any order, a speed curve first, the camera goes the way it went', () => {
    fc.assert(
      fc.property(
        anyMove.chain((made) =>
          fc.tuple(fc.constant(made), fc.array(anyStep(made.other), { minLength: 1, maxLength: 6 })),
        ),
        fc.tuple(
          fc.boolean(),
          fc.double({ min: 0, max: 2, noNaN: true }),
          fc.double({ min: 0.1, max: 2, noNaN: true }),
        ),
        ([{ project: plain, cameraId }, steps], [ramps, from, to]) => {
          const project = ramps ? after(plain, rampMove(plain, cameraId, from, to)) : plain;
          let [now, id] = [project, cameraId];
          const maps: ((flicks: number) => number)[] = [];
          const strays = { metres: 0.001, degrees: 0.01 };
          for (const step of steps) {
            // Where nothing moves, nothing is retimed.
            if (!sceneSpanOf(moveOf(now, id))) continue;
            const made = step(now, id);
            if (made.edit.operations.length > 0) now = after(now, made.edit);
            id = made.cameraId ?? id;
            maps.push(made.to);
            strays.metres += made.deviation?.metres ?? 0;
            strays.degrees += made.deviation?.degrees ?? 0;
          }
          for (let i = 0; i <= 32; i++) {
            const then = frame(i * 3);
            const at = maps.reduce((flicks, map) => map(flicks), then);
            const [was, is] = [cameraAt(project, cameraId, then), cameraAt(now, id, at)];
            // A baking and another rig stray by as much as they say; what they say is seen at frames and halves.
            expect(distanceBetween(was.positionM, is.positionM)).toBeLessThan(1.02 * strays.metres);
            expect(angleBetweenDeg(was, is)).toBeLessThan(1.02 * strays.degrees);
            // Whoever lays a ramped lens anew samples it: each time it strays by so much between frames.
            expect(Math.abs(was.lens.focalLengthMm - is.lens.focalLengthMm)).toBeLessThan(0.03 * (1 + maps.length));
          }
        },
      ),
      { numRuns: 75 },
    );
  });

  it('takes the marks along: each is where its pose was', () => {
    fc.assert(
      fc.property(anyMove, fc.integer({ min: 20, max: 300 }), ({ project, cameraId }, length) => {
        const ramped = after(project, rampMove(project, cameraId, 0.3, 1));
        const long = after(ramped, stretchMove(ramped, cameraId, frame(length), still));
        const back = after(long, reverseMove(long, cameraId));
        const [mark] = moveOf(back, cameraId)?.marks ?? [];
        if (!mark) throw new Error('the mark is gone');
        expect(sceneAt(moveOf(back, cameraId), mark.atFlicks)).toBe(0);
        const [was, is] = [cameraAt(project, cameraId, frame(96)), markState(back, cameraId, mark)];
        expect(distanceBetween(was.positionM, is.positionM)).toBeLessThan(1e-6);
      }),
    );
  });

  it('knows every field of every kind that holds a time', () => {
    for (const kind of ALL_KINDS) {
      const found = new Set<string>();
      timesIn(z.toJSONSchema(KINDS[kind].schema, { unrepresentable: 'any' }), '', found);
      expect([...found].sort(), kind).toEqual([...(TIMES[kind] ?? [])].sort());
    }
  });

  it('maps every one of those fields', () => {
    const mapping = { timeScale: 3, aboutFlicks: 0, shiftFlicks: 7 };
    const key = { atFlicks: 1000, value: 1, shape: 'smooth' as const };
    const placement = { ...PLACEMENT_DEFAULTS, motion: { kind: 'keys' as const, curves: { pan: [key] } } };
    const walk = { kind: 'path' as const, nodesM: [], groundM: [], speedMps: 1, startFlicks: 1000, closed: false };
    const rack = { id: '', subjectId: '', point: 'eyes' as const, startFlicks: 1000, durationFlicks: 1000, ease: 0 };
    const mark = { id: '', name: 'A', atFlicks: 1000, leftOut: {}, leftOutKeys: { pan: key } };
    const clip = { index: 0, startFlicks: 1000, rate: 1, loop: true };
    const camera = {
      ...CAMERA_DEFAULTS,
      focus: { ...CAMERA_DEFAULTS.focus, racks: [rack] },
      handheld: { ...CAMERA_DEFAULTS.handheld, fromFlicks: 1000, toFlicks: 1000 },
    };
    const after = { afterFlicks: 1000, durationFlicks: 1000 };
    const retime = { speed: 1, ramp: [after], holds: [after] };
    const shown = { sceneStartFlicks: 1000, durationFlicks: 1000, retime };
    const fade = { kind: 'fade', durationFlicks: 1000 };
    const others = { gapFlicks: 1000, entry: fade, fadeOut: fade, handleInFlicks: 1000, handleOutFlicks: 1000 };
    const inTheCut = (kind: EntityKind) => {
      const times = Object.fromEntries(cutTimesOf(kind).map((field) => [field, 1000]));
      return mappedCutTimes(kind, times as never, mapping);
    };
    const mapped: Readonly<Partial<Record<EntityKind, readonly object[]>>> = {
      move: [mappedMove({ curves: { pan: [key] }, marks: [mark] } as unknown as Move, mapping)],
      camera: [mappedCamera(camera as Camera, mapping)],
      placement: [
        mappedPlacement({ ...placement, clip } as never, mapping) ?? {},
        mappedPlacement({ ...placement, motion: { ...walk, facing: 'along' } } as never, mapping) ?? {},
      ],
      shot: [mappedShot({ ...SHOT_DEFAULTS, ...shown, ...others, takes: [shown] } as never, mapping, 1)],
      sequence: [mappedSequence({ handleInFlicks: 1000, handleOutFlicks: 1000 } as never, mapping, 1)],
      ...Object.fromEntries(
        ALL_KINDS.filter((kind) => cutTimesOf(kind).length > 0).map((kind) => [kind, [inTheCut(kind)]]),
      ),
    };
    for (const [kind, fields] of Object.entries(TIMES)) {
      const values = new Map((mapped[kind as EntityKind] ?? []).flatMap((one) => leavesOf(one, '')));
      for (const field of fields) {
        const length = /(duration|gap|after|handleIn|handleOut)Flicks$/.test(field);
        expect(values.get(field), `${kind}.${field}`).toBe(length ? 3000 : 3007);
      }
    }
  });
});

/** Fields of a JSON schema that end in `Flicks`, lists and records left out of their paths; handles are ways from a key. */
function timesIn(schema: unknown, path: string, found: Set<string>): void {
  if (Array.isArray(schema)) for (const one of schema) timesIn(one, path, found);
  if (typeof schema !== 'object' || schema === null || Array.isArray(schema)) return;
  for (const [name, inner] of Object.entries(schema)) {
    if (name !== 'properties') {
      if (typeof inner === 'object') timesIn(inner, path, found);
      continue;
    }
    for (const [field, own] of Object.entries(inner as object)) {
      const at = path === '' ? field : `${path}.${field}`;
      if (field.endsWith('Flicks')) found.add(at);
      else timesIn(own, at, found);
    }
  }
}

/** Values by the same paths, names of channels left out. */
function leavesOf(value: unknown, path: string): [string, unknown][] {
  if (Array.isArray(value)) return value.flatMap((one) => leavesOf(one, path));
  if (typeof value !== 'object' || value === null) return [[path, value]];
  return Object.entries(value).flatMap(([name, inner]) => {
    const record = (path.endsWith('curves') || path.endsWith('leftOutKeys')) && typeof inner === 'object';
    return leavesOf(inner, record ? path : path === '' ? name : `${path}.${name}`);
  });
}
