import type { PieceOffer, Placement, Project } from '@arvex/core';
import {
  cameraAt,
  CoreError,
  flicksAtFrame,
  moveOf,
  placementValuesAt,
  putPiece,
  setCamera,
  turnPlacement,
} from '@arvex/core';
import { TestBed } from '@angular/core/testing';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { nextId, projectWithCamera } from '../../../packages/core/test/sample-project';
import { LightLevels } from '../src/app/features/looks/light-levels';
import type { LookParts } from '../src/app/features/looks/looks';
import { Looks } from '../src/app/features/looks/looks';
import { Tracks } from '../src/app/features/moves/tracks';
import { LOOKS } from '../src/app/session';
import type { Tab } from './tab';
import { MemoryServer, openTab } from './tab';

const RATE = { frames: 24, seconds: 1 };
const at = (frame: number) => flicksAtFrame(frame, RATE);

let tab: Tab;
let server: MemoryServer;
let cameraId: string;
const project = () => tab.store.project() as Project;
const move = () => moveOf(project(), cameraId);
const x = (frame: number) => cameraAt(project(), cameraId, at(frame)).positionM[0];
const keyTimes = (channel: string) => (move()?.curves[channel] ?? []).map((key) => key.atFlicks / at(1));

/** A camera with marks at frames 0, 24 and 48, at x = 0, 2 and 6. */
beforeEach(async () => {
  const made = projectWithCamera();
  const other = { ...Object.values(made.project.cameras)[0]!, id: nextId(), number: 2, name: 'Gate' };
  ({ cameraId } = made);
  const cameras = { ...made.project.cameras, [other.id]: other };
  server = new MemoryServer({ ...made.project, cameras });
  tab = await openTab(server);
  tab.playhead.lookThrough(cameraId);
  for (const [frame, positionX] of [
    [0, 0],
    [24, 2],
    [48, 6],
  ] as const) {
    tab.playhead.goTo(frame);
    tab.setting.setChannels(cameraId, 'Place', { positionX });
    tab.marks.mark();
  }
});

describe('what is tried', () => {
  const other = () => Object.keys(project().cameras).find((id) => id !== cameraId) ?? '';
  const remove = (id: string) =>
    tab.store.commit({
      name: 'Delete',
      operations: [{ op: 'delete', kind: 'camera', id, baseRevision: project().cameras[id]?.revision ?? '' }],
    });

  it('has owners: what began later lies over the rest, and who ends it ends nothing else', () => {
    const [slider, wheel] = [tab.tried.as('slider'), tab.tried.as('wheel')];
    slider.show({ cameraId, values: { positionX: 3, roll: 1 } });
    wheel.show({ cameraId, values: { positionX: 4 } });
    slider.show({ cameraId, values: { positionX: 5, roll: 1 } });
    expect(tab.tried.valuesOf(cameraId)).toEqual({ positionX: 4, roll: 1 });
    expect(wheel.end()).toEqual({ cameraId, values: { positionX: 4 } });
    expect([tab.tried.valuesOf(cameraId)?.positionX, tab.tried.dragging()]).toEqual([5, true]);
    slider.end();
    expect([tab.tried.valuesOf(cameraId), tab.tried.dragging()]).toEqual([undefined, false]);
  });

  it('stays with the camera that a gesture began on, and is not kept on another one', () => {
    tab.focus.preview(3);
    tab.playhead.lookThrough(other());
    tab.focus.preview(2);
    expect(tab.viewpoint.stateOf(other())?.focus.distanceM).not.toBe(2);
    expect(tab.tried.valuesOf(cameraId)).toEqual({ focusDistance: 3 });
    expect(tab.focus.endPreview()).toBe(false);
  });

  it('of a look and of light is not kept on another camera either', () => {
    const [looks, levels] = [tab.get(Looks), tab.get(LightLevels)];
    const before = project();
    looks.preview({ saturation: 0.5 } as LookParts);
    tab.playhead.lookThrough(other());
    looks.set('Saturation', { saturation: 0.5 } as LookParts);
    expect([project(), tab.tried.dragging()]).toEqual([before, false]);
    const level = { stops: 1, tint: '#ffffff', on: true };
    tab.tried.as(LOOKS).show({ cameraId });
    levels.setAll('Light', { [nextId()]: level });
    expect([project(), tab.tried.dragging()]).toEqual([before, false]);
  });

  it('is over once its camera is taken away, by whomever', () => {
    tab.playhead.lookThrough(other());
    const gone = other();
    tab.focus.preview(3);
    tab.setting.autoKey.set(false);
    tab.tried.tryPose(gone, { roll: 2 });
    expect(tab.tried.pose()?.cameraId).toBe(gone);
    remove(gone);
    expect([tab.tried.dragging(), tab.tried.pose(), tab.focus.endPreview()]).toEqual([false, undefined, false]);
  });

  it('is shown on what others change meanwhile, and shows nothing once it cannot be made any more', () => {
    const trying = tab.tried.as('lens');
    const back = () => tab.tried.project()?.cameras[cameraId];
    trying.show({ edit: (now) => setCamera(now, cameraId, 'Name', { name: `${now.cameras[cameraId]?.name} tried` }) });
    tab.store.commit(setCamera(project(), cameraId, 'Name', { name: 'Dock' }));
    expect([back()?.name, project().cameras[cameraId]?.name]).toEqual(['Dock tried', 'Dock']);
    const locked = () => {
      throw new CoreError('locked', 'It is locked.');
    };
    trying.show({ edit: locked });
    expect(back()?.name).toBe('Dock');
  });

  it('ends with its project', async () => {
    tab.focus.preview(3);
    tab.viewpoint.pinned.set(cameraId);
    const next = { ...project(), head: { ...project().head, id: nextId() } };
    vi.spyOn(server, 'get').mockResolvedValue(structuredClone(next));
    await tab.store.open(next.head.id);
    expect([tab.tried.dragging(), tab.viewpoint.pinned()]).toEqual([false, undefined]);
  });
});

describe('looking about a camera with marks', () => {
  it('tries a pose and leaves the marks alone until it is marked', () => {
    tab.setting.setChannels(cameraId, 'Place', { positionX: 9 });
    expect(x(48)).toBe(6);
    expect(tab.viewpoint.state()?.positionM[0]).toBe(9);
    tab.tried.letPoseGo();
    expect(tab.viewpoint.state()?.positionM[0]).toBe(6);
    tab.setting.setChannels(cameraId, 'Place', { positionX: 9 });
    tab.marks.mark();
    expect([x(48), tab.tried.pose()]).toEqual([9, undefined]);
    expect(tab.marks.marks()).toHaveLength(3);
  });

  it('keys here and now in the mode that says so', () => {
    tab.setting.autoKey.set(true);
    tab.playhead.goTo(12);
    tab.setting.setChannels(cameraId, 'Roll', { roll: 3 });
    expect(cameraAt(project(), cameraId, at(12)).rollDeg).toBe(3);
    expect(tab.undoList.undoName()).toContain('Key: Roll');
  });

  it('goes from mark to mark', () => {
    tab.playhead.goTo(20);
    tab.marks.jumpBy(1);
    expect(tab.playhead.frame()).toBe(24);
    tab.marks.jumpBy(-1);
    expect(tab.playhead.frame()).toBe(0);
  });
});

describe('chosen keys', () => {
  it('are moved by whole frames, scaled about the playhead, and stay chosen where they come to', () => {
    tab.keys.choose('positionX', at(24), false);
    tab.keys.map('Move keys', { shiftFlicks: at(1) * 3.4 }, { positionX: 1 });
    expect(keyTimes('positionX')).toEqual([0, 27, 48]);
    expect([x(27), tab.keys.count()]).toEqual([3, 1]);
    tab.keys.chooseAll();
    tab.playhead.goTo(0);
    tab.keys.scaleTime(2);
    expect(keyTimes('positionX')).toEqual([0, 54, 96]);
    expect(tab.keys.single()).toBeUndefined();
  });

  it('are reversed, mirrored, repeated, thinned and deleted, each taken back by its name', () => {
    tab.get(Tracks).alone.set(new Set(['positionX']));
    tab.keys.chooseAll();
    const [first, middle] = [x(0), x(24)];
    for (const [name, act, check] of [
      ['Reverse', () => tab.keys.reverse(), () => expect([x(0), x(48)]).toEqual([6, 0])],
      ['Mirror', () => tab.keys.mirror(), () => expect([x(0), x(24), x(48)]).toEqual([6, 4, 0])],
      ['Repeat', () => tab.keys.loop(), () => expect([x(49), x(73), keyTimes('positionX').at(-1)]).toEqual([0, 2, 97])],
      ['Delete', () => tab.keys.delete(), () => expect(keyTimes('positionX')).toEqual([])],
    ] as const) {
      tab.keys.chooseAll();
      act();
      check();
      expect(tab.undoList.undoName()).toContain(name);
      tab.undoList.undo();
      expect([x(0), x(24)]).toEqual([first, middle]);
    }
    tab.keys.chooseAll();
    tab.keys.thin();
    expect(tab.notices.all().at(-1)?.text).toMatch(/Every chosen key is needed|within/);
  });

  it('are pasted at the playhead to the same channel, to one that is alone, and on another camera', () => {
    tab.keys.choose('positionX', at(24), false);
    tab.keys.choose('positionX', at(48), true);
    tab.keys.copy();
    tab.playhead.goTo(100);
    tab.keys.paste();
    expect(keyTimes('positionX')).toEqual([0, 24, 48, 100, 124]);
    tab.get(Tracks).alone.set(new Set(['positionZ']));
    tab.keys.paste();
    expect([100, 124].map((frame) => cameraAt(project(), cameraId, at(frame)).positionM[2])).toEqual([2, 6]);
    tab.get(Tracks).alone.set(new Set());
    const other = Object.values(project().cameras).find(({ id }) => id !== cameraId)!;
    tab.playhead.lookThrough(other.id);
    tab.playhead.goTo(10);
    tab.keys.paste();
    expect(moveOf(project(), other.id)?.curves['positionX']?.map((key) => key.value)).toEqual([2, 6]);
  });

  it('of a thing of the set are chosen, changed and taken back as those of a camera, and go when another is looked through', () => {
    const setId = Object.keys(project().sets)[0] ?? '';
    const id = nextId();
    const offer = {
      name: 'Box',
      piece: { kind: 'box', widthM: 1, heightM: 1, depthM: 1 },
      colour: null,
      subject: false,
    };
    tab.store.commit(putPiece(project(), setId, id, offer as PieceOffer, [0, 0, 0]));
    tab.store.commit(turnPlacement(project(), id, { fromFlicks: 0, lengthFlicks: at(24), degrees: 360 }));
    const tracks = tab.get(Tracks);
    tracks.show(id);
    const pan = (frame: number) => placementValuesAt(project().placements[id] as Placement, at(frame)).pan;
    expect(tracks.all().map(({ channel, face }) => [channel, face.unit])).toEqual([['pan', '°']]);
    expect(tracks.addable().map((one) => one.id)).toEqual(['positionX', 'positionY', 'positionZ', 'tilt', 'roll']);
    tab.keys.chooseAll();
    tab.keys.mirror();
    expect([pan(0), pan(24)]).toEqual([360, 0]);
    tab.keys.shape('smooth');
    expect(pan(4)).toBeGreaterThan(360 - 60); // it eases in
    tab.keys.setAfter('pan', 'repeat');
    expect(pan(25)).toBeCloseTo(pan(1), 6);
    tab.playhead.goTo(12);
    tab.keys.keyHere('positionY');
    expect(tracks.all().map(({ channel }) => channel)).toEqual(['positionY', 'pan']);
    for (let i = 0; i < 4; i++) tab.undoList.undo();
    expect([pan(0), pan(24)]).toEqual([0, 360]);
    tab.keys.copy();
    tab.playhead.lookThrough(Object.keys(project().cameras).find((one) => one !== cameraId) ?? '');
    TestBed.tick();
    expect(tracks.thing()).toBeUndefined();
  });

  it('of no channel can be made where the channel has none: at the playhead, changing nothing', () => {
    tab.playhead.goTo(30);
    const before = cameraAt(project(), cameraId, at(30)).exposure.ev100;
    expect(
      tab
        .get(Tracks)
        .addable()
        .map(({ name }) => name),
    ).toContain('EV');
    tab.keys.keyHere('ev');
    expect(cameraAt(project(), cameraId, at(30)).exposure.ev100).toBeCloseTo(before, 9);
    expect(
      tab
        .get(Tracks)
        .addable()
        .map(({ name }) => name),
    ).not.toContain('EV');
  });
});
