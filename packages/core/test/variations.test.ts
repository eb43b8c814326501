import type { Edit, Project, RenderOrder } from '@arvex/core';
import {
  addLightGroup,
  addLook,
  addShot,
  cameraAt,
  changeFrom,
  conformCut,
  deleteCamera,
  deleteLook,
  deleteVariation,
  dissolveToVariation,
  duplicateVariation,
  flicksAtFrame,
  keepVariation,
  keyChannels,
  keyHere,
  lightChannels,
  LOOK_DEFAULTS,
  NO_VARIATION,
  ORDER_DEFAULTS,
  othersWearing,
  partsOf,
  pictureAt,
  projectFrom,
  rebased,
  sceneEv,
  seenValue,
  setCameraMix,
  setCurves,
  setGroup,
  setLevels,
  setLook,
  setOwn,
  setProjectLook,
  setVariation,
  showVariation,
  soloed,
  stopsToReach,
  touchSame,
  variationsOf,
  wearersOf,
  wearLook,
  wearVariation,
  withOperations,
} from '@arvex/core';
import fc from 'fast-check';
import { beforeEach, describe, expect, it } from 'vitest';
import { after, nextId, projectWithCamera, SEQUENCE_ID, withFigure } from './sample-project';

let project: Project;
let cameraId: string;
let otherId: string;
let group: string;

const make = (edit: Edit) => (project = after(project, edit));
const dressed = (variationId: string | null = null) => ({ cameraId, variationId });
const seen = (id = cameraId, variationId?: string) => cameraAt(project, id, 0, undefined, variationId);
const set = (compensationStops: number, whom: 'all' | 'alone' = 'all') =>
  make(setLook(project, dressed(), 'Compensation', { compensationStops }, nextId(), whom));
const keep = (name: string) => {
  const ids = { variation: nextId(), look: nextId() };
  make(keepVariation(project, dressed(), ids, name));
  return ids.variation;
};

beforeEach(() => {
  ({ project, cameraId } = projectWithCamera());
  const other = projectWithCamera({ number: 2, name: 'Crane' });
  otherId = other.cameraId;
  project = { ...project, cameras: { ...project.cameras, ...other.project.cameras } };
  group = nextId();
  make(addLightGroup(group, 'room'));
});

describe('a look', () => {
  it('is the project’s until a camera has its own, and going back and forth loses neither', () => {
    set(1);
    expect([seen().look.compensationStops, seen(otherId).look.compensationStops]).toEqual([1, 1]);
    set(-2, 'alone');
    expect([seen().look.compensationStops, seen(otherId).look.compensationStops]).toEqual([-2, 1]);
    make(setOwn(project, cameraId, 'look', false));
    expect(seen().look.compensationStops).toBe(1);
    make(setOwn(project, cameraId, 'look', true));
    expect(seen().look.compensationStops).toBe(-2);
  });

  it('that is shared says whom an edit changes, and a copy changes nobody else', () => {
    const lookId = nextId();
    make(addLook(project, lookId, 'Dusk', LOOK_DEFAULTS));
    make(wearLook(project, dressed(), lookId));
    make(wearLook(project, { cameraId: otherId, variationId: null }, lookId));
    const camera = project.cameras[cameraId]!;
    expect(othersWearing(project, camera, null)).toMatchObject({ count: 1, cameras: [{ id: otherId }] });
    set(1);
    expect(seen(otherId).look.compensationStops).toBe(1);
    set(2, 'alone');
    expect([seen().look.compensationStops, seen(otherId).look.compensationStops]).toEqual([2, 1]);
    expect(othersWearing(project, project.cameras[cameraId]!, null).count).toBe(0);
    expect(wearersOf(project, lookId).count).toBe(1);
  });

  it('that goes leaves whoever wore it without, and nobody can wear one that is gone', () => {
    const lookId = nextId();
    make(addLook(project, lookId, 'Dusk', { ...LOOK_DEFAULTS, edgeStops: 1 }));
    make(setProjectLook(project, lookId));
    const variationId = keep('night');
    make(wearLook(project, dressed(variationId), lookId));
    const stale = setVariation(project, cameraId, variationId, 'Name', { name: 'dark' });
    make(deleteLook(project, lookId));
    expect(seen().look).toEqual(LOOK_DEFAULTS);
    expect(seen(otherId).look).toEqual(LOOK_DEFAULTS);
    // Made before it went, in another tab: it names a look that is not there.
    expect(() => withOperations(project, stale.operations)).toThrow(/look that is not there|stale|written/);
  });

  it('has keys that win over it, and the first key holds what is seen', () => {
    set(1.5);
    expect(seenValue(project, cameraId, 'compensation', 0)).toBe(1.5);
    expect(seenValue(project, cameraId, 'kelvin', 0)).toBe(6504);
    const key = (frame: number, value: number) => ({
      atFlicks: flicksAtFrame(frame, project.head.rate),
      value,
      shape: 'linear' as const,
    });
    make(setCurves(project, cameraId, 'Keys', { saturation: [key(0, 1), key(10, 0)], glow: [key(0, 2)] }, 0));
    const half = cameraAt(project, cameraId, flicksAtFrame(5, project.head.rate)).look;
    expect(half.cdl.saturation).toBeCloseTo(0.5, 6);
    expect([half.glow.amount, half.compensationStops]).toEqual([2, 1.5]);
  });

  it('of light are set where they are held: in keys, or in the mix with its tint', () => {
    const tint = '#ff8040';
    make(setCameraMix(project, cameraId, 'Light', { [group]: { stops: 1, tint, on: true } }));
    const [at, later] = [0, flicksAtFrame(10, project.head.rate)];
    for (const channel of [`light:${group}`, `tint:${group}`] as const) make(keyHere(project, cameraId, channel, at));
    expect(seen().lightMix[group]).toEqual({ stops: 1, tint, on: true });
    make(keyChannels(project, cameraId, { [`tint:${group}`]: 0 }, later));
    expect(cameraAt(project, cameraId, later).lightMix[group]?.tint).toBe('#ffffff');
    expect(() => keyChannels(project, cameraId, { [`tint:${group}`]: 1.5 }, later)).toThrow(/between 0 and 1/);

    const onLater = { atFlicks: later, autoKey: false };
    make(setLevels(project, dressed(), 'Light', { [group]: { stops: -2, tint: '#4080ff', on: true } }, onLater));
    expect(cameraAt(project, cameraId, later).lightMix[group]?.stops).toBe(-2);
    expect(seen().lightMix[group]).toEqual({ stops: 1, tint: '#4080ff', on: true });
    make(setLevels(project, dressed(), 'Light', { [group]: { stops: -2, tint: '#4080ff', on: false } }, onLater));
    expect(cameraAt(project, cameraId, later).lightMix[group]?.on).toBe(false);
    expect(project.cameras[cameraId]?.lightMix[group]).toEqual({ stops: 1, tint: '#4080ff', on: true });
  });
});

describe('variations', () => {
  it('keep look, mix and exposure apart: what is changed while one is worn changes that one alone', () => {
    set(1);
    const day = keep('day');
    make(wearVariation(project, cameraId, day));
    set(2);
    make(setCameraMix(project, cameraId, 'Light', { [group]: { stops: 3, tint: '#ffffff', on: true } }));
    const night = keep('night');
    set(-3);
    make(setCameraMix(project, cameraId, 'Light', { [group]: { stops: -4, tint: '#8899ff', on: true } }));
    const { exposure } = project.head;
    make(setVariation(project, cameraId, night, 'Exposure', { exposure: { ...exposure, iso: 800 } }));
    make(setGroup(project, cameraId, 'exposure', 'ISO', { iso: 1600 }));
    const told = [NO_VARIATION, day, night].map((id) => {
      const { look, lightMix, exposure: now } = seen(cameraId, id);
      return [look.compensationStops, lightMix[group]?.stops, now.iso];
    });
    expect(told).toEqual([
      [1, 0, exposure.iso],
      [2, 3, exposure.iso],
      [-3, -4, 1600],
    ]);
    expect(seen(otherId).look.compensationStops).toBe(1);
    make(wearVariation(project, cameraId, day));
    expect(seen().lightMix[group]?.stops).toBe(3);
  });

  it('that are kept stay as they are, in whatever order one works', () => {
    const light = (stops: number) =>
      make(setCameraMix(project, cameraId, 'Light', { [group]: { stops, tint: '#ffffff', on: true } }));
    const day = keep('day');
    light(-3);
    const sunset = keep('sunset');
    light(-9);
    const night = keep('night');
    expect([day, sunset, night].map((id) => seen(cameraId, id).lightMix[group]?.stops)).toEqual([0, -3, -9]);
    expect(project.cameras[cameraId]?.wears).toBeNull();
    make(wearVariation(project, cameraId, day));
    const noon = keep('noon'); // of one that is worn: it is worn instead
    light(2);
    expect([day, noon].map((id) => seen(cameraId, id).lightMix[group]?.stops)).toEqual([0, 2]);
  });

  it('win over keys of levels, looks and EV, which are the camera’s as it is', () => {
    set(-2);
    make(setCameraMix(project, cameraId, 'Light', { [group]: { stops: 0, tint: '#ffffff', on: false } }));
    const night = keep('lamps out');
    make(setVariation(project, cameraId, night, 'Exposure', { exposure: { ...project.head.exposure, iso: 800 } }));
    const exposed = seen(cameraId, night).exposure;
    const channel = lightChannels(group).stops;
    for (const [name, value] of [
      [channel, 3],
      ['compensation', 0.5],
      ['ev', 9],
    ] as const)
      make(keyChannels(project, cameraId, { [name]: value }, 0));
    const dark = seen(cameraId, night);
    expect([dark.lightMix[group]?.on, dark.look.compensationStops]).toEqual([false, -2]);
    expect(dark.exposure).toEqual(exposed);
    const asItIs = seen(cameraId, NO_VARIATION);
    expect([asItIs.lightMix[group]?.stops, asItIs.look.compensationStops]).toEqual([3, 0.5]);
    // Switched off while it is worn: that is the variation's, and keys stay.
    make(wearVariation(project, cameraId, night));
    const before = project.moves;
    make(
      setLevels(
        project,
        dressed(night),
        'Light',
        { [group]: { stops: 1, tint: '#ffffff', on: true } },
        { atFlicks: 0, autoKey: true },
      ),
    );
    expect(project.moves).toEqual(before);
    expect([seen().lightMix[group]?.stops, seen(cameraId, NO_VARIATION).lightMix[group]?.stops]).toEqual([1, 3]);
  });

  it('are what one camera for the whole cut is exposed as, and a dissolve from none of them stays one', () => {
    const night = keep('night');
    make(setVariation(project, cameraId, night, 'Exposure', { exposure: { ...project.head.exposure, iso: 3200 } }));
    const shotId = nextId();
    const frames = (count: number) => flicksAtFrame(count, project.head.rate);
    make(addShot(project, SEQUENCE_ID, { id: shotId, cameraId, sceneStartFlicks: 0, durationFlicks: frames(48) }));
    make(showVariation(project, shotId, null, night));
    const conformed = nextId();
    const { edit, leftOut } = conformCut(project, SEQUENCE_ID, conformed);
    const made = after(project, edit);
    expect(sceneEv(cameraAt(made, conformed, 0).exposure)).toBeCloseTo(sceneEv(seen(cameraId, night).exposure), 6);
    expect(leftOut).toEqual([]);
    make(showVariation(project, shotId, null, null));
    make(dissolveToVariation(project, SEQUENCE_ID, 24, night, 12, nextId()));
    make(wearVariation(project, cameraId, night)); // to work on it
    expect([4, 40].map((at) => pictureAt(project, SEQUENCE_ID, at)?.variationId)).toEqual([NO_VARIATION, night]);
  });

  it('are changed by two people at once, each another one', () => {
    const [day, night] = [keep('day'), keep('night')];
    const renamed = (id: string, name: string) => setVariation(project, cameraId, id, 'Name', { name });
    const [one, other] = [renamed(day, 'noon'), renamed(night, 'midnight')];
    expect(touchSame(one.operations[0]!, other.operations[0]!)).toBe(false);
    expect(touchSame(one.operations[0]!, renamed(day, 'morning').operations[0]!)).toBe(true);
    project = after(project, one);
    project = withOperations(project, rebased(project, other.operations));
    expect(variationsOf(project.cameras[cameraId]!).map(({ name }) => name)).toEqual(['noon', 'midnight']);
  });

  it('are put in order, duplicated with a look of their own, and leave nothing behind when they go', () => {
    const [day, night] = [keep('day'), keep('night')];
    const ids = { variation: nextId(), look: nextId() };
    make(duplicateVariation(project, cameraId, day, ids));
    expect(variationsOf(project.cameras[cameraId]!).map(({ name }) => name)).toEqual(['day', 'day copy', 'night']);
    make(setLook(project, dressed(ids.variation), 'Edges', { edgeStops: 2 }, nextId()));
    expect([day, ids.variation].map((id) => seen(cameraId, id).look.edgeStops)).toEqual([0, 2]);
    const shotId = nextId();
    make(
      addShot(project, SEQUENCE_ID, {
        id: shotId,
        cameraId,
        sceneStartFlicks: 0,
        durationFlicks: flicksAtFrame(48, project.head.rate),
      }),
    );
    make(showVariation(project, shotId, null, night));
    make(deleteVariation(project, cameraId, night));
    expect(project.shots[shotId]?.variationId).toBeNull();
    expect(project.cameras[cameraId]?.wears).toBeNull();
    make(deleteCamera(project, cameraId));
    expect(project.shots[shotId]?.cameraId).toBeNull();
  });

  it('are shown by shots, dissolved between, and rendered one by one', () => {
    const [day, night] = [keep('day'), keep('night')];
    make(wearVariation(project, cameraId, day));
    const shotId = nextId();
    const frames = (count: number) => flicksAtFrame(count, project.head.rate);
    make(addShot(project, SEQUENCE_ID, { id: shotId, cameraId, sceneStartFlicks: 0, durationFlicks: frames(96) }));
    make(dissolveToVariation(project, SEQUENCE_ID, 48, night, 12, nextId()));
    make(wearVariation(project, cameraId, null));
    const at = (frame: number) => pictureAt(project, SEQUENCE_ID, frame);
    expect([at(10)?.variationId, at(80)?.variationId]).toEqual([day, night]);
    const middle = at(48)?.layers.flatMap((layer) => (layer.kind === 'camera' ? [layer] : [])) ?? [];
    expect(middle.map(({ variationId }) => variationId)).toEqual([day, night]);
    // The action goes on: both see the same moment.
    expect(new Set(middle.map(({ sceneFlicks }) => sceneFlicks)).size).toBe(1);
    expect(middle.reduce((sum, { weight }) => sum + weight, 0)).toBeCloseTo(1, 9);
    const order: RenderOrder = { ...ORDER_DEFAULTS, what: { kind: 'cameras', cameraIds: [cameraId, otherId] } };
    expect(partsOf(project, { ...order, variations: 'all' }).map(({ title }) => title)).toEqual([
      'Pier ride, day',
      'Pier ride, night',
      'Crane',
    ]);
    expect(partsOf(project, { ...order, variations: [night] }).map(({ title }) => title)).toEqual([
      'Pier ride, night',
      'Crane',
    ]);
  });

  it('of projects and changes from before have none', () => {
    const { looks: _looks, keptResponses: _kept, ...rest } = project;
    const before = { ...rest, form: 3, shots: {} };
    expect(projectFrom(JSON.parse(JSON.stringify(before)))).toMatchObject({ form: 5, looks: {}, keptResponses: {} });
    const take = { id: nextId(), name: 'b', cameraId: null };
    const operations = [{ op: 'patch', kind: 'shot', id: nextId(), baseRevision: 'first', fields: { takes: [take] } }];
    const change = changeFrom({ id: nextId(), name: 'Takes', form: 3, operations });
    expect(change.operations[0]).toMatchObject({ fields: { takes: [{ ...take, variationId: null }] } });
  });

  it('of things from before have a surface of one colour, as it was', () => {
    const surface = { colour: '#123456', luminanceCdM2: null, roughness: 0.5 };
    const thing = { ...Object.values(withFigure(project, [0, 0, 0]).project.placements)[0]!, surface };
    const before = JSON.parse(JSON.stringify({ ...project, form: 4, placements: { [thing.id]: thing } })) as unknown;
    expect(projectFrom(before).placements[thing.id]?.surface).toEqual({ kind: 'colour', ...surface });
    const patch = { op: 'patch', kind: 'placement', id: thing.id, baseRevision: 'first' };
    const operations = [
      { ...patch, fields: { surface } },
      { ...patch, fields: { visible: false } },
    ];
    const change = changeFrom({ id: nextId(), name: 'Colour', form: 4, operations });
    expect(change.operations).toMatchObject([
      { fields: { surface: { kind: 'colour' } } },
      { fields: { visible: false } },
    ]);
    expect(change.operations[1]).not.toHaveProperty('fields.surface');
  });
});

describe('a light group', () => {
  it('alone is all that burns, and the meter’s stops bring a place to what is wanted', () => {
    const mix = { [group]: { stops: -2, tint: '#ffffff', on: false } };
    expect(soloed(mix, [group, 'other'], group)).toMatchObject({
      [group]: { on: true, stops: -2 },
      other: { on: false },
      '': { on: false },
    });
    const light = fc.double({ min: 0.01, max: 1000, noNaN: true });
    fc.assert(
      fc.property(light, light, light, (wanted, rest, own) => {
        const stops = stopsToReach(wanted, rest, own);
        if (wanted <= rest) expect(stops).toBeUndefined();
        else if (Math.abs(stops ?? 0) < 20) expect(rest + own * 2 ** (stops ?? 0)).toBeCloseTo(wanted, 4);
      }),
    );
    expect(stopsToReach(10, 1, 0)).toBeUndefined();
  });
});
