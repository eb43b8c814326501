import { MatDialog } from '@angular/material/dialog';
import { TestBed } from '@angular/core/testing';
import type { Project, Vector } from '@arvex/core';
import { addSequence, addShot, flicksAtFrame, shotsInOrder } from '@arvex/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { nextId, projectWithCamera, SEQUENCE_ID } from '../../../packages/core/test/sample-project';
import type { Action } from '../src/app/session/actions';
import { Actions, foundActions, keysText } from '../src/app/session/actions';
import { keyGroups } from '../src/app/actions/key-groups';
import { LiveSwitch } from '../src/app/features/sequence/live-switch';
import { OpenSequence } from '../src/app/session/open-sequence';
import { Playback } from '../src/app/session/playback';
import { Cameras } from '../src/app/features/cameras/cameras';
import { SetPieces } from '../src/app/features/set/pieces';
import { PlanTools } from '../src/app/features/set/plan-tools';
import { Selection } from '../src/app/session/selection';
import { Walk } from '../src/app/features/set/walk';
import type { Tab } from './tab';
import { MemoryServer, openTab } from './tab';

let tab: Tab;
let cameraId: string;
const project = () => tab.store.project() as Project;

beforeEach(async () => {
  TestBed.overrideProvider(MatDialog, { useValue: { open: vi.fn() } });
  const made = projectWithCamera();
  ({ cameraId } = made);
  tab = await openTab(new MemoryServer(made.project));
  tab.playhead.lookThrough(cameraId);
});

describe('the help of the keys', () => {
  it('tells a key once in its group, by what it does there', () => {
    const run = () => undefined;
    const groups = keyGroups('Sequence', [
      { name: 'Let go: walk', keys: 'Escape', run },
      { name: 'Let go: draw', keys: 'Escape', run },
      { name: 'Go to Set', id: 'step-set', keys: '1', run },
      { name: 'Divide', keys: 'D', steps: ['sequence'], run },
      { name: 'Choose no shot', keys: 'Escape', steps: ['sequence'], run },
      { name: 'Play', keys: ' ', run },
    ]);
    expect(groups.map(({ name, rows }) => [name, rows.map(({ keys, names }) => `${keys} ${names.join()}`)])).toEqual([
      ['Sequence', ['D Divide', 'Esc Choose no shot']],
      ['Everywhere', ['Esc Let go', '  Play']],
      ['Steps and views', ['1 Go to Set']],
    ]);
  });
});

describe('the keys', () => {
  let actions: Actions;
  const press = (key: string, init: KeyboardEventInit = {}) =>
    actions.press(new KeyboardEvent('keydown', { key, ...init }));
  beforeEach(() => (actions = tab.get(Actions)));

  it('stand for one thing each, and every action has a name of its own', () => {
    const all = actions.all();
    // Those that only sometimes have something to do share their key with what is done otherwise.
    const keys = all.flatMap((one) => (one.when ? [] : (one.keys ?? [])));
    expect(new Set(keys).size).toBe(keys.length);
    expect(new Set(all.map(({ name }) => name)).size).toBe(all.length);
    expect(keysText('Ctrl+Shift+Z')).toBe('Ctrl Shift Z');
    expect(keysText('Alt+ArrowLeft')).toBe('Alt ←');
    expect(keysText('Ctrl+ArrowDown')).toBe('Ctrl ↓');
  });

  it('work in the steps that the key help lists them for, and nowhere else', () => {
    tab.workspace.goTo('sequence');
    expect([press('m'), tab.marks.marks()]).toEqual([false, []]); // there is no shot to set a marker in
    tab.workspace.goTo('moves');
    expect(press('m')).toBe(true);
    expect(tab.marks.marks()).toHaveLength(1);
    const left = () => [press('Delete'), press('d', { ctrlKey: true }), press('c', { ctrlKey: true })];
    expect(left()).toEqual([false, false, false]); // nothing is chosen: what is marked on the page can be copied
    tab.workspace.show('graph');
    press('a', { ctrlKey: true });
    expect([tab.keys.count() > 0, ...left()]).toEqual([true, true, false, false]);
    tab.workspace.steps.forEach(({ id: step }, i) => {
      press(String(i + 1));
      expect(tab.workspace.step()).toBe(step);
    });
    press('G', { shiftKey: true });
    expect([tab.workspace.step(), tab.workspace.shows('graph')]).toEqual(['moves', true]);
  });

  it('undo and redo, with the command key of either keyboard', () => {
    tab.workspace.goTo('moves');
    press('m');
    press('z', { metaKey: true });
    expect(tab.marks.marks()).toEqual([]);
    press('Z', { ctrlKey: true, shiftKey: true });
    expect(tab.marks.marks()).toHaveLength(1);
  });

  it('let go of one thing at a time, the nearest in hand first', () => {
    const [pieces, tools, walking] = [tab.get(SetPieces), tab.get(PlanTools), tab.get(Walk)];
    tab.workspace.goTo('set');
    tools.begin('walk');
    pieces.attaching.set(true);
    pieces.putting.set({ name: 'Box' } as never);
    walking.on.set(true);
    const held = () => [walking.on(), pieces.putting() !== undefined, pieces.attaching(), tools.tool() !== 'none'];
    for (const rest of [
      [false, true, true, true],
      [false, false, true, true],
      [false, false, false, true],
      [false, false, false, false],
    ]) {
      press('Escape');
      expect(held()).toEqual(rest);
    }
  });
});

describe('what is done while the cut plays', () => {
  it('begins an empty cut with the camera that is switched to', () => {
    tab.get(Actions).press(new KeyboardEvent('keydown', { key: '!', code: 'Digit1', shiftKey: true }));
    tab.workspace.goTo('sequence');
    tab.get(Actions).press(new KeyboardEvent('keydown', { key: '!', code: 'Digit1', shiftKey: true }));
    const seen = tab.playhead.seen();
    expect(shotsInOrder(project(), SEQUENCE_ID).map((shot) => shot.cameraId)).toEqual([cameraId]);
    expect([seen?.mode, seen?.frame]).toEqual(['cut', 0]);
  });

  it('is taken back stroke by stroke, and becomes an edit of its own sequence though another one is opened', () => {
    const { playhead, store } = tab;
    tab.get(Cameras).duplicate();
    const second = tab.viewpoint.camera()!.id;
    const shot = {
      id: nextId(),
      cameraId,
      sceneStartFlicks: 0,
      durationFlicks: flicksAtFrame(48, project().head.rate),
    };
    store.commit(addShot(project(), SEQUENCE_ID, shot));
    playhead.toMode('cut');
    tab.get(Playback).toggle();
    TestBed.tick();
    const live = tab.get(LiveSwitch);
    const shown = () =>
      tab
        .get(OpenSequence)
        .cut()
        .shots.map(({ shot: { cameraId: id }, startFrame }) => [id, startFrame]);
    for (const [frame, id] of [
      [10, second],
      [20, cameraId],
    ] as const) {
      playhead.moveTo(frame);
      live.to(id);
    }
    expect(shown()).toHaveLength(3);
    tab.get(Actions).press(new KeyboardEvent('keydown', { key: 'z', ctrlKey: true }));
    expect([shown(), shotsInOrder(project(), SEQUENCE_ID).length, playhead.playing()]).toEqual([
      [
        [cameraId, 0],
        [second, 10],
      ],
      1,
      true,
    ]);
    // The button takes back all of them as the one edit that they are.
    tab.undoList.undo();
    expect(shown()).toEqual([[cameraId, 0]]);
    playhead.moveTo(10);
    live.to(second);
    const other = nextId();
    store.commit(addSequence(project(), other, 'Other'));
    playhead.openSequence(other);
    TestBed.tick();
    expect(shotsInOrder(project(), SEQUENCE_ID).map((one) => one.cameraId)).toEqual([cameraId, second]);
    expect(shotsInOrder(project(), other)).toEqual([]);
    tab.undoList.undo();
    expect(shotsInOrder(project(), SEQUENCE_ID)).toHaveLength(1);
  });
});

describe('making cameras', () => {
  it('from the free view sees what it sees, and is looked through; a copy stands where its model does', () => {
    const making = tab.get(Cameras);
    const pose = { positionM: [4, 2, 9] as Vector, panDeg: 30, tiltDeg: -5, rollDeg: 0 };
    tab.freeCamera.pose.set(pose);
    tab.workspace.show('free');
    making.fromView();
    const made = tab.viewpoint.camera()!;
    expect(made.id).not.toBe(cameraId);
    expect([made.pose, made.number]).toEqual([pose, 2]);
    making.duplicate();
    expect(tab.viewpoint.camera()).toMatchObject({ name: `${made.name} copy`, number: 3, pose });
    making.delete();
    expect(Object.keys(project().cameras)).toHaveLength(2);
    expect(tab.notices.all().at(-1)?.text).toContain('Undo brings it back');
    tab.undoList.undo();
    expect(Object.keys(project().cameras)).toHaveLength(3);
  });

  it('takes a camera to the free view and back', () => {
    const making = tab.get(Cameras);
    tab.freeCamera.pose.set({ positionM: [1, 2, 3], panDeg: 10, tiltDeg: 0, rollDeg: 0 });
    making.putHere();
    expect(project().cameras[cameraId]?.pose.positionM).toEqual([1, 2, 3]);
    tab.freeCamera.pose.set({ positionM: [9, 9, 9], panDeg: 0, tiltDeg: 0, rollDeg: 0 });
    making.freeViewToCamera();
    expect([tab.freeCamera.pose().positionM, tab.workspace.shows('free')]).toEqual([[1, 2, 3], true]);
    expect(tab.get(Selection).ids()).toEqual([]);
  });
});

describe('the search', () => {
  const action = (name: string, words?: string): Action => ({ name, ...(words && { words }), run: () => undefined });
  const all = [
    action('Seconds and frames'),
    action('Range ends', 'bounds'),
    action('Light', 'exposure nd filter'),
    action('Index of shots', 'list'),
    action('ND in front', 'filter'),
  ];
  it.each([
    ['nd', ['ND in front', 'Light']], // nothing that has the letters somewhere inside
    ['filter nd', ['ND in front', 'Light']],
    ['econ', ['Seconds and frames']],
    ['ran', ['Range ends']],
    ['nothing', []],
    ['', all.map(({ name }) => name)],
  ])('finds for "%s" what is meant', (typed, names) =>
    expect(foundActions(all, typed).map(({ name }) => name)).toEqual(names),
  );
});
