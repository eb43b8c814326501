import type { Camera, CameraState, Project } from '@arvex/core';
import { FILM_FORMATS, setCamera, STANDARD_LENSES, subjectFraming } from '@arvex/core';
import { beforeEach, describe, expect, it } from 'vitest';
import { projectWithCamera, withFigure } from '../../../packages/core/test/sample-project';
import type { Tab } from './tab';
import { MemoryServer, openTab } from './tab';

let tab: Tab;
let cameraId: string;
let figureId: string;
const project = () => tab.store.project() as Project;
const camera = () => project().cameras[cameraId] as Camera;
const state = () => tab.viewpoint.state() as CameraState;
const change = (parts: Partial<Camera>) => tab.store.commit(setCamera(project(), cameraId, 'Set up', parts));
const said = () => tab.notices.all().at(-1)?.text ?? '';
/** Exposure value the set is seen behind: with neutral density. */
const seenEv = () => state().exposure.ev100 + state().exposure.ndStops;
/** Height of the figure in the frame. */
const size = () => {
  const placement = project().placements[figureId];
  return placement ? (subjectFraming(project(), placement, state(), 0)?.heightShare ?? NaN) : NaN;
};

beforeEach(async () => {
  const made = projectWithCamera();
  const figure = withFigure(made.project, [0.4, 0, -6]);
  ({ cameraId } = made);
  figureId = figure.id;
  tab = await openTab(new MemoryServer(figure.project));
  tab.playhead.lookThrough(cameraId);
});

describe('focus', () => {
  it('that follows a subject goes over to the hand when a distance is set, and says so', () => {
    tab.focus.follow(figureId);
    expect(tab.focus.driver()).toContain('follows figure');
    expect(state().focus.distanceM).toBeCloseTo(6 + 0.063 * 1.82, 6); // it looks away, and its eyes are on its face
    tab.focus.at(2.5);
    expect([camera().focus.mode, state().focus.distanceM]).toEqual(['manual', 2.5]);
    expect(said()).toMatch(/by hand now; it followed figure .*Undo/);
    expect(tab.focus.driver()).toBe('by hand');
  });

  it('by hand stays where it was when following ends', () => {
    tab.focus.follow(figureId);
    tab.focus.byHand();
    expect(state().focus).toMatchObject({ drivenBy: 'manual' });
    expect(state().focus.distanceM).toBeCloseTo(6 + 0.063 * 1.82, 6); // it looks away, and its eyes are on its face
  });

  it('of a subject that is gone says so', () => {
    tab.focus.follow(figureId);
    const { revision } = project().placements[figureId]!;
    const operations = [{ op: 'delete' as const, kind: 'placement' as const, id: figureId, baseRevision: revision }];
    tab.store.commit({ name: 'Delete', operations });
    expect(tab.focus.driver()).toBe('by hand: its subject is gone');
  });

  it('and f-stop that hold two points sharp leave exposure to who absorbs it', () => {
    tab.exposure.setHold('Hold', { hold: true, absorbers: ['iso'] });
    const before = seenEv();
    const words = tab.focus.hold(4, 11);
    expect([state().focus.distanceM, state().focus.fStop]).toEqual([4, 11]);
    expect(words).toMatch(/^ISO takes \+/);
    expect(seenEv()).toBeCloseTo(before, 6);
  });
});

describe('exposure', () => {
  it('that is held lets the chosen part take a change up, and the next one what is beyond its end', () => {
    tab.exposure.setHold('Hold', { hold: true, absorbers: ['nd', 'iso'] });
    const [before, ndStops] = [seenEv(), state().exposure.ndStops];
    tab.exposure.change('f-stop', 'stop', state().focus.fStop / 2);
    expect(state().exposure.ndStops).toBeCloseTo(ndStops + 2, 6);
    expect(seenEv()).toBeCloseTo(before, 6);
    tab.exposure.absorbFirst('iso');
    expect(tab.exposure.absorbers()[0]).toBe('iso');
  });

  it('that is free is the result, and belongs to all cameras that follow the project until one has its own', () => {
    tab.exposure.setHold('Free', { hold: false });
    const before = seenEv();
    tab.exposure.change('ISO', 'iso', state().exposure.iso * 4);
    expect(seenEv()).toBeCloseTo(before - 2, 6);
    expect(project().head.exposure.iso).toBe(state().exposure.iso);
    change({ own: ['exposure'] });
    const common = project().head.exposure.iso;
    tab.exposure.change('ISO', 'iso', 100);
    expect([project().head.exposure.iso, state().exposure.iso]).toEqual([common, 100]);
  });

  it('is tried while it is dragged, and kept only at the end', () => {
    tab.exposure.setHold('Hold', { hold: true, absorbers: ['iso'] });
    const [before, iso] = [seenEv(), project().head.exposure.iso];
    const edit = tab.exposure.previewEv(state(), -1);
    expect(seenEv()).toBeCloseTo(before - 1, 6);
    expect(project().head.exposure.iso).toBe(iso);
    expect(tab.exposure.endPreview()).toBe(true);
    expect(seenEv()).toBeCloseTo(before, 6);
    tab.exposure.apply('EV', edit);
    expect(seenEv()).toBeCloseTo(before - 1, 6);
  });
});

describe('another lens or film back', () => {
  it('keeps the subject’s size by moving the camera', () => {
    change({ framing: { ...camera().framing, subjectId: figureId } });
    const before = size();
    tab.lenses.keep.set('size');
    tab.lenses.setFocalLength(state().lens.focalLengthMm * 2);
    expect(size()).toBeCloseTo(before, 3);
    expect(state().positionM[2]).not.toBeCloseTo(0, 1);
    tab.lenses.setBack(FILM_FORMATS.find(({ id }) => id === 's16')!);
    expect(size()).toBeCloseTo(before, 3);
  });

  it('keeps the angle by another focal length', () => {
    const before = state().lens.horizontalDeg;
    tab.lenses.keep.set('angle');
    tab.lenses.setBack(FILM_FORMATS.find(({ id }) => id === 'four-thirds')!);
    expect(state().lens.horizontalDeg).toBeCloseTo(before, 6);
  });

  it('of a kit brings its focal length; a zoom goes no further than it reaches', () => {
    const zoom = STANDARD_LENSES.find(({ minMm, maxMm }) => minMm === 70 && maxMm === 200)!;
    tab.lenses.putOn(zoom);
    expect([state().lens.focalLengthMm, state().lens.kitLens?.id]).toEqual([70, zoom.id]);
    tab.lenses.putOn(STANDARD_LENSES[0]!);
    expect(state().lens.focalLengthMm).toBe(18);
  });
});
