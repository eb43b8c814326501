import { TestBed } from '@angular/core/testing';
import type { Piece, Placement, Project, Vector } from '@arvex/core';
import { cameraAt, PIECE_OFFERS, placementAt, setPlacement, subjectPointAt } from '@arvex/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { projectWithCamera, withFigure } from '../../../packages/core/test/sample-project';
import { FrameSelection } from '../src/app/features/set/frame-selection';
import { PieceDrag } from '../src/app/features/set/piece-drag';
import { SetPieces } from '../src/app/features/set/pieces';
import { PlanTools } from '../src/app/features/set/plan-tools';
import { Selection } from '../src/app/session/selection';
import { SnapGrid } from '../src/app/session/snapping';
import { Walk } from '../src/app/features/set/walk';
import type { Tab } from './tab';
import { FakeStage, MemoryServer, openTab } from './tab';

let tab: Tab;
let stage: FakeStage;
let making: SetPieces;
let selection: Selection;
let cameraId: string;
let figureId: string;
const project = () => tab.store.project() as Project;
const things = () => Object.values(project().placements);
const thing = (name: string) => things().find((one) => one.name === name) as Placement;
const offer = (name: string) => PIECE_OFFERS.find((one) => one.name.startsWith(name))!;
const placeOf = (id: string, flicks = 0) => placementAt(project(), id, flicks).positionM;
const floor = (pointM: Vector) => ({ pointM, normal: [0, 1, 0] as Vector });
function put(name: string, at: Vector): Placement {
  making.putting.set(offer(name));
  making.put(floor(at), false);
  return selection.last() as Placement;
}

beforeEach(async () => {
  const made = projectWithCamera();
  const figure = withFigure(made.project, [0, 0, 0]);
  ({ cameraId } = made);
  figureId = figure.id;
  stage = new FakeStage();
  tab = await openTab(new MemoryServer(figure.project), stage);
  tab.playhead.lookThrough(cameraId);
  [making, selection] = [tab.get(SetPieces), tab.get(Selection)];
});

describe('putting pieces', () => {
  it('stands them on the surface that was clicked, on the grid, chosen and out of the hand', () => {
    making.putting.set(offer('Box'));
    making.put(floor([1.234, 0.5, -2.771]), false);
    expect(selection.last()).toMatchObject({ name: 'box', positionM: [1.2, 0.5, -2.8] });
    expect(making.putting()).toBeUndefined();
    making.put(floor([9, 0, 9]), false); // nothing in hand
    expect(things()).toHaveLength(2);
  });

  it('keeps one in hand for more, and is free where the grid is', () => {
    tab.get(SnapGrid).gridM.set(0);
    making.putting.set(offer('Box'));
    making.put(floor([1.234, 0, 0]), true);
    making.put(floor([2.345, 0, 0]), true);
    expect([thing('box').positionM[0], thing('box 2').positionM[0]]).toEqual([1.234, 2.345]);
    expect(making.putting()?.name).toMatch(/^Box/);
  });

  it('hangs a card on a wall with its face to the room, a hand’s breadth off', () => {
    making.putting.set(offer('Card'));
    making.put({ pointM: [0, 2, -5], normal: [1, 0, 0] }, false);
    const card = selection.last() as Placement;
    expect(card.positionM).toEqual([0.02, 2, -5]);
    // Its front (+Z) looks east, out of the wall: turned by a quarter, clockwise from above, from facing south.
    expect(((card.panDeg % 360) + 360) % 360).toBeCloseTo(270, 9);
  });

  it('finds the ground of the plan under the pointer', async () => {
    stage.ground = (x) => x / 10;
    making.putting.set(offer('Box'));
    await making.putOnGround(5, 1, false);
    expect(selection.last()?.positionM).toEqual([5, 0.5, 1]);
  });
});

describe('what is chosen', () => {
  it('is one, or several in their order, and forgets what has gone', () => {
    const [a, b] = [put('Box', [1, 0, 0]), put('Box', [2, 0, 0])];
    making.clicked(a.id, false);
    making.clicked(b.id, true);
    expect([selection.ids(), selection.last()?.id]).toEqual([[a.id, b.id], b.id]);
    making.clicked(a.id, true);
    expect(selection.ids()).toEqual([b.id]);
    making.delete();
    expect(selection.ids()).toEqual([]);
    tab.undoList.undo();
    expect(selection.ids()).toEqual([b.id]);
    making.clicked(undefined, false);
    expect(selection.last()).toBeUndefined();
  });

  it('is carried by the next thing clicked, and a circle is refused in words', () => {
    const [a, b] = [put('Box', [1, 0, 0]), put('Box', [2, 0, 0])];
    making.attaching.set(true);
    making.clicked(a.id, false);
    expect(project().placements[b.id]?.parentId).toBe(a.id);
    selection.set(a.id);
    making.attaching.set(true);
    making.clicked(b.id, false);
    expect(tab.notices.all().at(-1)?.text).toContain('cannot be carried');
    expect(project().placements[a.id]?.parentId).toBeNull();
    selection.set(b.id);
    making.attachTo(null);
    expect(placeOf(b.id)).toEqual([2, 0, 0]);
  });

  it('is copied with what it carries; the copy is chosen', () => {
    const [a, b] = [put('Box', [1, 0, 0]), put('Box', [2, 0, 0])];
    making.attachTo(a.id);
    selection.set(a.id);
    making.duplicate();
    expect(things()).toHaveLength(5);
    expect(selection.ids()).toHaveLength(1);
    expect(placeOf(selection.ids()[0]!)).toEqual([2, 0, 1]);
    expect(things().filter(({ parentId }) => parentId === selection.ids()[0])).toHaveLength(1);
    expect(project().placements[b.id]?.parentId).toBe(a.id);
  });

  it('is grouped and ungrouped without moving, and repeated along a line', () => {
    const [a, b] = [put('Box', [1, 0, 0]), put('Box', [4, 0, 2])];
    selection.set(a.id, b.id);
    making.group();
    const groupId = selection.last()!.id;
    expect([placeOf(a.id), placeOf(b.id)]).toEqual([
      [1, 0, 0],
      [4, 0, 2],
    ]);
    making.ungroup(groupId);
    expect(selection.ids().sort()).toEqual([a.id, b.id].sort());
    selection.set(a.id);
    making.array(3, [0, 0, 2]);
    expect(
      things()
        .filter(({ positionM }) => positionM[0] === 1)
        .map(({ positionM }) => positionM[2])
        .sort(),
    ).toEqual([0, 2, 4, 6]);
  });

  it('falls onto what is under it, a locked thing excepted', async () => {
    stage.ground = () => 0.4;
    const [a, b] = [put('Box', [1, 3, 0]), put('Box', [4, 3, 2])];
    making.toggle(b, 'locked');
    selection.set(a.id, b.id);
    await making.dropToGround();
    expect([placeOf(a.id)[1], placeOf(b.id)[1]]).toEqual([expect.closeTo(0.4, 9), 3]);
    expect(stage.exceptions.at(-1)).toEqual([a.id]); // it does not fall onto itself
    making.toggle(a, 'visible');
    expect([project().placements[a.id]?.visible, tab.undoList.undoName()]).toEqual([false, 'Hide box']);
  });

  it('fills the free view, seen from where it was looked from', () => {
    const box = put('Box', [10, 0, -10]);
    tab.freeCamera.pose.set({ positionM: [0, 2, 0], panDeg: 0, tiltDeg: 0, rollDeg: 0 });
    tab.get(FrameSelection).toSelection();
    const { positionM, panDeg } = tab.freeCamera.pose();
    expect(positionM[0]).toBeCloseTo(10, 6); // still looking north at it
    expect(positionM[2]).toBeGreaterThan(-10);
    expect(Math.abs(panDeg % 360)).toBeLessThan(1e-6);
    expect(project().placements[box.id]?.positionM).toEqual([10, 0, -10]);
  });
});

describe('dragging', () => {
  it('shows what it does, makes one edit at its end, or none', () => {
    const box = put('Box', [1, 0, 0]);
    const dragging = tab.get(PieceDrag);
    dragging.move([1, 0, 0]);
    dragging.move([2, 0, 0]);
    expect(tab.viewpoint.drawnProject()?.placements[box.id]?.positionM).toEqual([3, 0, 0]);
    expect(placeOf(box.id)).toEqual([1, 0, 0]);
    dragging.end(false);
    expect([placeOf(box.id), tab.tried.dragging()]).toEqual([[1, 0, 0], false]);
    dragging.move([2, 0, 0]);
    dragging.end(true);
    expect([placeOf(box.id), tab.undoList.undoName()]).toEqual([[3, 0, 0], 'Move box']);
    tab.undoList.undo();
    expect(placeOf(box.id)).toEqual([1, 0, 0]);
  });

  it('leaves the locked alone, and what another chosen thing carries to its carrier', () => {
    const [a, b, c] = [put('Box', [1, 0, 0]), put('Box', [2, 0, 0]), put('Box', [3, 0, 0])];
    selection.set(b.id);
    making.attachTo(a.id);
    making.toggle(c, 'locked');
    selection.set(a.id, b.id, c.id);
    const dragging = tab.get(PieceDrag);
    dragging.move([0, 0, 5]);
    dragging.end(true);
    expect([a, b, c].map(({ id }) => placeOf(id))).toEqual([
      [1, 0, 5],
      [2, 0, 5],
      [3, 0, 0],
    ]);
  });

  it('turns each about its own foot and sizes the last one chosen by its own numbers', () => {
    const [a, b] = [put('Box', [1, 0, 0]), put('Box', [2, 0, 0])];
    selection.set(a.id, b.id);
    const dragging = tab.get(PieceDrag);
    dragging.turn(30);
    dragging.end(true);
    expect([a, b].map(({ id }) => project().placements[id]?.panDeg)).toEqual([30, 30]);
    const before = b.piece as Extract<Piece, { kind: 'box' }>;
    dragging.size([2, 1, 1]);
    dragging.end(true);
    expect(project().placements[b.id]?.piece).toMatchObject({ ...before, widthM: before.widthM * 2 });
    expect(project().placements[a.id]?.piece).toEqual(a.piece);
  });
});

describe('tools of the plan', () => {
  it('place and aim a camera in one gesture, at eye height over the ground', async () => {
    stage.ground = () => 2;
    const tools = tab.get(PlanTools);
    tools.begin('camera');
    await tools.camera([3, 4], [3, -6]);
    const made = tab.viewpoint.camera()!;
    expect(made.id).not.toBe(cameraId);
    expect(cameraAt(project(), made.id, 0)).toMatchObject({ positionM: [3, 3.6, 4], tiltDeg: 0 });
    expect([made.pose.panDeg, made.focus.distanceM, tools.tool()]).toEqual([0, 10, 'none']);
  });

  it('let the chosen thing walk what was drawn, on the ground, as fast as before', async () => {
    stage.ground = (x) => Math.max(0, x - 2) / 2;
    const tools = tab.get(PlanTools);
    selection.set(figureId);
    tab.playhead.goTo(24);
    tools.begin('walk');
    tools.nodes.set([
      [0, 0],
      [4, 0],
    ]);
    await tools.finishWalk();
    const { motion } = project().placements[figureId]!;
    if (motion.kind !== 'path') throw new Error('it does not walk');
    expect(motion.startFlicks).toBe(705_600_000);
    // Two metres on the flat, then uphill: it is the way over the ground that it walks at its speed.
    const arrival = motion.startFlicks + ((2 + Math.hypot(2, 1)) / motion.speedMps) * 705_600_000;
    const foot = subjectPointAt(project(), project().placements[figureId]!, 'foot', arrival);
    expect([foot[0], foot[1]]).toEqual([expect.closeTo(4, 2), expect.closeTo(1, 1)]);
    await tools.setWalk(figureId, motion.nodesM, true);
    expect(project().placements[figureId]!.motion).toMatchObject({ closed: true, speedMps: motion.speedMps });
  });

  it('do nothing with a walk of one node, or for nobody', async () => {
    const tools = tab.get(PlanTools);
    selection.set(figureId);
    tools.nodes.set([[0, 0]]);
    await tools.finishWalk();
    selection.set();
    tools.nodes.set([
      [0, 0],
      [4, 0],
    ]);
    await tools.finishWalk();
    expect(project().placements[figureId]!.motion.kind).toBe('still');
  });
});

describe('walking', () => {
  const key = (name: string, init: KeyboardEventInit = {}) => new KeyboardEvent('keydown', { key: name, ...init });
  const pose = () => tab.freeCamera.pose();
  let walking: Walk;
  beforeEach(async () => {
    tab.freeCamera.pose.set({ positionM: [0, 9, 0], panDeg: 0, tiltDeg: -30, rollDeg: 4 });
    walking = tab.get(Walk);
    walking.on.set(true);
    TestBed.tick();
    await vi.waitFor(() => expect(pose().tiltDeg).toBe(0));
  });
  async function walkUntil(name: string, there: () => void): Promise<void> {
    walking.press(key(name), true);
    await vi.waitFor(there, { timeout: 8000 });
    walking.press(key(name), false);
    await vi.waitFor(() => expect(walking.stepping()).toBe(false));
  }

  it('stands up on the ground, upright', () => {
    expect(pose()).toMatchObject({ positionM: [0, 1.62, 0], tiltDeg: 0, rollDeg: 0 });
  });

  it('stands on the plan’s ground where nothing lies under it', async () => {
    stage.ground = () => Infinity; // nothing is below
    tab.freeCamera.pose.update((one) => ({ ...one, positionM: [0, 9, 0], tiltDeg: -30 }));
    walking.on.set(false);
    TestBed.tick();
    walking.on.set(true);
    TestBed.tick();
    await vi.waitFor(() => expect(pose()).toMatchObject({ positionM: [0, 1.62, 0], tiltDeg: 0 }));
  });

  it('goes where it looks, climbs with the ground, and turns on the spot', async () => {
    stage.ground = (_x, z) => -z / 10;
    await walkUntil('w', () => expect(pose().positionM[2]).toBeLessThan(-0.5));
    const [x, y, z] = pose().positionM;
    expect([x, y]).toEqual([0, expect.closeTo(1.62 - z / 10, 6)]);
    await walkUntil('e', () => expect(pose().panDeg).toBeGreaterThan(10));
    expect(pose().positionM).toEqual([x, y, z]);
  });

  it('is stopped by a wall, a shoulder away', async () => {
    stage.wallZ = -0.6;
    await walkUntil('w', () => expect(pose().positionM[2]).toBeCloseTo(-0.25, 6));
  });

  it('leaves keys alone that are not its own, or pressed for something else', () => {
    expect(walking.press(key('k'), true)).toBe(false);
    expect(walking.press(key('w', { ctrlKey: true }), true)).toBe(false);
    walking.on.set(false);
    expect(walking.press(key('w'), true)).toBe(false);
  });
});

describe('snapping', () => {
  it('rounds to the steps that are chosen, remembered for the next time', () => {
    const snapping = tab.get(SnapGrid);
    snapping.gridM.set(0.25);
    snapping.angleDeg.set(45);
    expect([snapping.length(1.1), snapping.angle(50)]).toEqual([1, 45]);
    snapping.gridM.set(0);
    expect(snapping.length(1.1)).toBe(1.1);
    TestBed.tick();
    expect(JSON.parse(localStorage.getItem('arvex.snap-angle') ?? '0')).toBe(45);
  });
});

it('a thing that is locked keeps its numbers until it is unlocked', () => {
  const box = put('Box', [1, 0, 0]);
  tab.store.commit(setPlacement(project(), box.id, 'Lock', { locked: true }));
  tab.get(PieceDrag).turn(10);
  tab.get(PieceDrag).end(true);
  expect(project().placements[box.id]?.panDeg).toBe(0);
});
