import type { PieceOffer, Placement, Project } from '@arvex/core';
import { cameraAt, flicksAtFrame, moveOf, placementValuesAt, putPiece, turnPlacement } from '@arvex/core';
import { TestBed } from '@angular/core/testing';
import { beforeEach, describe, expect, it } from 'vitest';
import { nextId, projectWithCamera } from '../../../packages/core/test/sample-project';
import { Tracks } from '../src/app/features/moves/tracks';
import type { Tab } from './tab';
import { MemoryServer, openTab } from './tab';

const RATE = { frames: 24, seconds: 1 };
const at = (frame: number) => flicksAtFrame(frame, RATE);

let tab: Tab;
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
  tab = await openTab(new MemoryServer({ ...made.project, cameras }));
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

describe('looking about a camera with marks', () => {
  it('tries a pose and leaves the marks alone until it is marked', () => {
    tab.setting.setChannels(cameraId, 'Place', { positionX: 9 });
    expect(x(48)).toBe(6);
    expect(tab.viewpoint.state()?.positionM[0]).toBe(9);
    tab.viewpoint.trial.set(undefined);
    expect(tab.viewpoint.state()?.positionM[0]).toBe(6);
    tab.setting.setChannels(cameraId, 'Place', { positionX: 9 });
    tab.marks.mark();
    expect([x(48), tab.viewpoint.trial()]).toEqual([9, undefined]);
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
