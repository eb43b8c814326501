import { concat, finalize, firstValueFrom, NEVER, of, throwError } from 'rxjs';
import { TestBed } from '@angular/core/testing';
import type { Camera, CameraState, PictureFile, Project, RigHandle, RigOf, Vector } from '@arvex/core';
import {
  cameraAt,
  changeEv,
  deletePlacements,
  flicksAtFrame,
  makeCamera,
  RIG_DEFAULTS,
  setCamera,
  setPlacement,
} from '@arvex/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { nextId, projectWithCamera, withFigure } from '../../../packages/core/test/sample-project';
import { ClipSurvey, ExposureControls, Focus } from '../src/app/features/cameras';
import { FilesIn } from '../src/app/features/interchange';
import { Imports } from '../src/app/features/set/imports';
import { Checks } from '../src/app/readiness/checks';
import { ComfortReport } from '../src/app/features/moves/comfort-report';
import { Meter } from '../src/app/features/cameras/meter';
import { Packages } from '../src/app/features/cameras/packages';
import { PictureTools } from '../src/app/features/cameras/picture-tools';
import { RigHandles } from '../src/app/features/moves/rig-handles';
import { Selection } from '../src/app/session/selection';
import { Thumbnails } from '../src/app/drawing/thumbnails';
import { upload } from '../src/app/data/upload';
import type { Tab } from './tab';
import { FakeStage, MemoryServer, openTab } from './tab';

vi.mock('../src/app/data/upload', () => ({ upload: vi.fn() }));

let tab: Tab;
let stage: FakeStage;
let server: MemoryServer;
let cameraId: string;
let figureId: string;
const project = () => tab.store.project() as Project;
const camera = () => project().cameras[cameraId] as Camera;
const state = () => tab.viewpoint.state() as CameraState;
const said = () => tab.notices.all().at(-1)?.text ?? '';
const soon = (check: () => void) => {
  TestBed.tick();
  return vi.waitFor(check, { timeout: 4000 });
};
const at = (frame: number) => flicksAtFrame(frame, { frames: 24, seconds: 1 });

beforeEach(async () => {
  const made = projectWithCamera();
  const figure = withFigure(made.project, [0, 0, -6]);
  ({ cameraId } = made);
  figureId = figure.id;
  stage = new FakeStage();
  server = new MemoryServer(figure.project);
  tab = await openTab(server, stage);
  tab.playhead.lookThrough(cameraId);
});

it('that shows nothing but what stands before the lens is told, unless that is sharp', async () => {
  const covered = () =>
    tab
      .get(Checks)
      .all()
      .find(({ code }) => code === 'view-covered');
  tab.get(ClipSurvey);
  stage.surveyed = { ...stage.surveyed, nearest: { distanceM: 0.2, placementId: figureId }, filledBy: figureId };
  await soon(() => expect(covered()?.message).toContain('0.20 m before the lens'));
  tab.get(Focus).at(0.2);
  await soon(() => expect(covered()).toBeUndefined());
});

describe('the meter', () => {
  let metering: Meter;
  let checks: Checks;
  beforeEach(() => {
    metering = tab.get(Meter);
    checks = tab.get(Checks);
  });
  const off = () => checks.all().find(({ code }) => code === 'exposure-off');

  it('reads the resting picture and says how far the setting is off, with neutral density counted', async () => {
    stage.luminance = 4096;
    await soon(() => expect(metering.reading()?.luminanceCdM2).toBeCloseTo(4096, 0));
    // EV 15 is what 4096 cd/m² asks for (K = 12.5).
    expect(metering.reading()?.ev).toBeCloseTo(15, 2);
    expect(metering.reading()?.over).toBeCloseTo(15 - (state().exposure.ev100 + state().exposure.ndStops), 6);
  });

  it('says at once how far off a new setting is, before the picture is read again', async () => {
    await soon(() => expect(metering.over()).toBeDefined());
    const [over, ev] = [metering.over()!, state().exposure.ev100];
    tab.get(ExposureControls).apply('Expose as metered', changeEv(state(), over));
    expect(state().exposure.ev100).not.toBeCloseTo(ev, 1);
    expect(metering.over()).toBeCloseTo(0, 6);
  });

  it('makes more than two stops off a finding, and exposing right takes it away', async () => {
    const setting = state().exposure.ev100 + state().exposure.ndStops;
    stage.luminance = 0.125 * 2 ** (setting + 3);
    await soon(() => expect(off()?.message).toContain('3.0 stops over the meter'));
    stage.luminance = 0.125 * 2 ** setting;
    tab.store.commit(setCamera(project(), cameraId, 'Name', { name: 'Pier ride at dusk' }));
    tab.setting.setPose(cameraId, 'Place', { ...camera().pose, panDeg: 3 });
    await soon(() => expect(off()).toBeUndefined());
  });

  it('forgets what it read another way', async () => {
    await soon(() => expect(metering.reading()).toBeDefined());
    metering.spotAt([0.2, 0.3]);
    TestBed.tick();
    expect([metering.mode(), metering.reading()]).toEqual(['spot', undefined]);
    await soon(() => expect(metering.reading()).toBeDefined());
  });
});

describe('what is not ready', () => {
  it('leads to its place: step, card, camera or thing', () => {
    const other = nextId();
    tab.store.commit(makeCamera(project(), other, { positionM: [0, 0, 0], panDeg: 0, tiltDeg: 0, rollDeg: 0 }));
    const checks = tab.get(Checks);
    const atOrigin = checks
      .in('cameras')
      .find(({ code, cameraId: id }) => code === 'camera-at-origin' && id === other)!;
    tab.workspace.goTo('review');
    checks.mend(atOrigin);
    expect([tab.workspace.step(), tab.workspace.openCard(), tab.viewpoint.camera()?.id]).toEqual([
      'cameras',
      'place',
      other,
    ]);
    expect(checks.in('sequence').map(({ code }) => code)).toEqual(['sequence-empty']);
    expect(tab.get(Selection).ids()).toEqual([]);
  });

  it('is mended by one click where one click can', () => {
    tab.store.commit(
      setCamera(project(), cameraId, 'Lens', {
        lens: { ...camera().lens, lensId: 'standard-35', focalLengthMm: 35 },
        focus: { ...camera().focus, fStop: 1 },
      }),
    );
    const checks = tab.get(Checks);
    const beyond = () => checks.all().find(({ code }) => code === 'lens-exceeded');
    expect(beyond()?.mend).toBe('Use ƒ1.4');
    checks.mend(beyond()!);
    expect([camera().focus.fStop, beyond()]).toEqual([1.4, undefined]);
  });
});

describe('tools of the picture', () => {
  let tools: PictureTools;
  const point = (z: number) =>
    ({ pointM: [0, 1.6, z], distanceM: -z, normal: [0, 0, 1], placementId: undefined }) as never;
  beforeEach(() => (tools = tab.get(PictureTools)));

  it('focus where the picture is clicked, and say so where there is only sky', () => {
    tools.click(point(-3), [0.5, 0.5]);
    expect(state().focus.distanceM).toBeCloseTo(3, 6);
    tools.click(undefined, [0.5, 0.1]);
    expect(said()).toContain('only sky');
    expect(state().focus.distanceM).toBeCloseTo(3, 6);
  });

  it('hold two clicked points sharp with the nearest marked stop, and are put away after it', () => {
    tools.use('hold');
    tools.click(point(-3), [0.5, 0.5]);
    expect(tools.heldFirst()).toEqual([0, 1.6, -3]);
    tools.click(point(-4), [0.5, 0.5]);
    expect(state().focus.nearM).toBeLessThanOrEqual(3);
    expect(state().focus.farM).toBeGreaterThanOrEqual(4);
    expect([tools.tool(), tools.heldFirst()]).toEqual(['focus', undefined]);
    expect(said()).toMatch(/^ƒ[\d.]+ at .* holds 3\.00 m to 4\.00 m/);
  });

  it('focus there when both lie at one distance', () => {
    tools.holdBetween(3, 3);
    expect(said()).toContain('same distance');
    expect(state().focus.distanceM).toBe(3);
  });

  it('meter a spot and aim at a point, one undo step each', () => {
    tools.use('meter');
    tools.click(point(-3), [0.1, 0.9]);
    expect(tab.get(Meter).spot()).toEqual([0.1, 0.9]);
    tools.use('aim');
    tools.click(point(-3), [0.5, 0.5]);
    expect([camera().aim, tools.tool()]).toEqual([{ kind: 'point', positionM: [0, 1.6, -3] }, 'focus']);
    tab.undoList.undo();
    expect(camera().aim.kind).toBe('free');
    tools.use('hold');
    tools.use('hold'); // pressed again: put away
    expect(tools.tool()).toBe('focus');
  });
});

describe('thumbnails', () => {
  it('are drawn once, and again only when what they show has changed', async () => {
    const thumbnails = tab.get(Thumbnails);
    let addresses = 0;
    vi.spyOn(URL, 'createObjectURL').mockImplementation(() => `picture ${++addresses}`);
    const seen = (frame: number) =>
      firstValueFrom(thumbnails.of(project(), { cameraId, atFlicks: at(frame), trial: undefined }));
    expect(await Promise.all([seen(0), seen(0), seen(90)])).toEqual(['picture 1', 'picture 1', 'picture 1']);
    expect(stage.thumbnails).toHaveLength(1); // asked for thrice at once, and nothing moves
    tab.store.commit(setPlacement(project(), figureId, 'Name', { name: 'someone else' }));
    expect(await seen(0)).toBe('picture 1'); // a name is not seen
    tab.setting.setPose(cameraId, 'Place', { ...camera().pose, panDeg: 30 });
    expect(await seen(0)).toBe('picture 2');
    tab.store.commit(deletePlacements(project(), [figureId]));
    expect(await seen(0)).toBe('picture 3');
    tab.undoList.undo();
    expect(await seen(0)).toBe('picture 2');
    // Another tab of this browser, or this one after a reload, draws nothing.
    const [drawn, other] = [stage.thumbnails.length, await openTab(server, stage)];
    await firstValueFrom(other.get(Thumbnails).of(project(), { cameraId, atFlicks: at(0), trial: undefined }));
    expect(stage.thumbnails).toHaveLength(drawn);
  });
});

describe('a rig’s handles', () => {
  it('move the whole rig, or one node of its rail, seen before it is done', () => {
    const handling = tab.get(RigHandles);
    const handle = (kind: RigHandle['kind'], index = 0): RigHandle => ({ kind, index, atM: [0, 0, 0], name: '' });
    tab.workspace.goTo('moves');
    const nodesM: Vector[] = [
      [0, 0, 0],
      [4, 0, 0],
    ];
    const track = { nodesM, straight: [], closed: false, by: 'distance' as const, along: 1 };
    const rig = { kind: 'rail' as const, ...RIG_DEFAULTS.base, ...track, cameraM: RIG_DEFAULTS.railCameraM };
    tab.store.commit(setCamera(project(), cameraId, 'Rail', { rig }));
    const place = () => cameraAt(project(), cameraId, 0).positionM;
    const before = place();
    handling.preview(handle('rig'), [0, 0, 2]);
    expect(place()).toEqual(before);
    handling.end(handle('rig'), [0, 0, 2], false);
    expect([place(), tab.tried.dragging()]).toEqual([before, false]);
    handling.end(handle('rig'), [0, 0, 2], true);
    expect(place()[2]).toBeCloseTo(before[2] + 2, 9);
    const nodes = () => ('nodesM' in camera().rig ? (camera().rig as RigOf<'rail'>).nodesM : []);
    handling.addAt(2, 2.5);
    expect(nodes().map(([x]) => x)).toEqual([0, 2, 4]);
    handling.end(handle('node', 2), [1, 0, 0], true);
    expect(nodes()[2]?.[0]).toBeCloseTo(5, 9);
    handling.remove(handle('node', 1));
    expect(nodes()).toHaveLength(2);
    handling.remove(handle('node', 1)); // two are the least
    expect(nodes()).toHaveLength(2);
  });

  it('are the point and the subject that a camera is aimed at: moved, seen before, and taken back', () => {
    const handling = tab.get(RigHandles);
    tab.workspace.goTo('moves');
    const target = () => handling.body()?.handles.find(({ kind }) => kind === 'target') as RigHandle;
    const looksAt = () => cameraAt(project(), cameraId, 0).aimM;
    tab.store.commit(setCamera(project(), cameraId, 'Aim', { aim: { kind: 'point', positionM: [2, 1, -8] } }));
    expect(target().atM).toEqual([2, 1, -8]);
    const pressed = target();
    handling.preview(pressed, [1, 0, 0]);
    expect(tab.viewpoint.state()?.aimM).toEqual([3, 1, -8]);
    handling.end(pressed, [1, 0, 1], true);
    expect(looksAt()).toEqual([3, 1, -7]);
    tab.undoList.undo();
    expect(looksAt()).toEqual([2, 1, -8]);

    const beside = { point: 'eyes', offsetM: [0, 0, 0] as Vector, weight: 1, smoothingS: 0 } as const;
    const aim = { kind: 'subject' as const, placementId: figureId, ...beside };
    tab.store.commit(setCamera(project(), cameraId, 'Aim', { aim }));
    const [x = 0, y = 0, z = 0] = looksAt() ?? [];
    handling.end(target(), [0.5, 0, -0.25], true);
    [x + 0.5, y, z - 0.25].forEach((value, i) => expect(looksAt()?.[i]).toBeCloseTo(value, 9));
  });
});

describe('what comfort judges', () => {
  it('is the time that the move and the shots of the camera cover', () => {
    const comforting = tab.get(ComfortReport);
    expect(comforting.stretch()).toBeUndefined();
    for (const frame of [12, 48]) {
      tab.playhead.goTo(frame);
      tab.setting.setChannels(cameraId, 'Place', { positionX: frame });
      tab.marks.mark();
    }
    expect(comforting.stretch()).toEqual([at(12), at(49)]);
    const projectId = tab.store.project()?.head.id ?? '';
    const comfort = { fromFlicks: at(12), flowLimit: 2, frames: [{ flow: 5 }] } as never;
    comforting.measured.set({ projectId, cameraId, comfort });
    tab.workspace.goTo('moves');
    expect([comforting.calmFactor(), comforting.sceneFrame(3)]).toEqual([2.525, 15]);
    comforting.goTo(3);
    expect(tab.playhead.frame()).toBe(15);
    // Nothing is said any longer of a move that was undone.
    tab.undoList.undo();
    tab.undoList.undo();
    tab.undoList.undo();
    tab.undoList.undo();
    expect([comforting.stretch(), comforting.comfort(), comforting.calmFactor()]).toEqual([undefined, undefined, 1]);
  });
});

describe('packages', () => {
  it('are saved under a name, replaced by the same name, and used on another camera as one step', async () => {
    const saved = new Map<string, { id: string; name: string; settings: unknown }>();
    Object.assign(server, {
      get: (path: string) => Promise.resolve(path.startsWith('/packages') ? { items: [...saved.values()] } : undefined),
      put: (path: string, body: { name: string; settings: unknown }) => {
        const id = path.split('/').at(-1) ?? '';
        saved.set(id, { id, ...body });
        return Promise.resolve();
      },
      delete: (path: string) => Promise.resolve(saved.delete(path.split('/').at(-1) ?? '')),
    });
    const packages = tab.get(Packages);
    await packages.save('Marsh at dusk');
    await packages.save('Marsh at dusk');
    expect(packages.all().map(({ name }) => name)).toEqual(['Marsh at dusk']);
    const other = nextId();
    tab.store.commit(makeCamera(project(), other, { positionM: [3, 1, 3], panDeg: 0, tiltDeg: 0, rollDeg: 0 }));
    tab.store.commit(setCamera(project(), other, 'Stop', { focus: { ...camera().focus, fStop: 16 } }));
    tab.playhead.lookThrough(other);
    packages.apply(packages.all()[0]!);
    expect(project().cameras[other]).toMatchObject({
      focus: { fStop: camera().focus.fStop },
      pose: { positionM: [3, 1, 3] },
    });
    await packages.delete(packages.all()[0]!);
    expect(packages.all()).toEqual([]);
    Object.assign(server, { get: () => Promise.reject(new Error('the server is away')) });
    await packages.refresh();
    expect(said()).toBe('the server is away');
  });
});

describe('bringing in files', () => {
  const file = (name: string, size = 4, arrayBuffer = () => Promise.resolve(new Uint8Array(4).buffer)) =>
    Object.defineProperties(new File(['abcd'], name), {
      size: { value: size },
      slice: { value: () => ({ arrayBuffer }) },
    });
  const facts: PictureFile = {
    kind: 'picture',
    hash: 'b'.repeat(64),
    bytes: 9,
    mediaType: 'image/png',
    widthPx: 200,
    heightPx: 100,
  };
  let bringing: Imports;
  let files: FilesIn;
  beforeEach(() => {
    bringing = tab.get(Imports);
    files = tab.get(FilesIn);
    vi.mocked(upload).mockReset();
  });
  const count = () => Object.keys(project().placements).length;
  const rounded = (atM: Vector) => atM.map((x) => Math.round(x * 1e6) / 1e6);

  it('stands pictures as cards side by side where one looks, and lays one over the camera looked through', async () => {
    vi.mocked(upload).mockReturnValue(of({ kind: 'taken', answer: facts }));
    tab.workspace.show('free');
    tab.freeCamera.pose.set({ positionM: [1, 2, 3], panDeg: 90, tiltDeg: -20, rollDeg: 0 });
    await files.take([file('sky.png')]);
    const card = tab.get(Selection).last()!;
    expect(card).toMatchObject({ name: 'sky', piece: { kind: 'card', heightM: 1.8, widthM: 3.6 } });
    expect(rounded(card.positionM)).toEqual([6, 0, 3]);
    await files.take([file('sea.png'), file('shore.png')]);
    // As wide as they are, to the right of each other: south, for who looks east.
    expect(rounded(tab.get(Selection).last()!.positionM)).toEqual([6, 0, 6.6]);
    tab.workspace.show('plan');
    tab.setting.setPose(cameraId, 'Place', { positionM: [0, 2, 10], panDeg: 0, tiltDeg: 0, rollDeg: 0 });
    await files.take([file('sky.png')]);
    expect(rounded(tab.get(Selection).last()!.positionM)).toEqual([0, 0, 5]);
    await bringing.bringInReference(file('board.jpg'));
    expect(camera().references).toMatchObject([{ opacity: 0.5, layer: 'over' }]);
    expect(bringing.onItsWay()).toBeUndefined();
  });

  it('says what it takes, how much, and what went wrong; the set stays', async () => {
    await files.take([file('notes.txt')]);
    expect(said()).toMatch(/^notes\.txt was not brought in: Arvex does not read such files\. Bring in GLB, glTF, OBJ/);
    await files.take([file('gone.glb', 4, () => Promise.reject(new Error('it was taken away')))]);
    expect(said()).toBe('gone.glb was not brought in: it cannot be read any more. Choose it again.');
    await files.take([file('hut.glb', 250_000_000)]);
    expect(said()).toMatch(/^hut\.glb was not brought in: it has 250 MB; up to 200 MB/);
    vi.mocked(upload).mockReturnValue(throwError(() => new Error('its header is not that of a PNG')));
    await files.take([file('sky.png')]);
    expect(said()).toBe('sky.png was not brought in: its header is not that of a PNG');
    expect([count(), tab.undoList.undoName()]).toEqual([1, undefined]);
  });

  it('is one at a time, and given up when it is cancelled', async () => {
    const given = vi.fn();
    vi.mocked(upload).mockReturnValue(concat(of({ kind: 'sent', share: 0.5 } as const), NEVER).pipe(finalize(given)));
    const going = files.take([file('sky.png')]);
    await vi.waitFor(() => expect(bringing.onItsWay()).toEqual({ name: 'sky.png', doing: 'Sending', share: 0.5 }));
    await files.take([file('sea.png')]);
    expect(said()).toContain('Another file is on its way');
    bringing.cancel();
    await going;
    expect(given).toHaveBeenCalledOnce();
    expect(said()).toBe('sky.png was not brought in; the set is as it was.');
    expect([count(), bringing.onItsWay()]).toEqual([1, undefined]);
  });
});
