import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cameraAt } from '../src/camera';
import type { Edit } from '../src/edits';
import { setOwn } from '../src/edits/camera';
import {
  addLightGroup,
  alignPlacements,
  arrayPlacements,
  attachPlacements,
  deletePlacements,
  duplicatePlacements,
  groupPlacements,
  keyPlacement,
  keyTimesOf,
  movedParts,
  putPiece,
  setPlacement,
  stopMoving,
  ungroup,
  keyPlacementChannel,
  setPlacementAfter,
  setPlacementCurves,
  turnPlacement,
  unkeyPlacement,
  walkAlong,
} from '../src/edits/set';
import { setCameraMix } from '../src/edits/looks';
import type { Piece, Placement, PlacementMotion, Project } from '../src/model';
import { clipSecond, PIECE_OFFERS, pieceSchema } from '../src/model';
import {
  appearanceAt,
  eyesM,
  guessUnit,
  placementAt,
  placementBox,
  placementValuesAt,
  subjectPointAt,
} from '../src/set';
import type { Vector } from '../src/space';
import { anglesOf, rotationOf } from '../src/space';
import { flicksFromSeconds } from '../src/time';
import { after, emptyProject, nextId, projectWithCamera } from './sample-project';

const at = (seconds: number) => flicksFromSeconds(seconds);
const box: Piece = { kind: 'box', widthM: 1, heightM: 2, depthM: 1 };

function withPieces(...places: Vector[]): { project: Project; ids: string[] } {
  let project = emptyProject();
  const setId = Object.keys(project.sets)[0] as string;
  const ids = places.map((place) => {
    const id = nextId();
    project = after(
      project,
      putPiece(project, setId, id, { name: 'Box', piece: box, colour: null, subject: false }, place),
    );
    return id;
  });
  return { project, ids };
}
const placeOf = (project: Project, id: string, seconds = 0) => placementAt(project, id, at(seconds)).positionM;
const motionOf = (project: Project, id: string) =>
  project.placements[id]?.motion as Extract<PlacementMotion, { kind: 'keys' }>;
function close(actual: readonly number[], expected: readonly number[], digits = 9): void {
  expected.forEach((value, i) => expect(actual[i]).toBeCloseTo(value, digits));
}

describe('pieces', () => {
  it('are all offered with sizes their own schema takes, and figures have their eyes where eyes are', () => {
    for (const { piece } of PIECE_OFFERS) expect(pieceSchema.parse(piece)).toEqual(piece);
    let { project } = withPieces();
    const setId = Object.keys(project.sets)[0] as string;
    const standing = nextId();
    const offer = PIECE_OFFERS.find(({ name }) => name === 'Figure, standing');
    if (offer) project = after(project, putPiece(project, setId, standing, offer, [3, 0.5, -2], 90));
    const figure = project.placements[standing];
    if (!figure) throw new Error('no figure');
    expect(eyesM(figure)).toBeCloseTo(1.638, 3); // 0.936 of 1.75 m
    close(subjectPointAt(project, figure, 'eyes', 0), [3 + 0.11, 2.138, -2], 3); // it looks east: on its face, 0.063 of 1.75 m
    close(subjectPointAt(project, figure, 'top', 0), [3, 2.25, -2], 9);
  });

  it('are named apart', () => {
    const { project, ids } = withPieces([0, 0, 0], [1, 0, 0], [2, 0, 0]);
    expect(ids.map((id) => project.placements[id]?.name)).toEqual(['box', 'box 2', 'box 3']);
  });
});

describe('what carries and what is carried', () => {
  it('leaves things where they are when they are attached, whichever way the carrier is turned', () => {
    fc.assert(
      fc.property(
        fc.record({ pan: fc.integer({ min: -180, max: 180 }), tilt: fc.integer({ min: -80, max: 80 }) }),
        ({ pan, tilt }) => {
          const { project, ids } = withPieces([5, 1, -3], [7, 0, 2]);
          const [carrier, carried] = ids as [string, string];
          let next = after(project, setPlacement(project, carrier, 'Turn', { panDeg: pan, tiltDeg: tilt }));
          next = after(next, attachPlacements(next, [carried], carrier, 0));
          close(placeOf(next, carried), [7, 0, 2], 8);
          close(placementAt(next, carried, 0).quaternion.map(Math.abs), [0, 0, 0, 1], 8);
          next = after(next, attachPlacements(next, [carried], null, 0));
          close(next.placements[carried]?.positionM ?? [], [7, 0, 2], 8);
        },
      ),
      { numRuns: 40 },
    );
  });

  it('carries what is attached: a quarter turn takes it a quarter round', () => {
    const { project, ids } = withPieces([0, 0, 0], [2, 0, 0]);
    const [carrier, carried] = ids as [string, string];
    let next = after(project, attachPlacements(project, [carried], carrier, 0));
    next = after(next, setPlacement(next, carrier, 'Turn', { panDeg: 90 }));
    close(placeOf(next, carried), [0, 0, 2]); // pan is clockwise from above: east comes to lie south
  });

  it('refuses a circle, and to attach what moves by itself', () => {
    const { project, ids } = withPieces([0, 0, 0], [2, 0, 0]);
    const [one, two] = ids as [string, string];
    const next = after(project, attachPlacements(project, [two], one, 0));
    expect(() => attachPlacements(next, [one], two, 0)).toThrow(/cannot be carried by it/);
    const keyed = after(project, keyPlacement(project, two, 0));
    expect(() => attachPlacements(keyed, [two], one, 0)).toThrow(/Stop its movement/);
  });

  it('groups and ungroups without moving anything, and takes a group out whole', () => {
    const { project, ids } = withPieces([0, 0, 0], [4, 0, 2]);
    const groupId = nextId();
    const grouped = after(project, groupPlacements(project, ids, groupId));
    close(placeOf(grouped, groupId), [2, 0, 1]);
    ids.forEach((id, i) => close(placeOf(grouped, id), [i * 4, 0, i * 2]));
    const apart = after(grouped, ungroup(grouped, groupId));
    ids.forEach((id, i) => close(apart.placements[id]?.positionM ?? [], [i * 4, 0, i * 2]));
    expect(Object.keys(after(grouped, deletePlacements(grouped, [groupId])).placements)).toEqual([]);
  });
});

describe('arranging', () => {
  it('repeats along a line in even steps, each under a name of its own', () => {
    const { project, ids } = withPieces([1, 0, 0]);
    const next = after(project, arrayPlacements(project, ids, nextId, 3, [0, 0, 2.5]));
    const places = Object.values(next.placements).map((one) => one.positionM[2]);
    expect(places.sort((a, b) => a - b)).toEqual([0, 2.5, 5, 7.5]);
    expect(new Set(Object.values(next.placements).map((one) => one.name)).size).toBe(4);
  });

  it('copies what is attached along with its carrier', () => {
    const { project, ids } = withPieces([0, 0, 0], [1, 0, 0]);
    const [carrier, carried] = ids as [string, string];
    let next = after(project, attachPlacements(project, [carried], carrier, 0));
    next = after(next, duplicatePlacements(next, [carrier], nextId, [10, 0, 0]));
    const copied = Object.values(next.placements).find((one) => one.parentId && one.parentId !== carrier);
    close(placeOf(next, copied?.id ?? ''), [11, 0, 0]);
  });

  it('aligns sides and middles of boxes, not their origins', () => {
    const { project, ids } = withPieces([0, 0, 0], [6, 0, 1]);
    const wide = after(project, setPlacement(project, ids[0] as string, 'Size', { piece: { ...box, widthM: 3 } }));
    const low = after(wide, alignPlacements(wide, ids, 0, 'low', 0));
    expect(ids.map((id) => low.placements[id]?.positionM[0])).toEqual([0, -1]); // left sides at −1.5
    const middle = after(wide, alignPlacements(wide, ids, 0, 'middle', 0));
    expect(middle.placements[ids[0] as string]?.positionM[0]).toBeCloseTo(2.5, 9);
  });
});

describe('movement of subjects', () => {
  const walkOf = (project: Project, id: string, edit: Partial<Parameters<typeof walkAlong>[2]> = {}) =>
    walkAlong(project, id, {
      nodesM: [
        [0, 0, 0],
        [10, 0, 0],
        [10, 0, -10],
      ] as [number, number, number][],
      groundM: [],
      speedMps: 2,
      startFlicks: at(1),
      ...edit,
    });

  it('walks at its speed from its start time on, and stands before and after', () => {
    const { project, ids } = withPieces([0, 0, 0]);
    const id = ids[0] as string;
    const walking = after(
      project,
      walkOf(project, id, {
        nodesM: [
          [0, 0, 0],
          [8, 0, 0],
        ],
      }),
    );
    close(placeOf(walking, id, 0), [0, 0, 0]);
    close(placeOf(walking, id, 3), [4, 0, 0], 6); // two seconds at 2 m/s
    close(placeOf(walking, id, 99), [8, 0, 0]);
    expect(anglesOf(placementAt(walking, id, at(2)).quaternion).panDeg).toBeCloseTo(90, 6); // faces east
  });

  it('covers the same ground in every second of a bent path', () => {
    const { project, ids } = withPieces([0, 0, 0]);
    const id = ids[0] as string;
    const walking = after(project, walkOf(project, id));
    const steps = Array.from({ length: 700 }, (_, i) => placeOf(walking, id, 1 + i / 100)).map((p, i, all) => {
      const q = all[i + 1] ?? p;
      return Math.hypot(q[0] - p[0], q[2] - p[2]);
    });
    for (const step of steps.slice(0, -1)) expect(Math.abs(step / 0.02 - 1)).toBeLessThan(0.001);
  });

  it('follows the ground under the path', () => {
    const { project, ids } = withPieces([0, 0, 0]);
    const id = ids[0] as string;
    const uphill = after(
      project,
      walkOf(project, id, {
        nodesM: [
          [0, 0, 0],
          [8, 0, 0],
        ],
        groundM: [0, 0, 2],
      }),
    );
    expect(placeOf(uphill, id, 3)[1]).toBeCloseTo(0, 6);
    // Uphill it walks as fast as on the flat, so it gets along more slowly.
    const [flat, a, b] = [2, 4, 5].map((at) => placeOf(uphill, id, at));
    const step = Math.hypot(b![0] - a![0], b![1] - a![1]);
    expect(step).toBeCloseTo(placeOf(uphill, id, 3)[0] - flat![0], 6);
    expect(b![1]).toBeCloseTo((b![0] - 4) / 2, 6);
    expect(placeOf(uphill, id, 9)).toEqual([8, 2, 0]);
  });

  it('turns evenly, more than once round, and keeps where it goes', () => {
    const { project, ids } = withPieces([0, 0, 0]);
    const id = ids[0] as string;
    let next = after(project, keyPlacement(project, id, at(1)));
    next = after(next, keyPlacement(next, id, at(3), { positionM: [4, 0, 0], panDeg: 90 }));
    next = after(next, turnPlacement(next, id, { fromFlicks: at(1), lengthFlicks: at(4), degrees: -720 }));
    const panAt = (second: number) => anglesOf(placementAt(next, id, at(second)).quaternion).panDeg;
    expect([1, 1.5, 2, 5].map(panAt)).toEqual([0, -90, -180, 0].map((deg): unknown => expect.closeTo(deg, 6)));
    close(placeOf(next, id, 3), [4, 0, 0]);
    expect(keyTimesOf(next.placements[id] as never)).toEqual([at(1), at(3), at(5)]);
  });

  it('has curves: shaped, with an end that goes on round, and taken away again with the value they had', () => {
    const { project, ids } = withPieces([0, 0, 0]);
    const id = ids[0] as string;
    let next = after(project, turnPlacement(project, id, { fromFlicks: 0, lengthFlicks: at(2), degrees: 90 }));
    const panAt = (second: number) => placementValuesAt(next.placements[id] as Placement, at(second)).pan;
    next = after(next, setPlacementAfter(next, id, 'pan', 'onward'));
    expect([1, 2, 3, 8].map(panAt)).toEqual([45, 90, 135, 360].map((deg): unknown => expect.closeTo(deg, 6)));
    const lift = [
      { atFlicks: 0, value: 0, shape: 'linear' as const },
      { atFlicks: at(1), value: 2, shape: 'hold' as const },
    ];
    next = after(next, setPlacementCurves(next, id, 'Lift', { positionY: lift }, 0));
    expect(placeOf(next, id, 0.5)[1]).toBeCloseTo(1, 6);
    // A key that is put or turned elsewhere leaves the end as it is said.
    next = after(next, turnPlacement(next, id, { fromFlicks: 0, lengthFlicks: at(1), degrees: 90 }));
    expect(panAt(1)).toBeCloseTo(90, 6);
    next = after(next, keyPlacementChannel(next, id, 'roll', at(1)));
    expect(Object.keys(motionOf(next, id).curves).sort()).toEqual(['pan', 'positionY', 'roll']);
    expect(motionOf(next, id).after).toEqual({ pan: 'onward' });
    next = after(next, setPlacementCurves(next, id, 'No lift', { positionY: [], roll: [] }, at(1)));
    close(placeOf(next, id, 9), [0, 2, 0]);
    next = after(next, setPlacementCurves(next, id, 'No turn', { pan: [] }, at(1)));
    expect(next.placements[id]).toMatchObject({ motion: { kind: 'still' }, panDeg: expect.closeTo(90, 6) as number });
    expect(() => setPlacementCurves(next, id, 'Lens', { focalLength: lift }, 0)).toThrow(/no channel focalLength/);
  });

  it('keys a place at a time and glides to the next, holding both ends', () => {
    const { project, ids } = withPieces([0, 0, 0]);
    const id = ids[0] as string;
    let next = after(project, keyPlacement(project, id, at(1)));
    next = after(next, keyPlacement(next, id, at(3), { positionM: [4, 0, 0], panDeg: 350 }));
    expect(keyTimesOf(next.placements[id] as never)).toEqual([at(1), at(3)]);
    close(placeOf(next, id, 2), [2, 0, 0], 6);
    close(placeOf(next, id, 9), [4, 0, 0]);
    // 350° is taken as −10°, the short way round.
    expect(anglesOf(placementAt(next, id, at(2)).quaternion).panDeg).toBeCloseTo(-5, 6);
    const placement = next.placements[id];
    if (!placement) throw new Error('gone');
    const typed = movedParts(placement, at(3), { panDeg: 710 }, 'as-typed');
    expect(typed.motion).toMatchObject({ curves: { pan: [{ value: 0 }, { value: 710 }] } });
    const moved = after(next, setPlacement(next, id, 'Move', movedParts(placement, at(3), { positionM: [6, 0, 0] })));
    close(placeOf(moved, id, 3), [6, 0, 0]);
    close(placeOf(moved, id, 1), [0, 0, 0]);
    const one = after(next, unkeyPlacement(next, id, at(1)));
    const still = after(one, unkeyPlacement(one, id, at(3)));
    expect(still.placements[id]?.motion.kind).toBe('still');
    close(placeOf(still, id), [4, 0, 0]);
    close(placeOf(after(next, stopMoving(next, id, at(2))), id), [2, 0, 0], 6);
  });

  it('plays a clip with offset, rate and loop', () => {
    const clip = { index: 0, startFlicks: 0, rate: 2, loop: true };
    expect(clipSecond(clip, 3, 1)).toBe(2);
    expect(clipSecond(clip, 3, 2)).toBe(1); // 4 s into a clip of 3 s
    expect(clipSecond({ ...clip, loop: false }, 3, 2)).toBe(3);
    expect(clipSecond({ ...clip, loop: false, rate: -1 }, 3, 1)).toBe(2); // backward from its end
  });
});

describe('light groups', () => {
  it('are seen by each camera as its own mix or the project’s, and neither is lost in going back and forth', () => {
    const { project: first, cameraId } = projectWithCamera();
    const groupId = nextId();
    const edits: ((p: Project) => Edit)[] = [
      () => addLightGroup(groupId, 'lantern'),
      (p) => setCameraMix(p, cameraId, 'Light', { [groupId]: { stops: -2, tint: '#ffcc88', on: true } }),
    ];
    let project = first;
    for (const edit of edits) project = after(project, edit(project));
    expect(cameraAt(project, cameraId, 0).lightMix[groupId]?.stops).toBe(-2);
    project = after(project, setOwn(project, cameraId, 'lightMix', false));
    expect(cameraAt(project, cameraId, 0).lightMix[groupId]?.stops).toBe(0);
    project = after(project, setOwn(project, cameraId, 'lightMix', true));
    expect(cameraAt(project, cameraId, 0).lightMix[groupId]?.stops).toBe(-2);
  });
});

describe('how the set looks', () => {
  it('is the same for one text, and another where anything that is seen is another', () => {
    const { project, ids } = withPieces([0, 0, 0], [4, 0, 0]);
    const [still = '', mover = ''] = ids;
    const moving = after(
      project,
      turnPlacement(project, mover, { fromFlicks: at(1), lengthFlicks: at(2), degrees: 90 }),
    );
    const look = (of: Project, second = 0) => appearanceAt(of, at(second));
    const part = (id: string, parts: object): Project => ({
      ...moving,
      placements: { ...moving.placements, [id]: { ...moving.placements[id], ...parts } as never },
    });
    const asset = (hash: string) => ({ ...moving, assets: { a: { id: 'a', file: { hash } } } }) as never as Project;
    const others = [
      look(moving),
      look(moving, 2),
      look(moving, 3),
      look(part(still, { visible: false })),
      look(part(still, { positionM: [1, 0, 0] })),
      look(part(mover, { surface: { kind: 'colour', colour: '#ff0000', luminanceCdM2: null, roughness: null } })),
      look(asset('one')),
      look(asset('two')), // the same thing, read from another file
    ];
    expect(new Set(others).size).toBe(others.length);
    const unseen = part(still, { name: 'other', locked: true, subject: true, revision: 'later' });
    expect([look(moving, 0.5), look(moving, 9), look(unseen)]).toEqual([look(moving), look(moving, 3), look(moving)]);
  });
});

describe('units of files', () => {
  it.each([
    [[60, 182, 30], 'cm'],
    [[600, 1820, 300], 'mm'],
    [[0.6, 1.82, 0.3], undefined],
    [[380, 22, 120], undefined], // a street
    [[2400, 7200, 1200], 'mm'],
    [[450, 900, 450], 'mm'], // a chair
    [[80, 180, 40], 'cm'],
  ] as const)('a thing of %j was made in %s', (size, unit) => expect(guessUnit(size)).toBe(unit));
});

describe('rotations', () => {
  it('give back their angles', () => {
    const angle = (most: number) => fc.double({ min: -most, max: most, noNaN: true });
    fc.assert(
      fc.property(angle(179), angle(85), angle(170), (panDeg, tiltDeg, rollDeg) => {
        const back = anglesOf(rotationOf({ panDeg, tiltDeg, rollDeg }));
        close([back.panDeg, back.tiltDeg, back.rollDeg], [panDeg, tiltDeg, rollDeg], 6);
      }),
    );
  });

  it('size a box from its scale', () => {
    const { project, ids } = withPieces([0, 0, 0]);
    const next = after(project, setPlacement(project, ids[0] as string, 'Size', { scale: [2, 1, 0.5] }));
    expect(placementBox(next, next.placements[ids[0] as string] as never).maxM).toEqual([1, 2, 0.25]);
  });
});
