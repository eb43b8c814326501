import { createEnvironmentInjector, EnvironmentInjector, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { creation } from '@arvex/core';
import type { Shot } from '@arvex/core';
import type { Effort, SetPatch, StageView } from '@arvex/stage';
import { firstValueFrom } from 'rxjs';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { projectWithCamera, withFigure } from '../../../packages/core/test/sample-project';
import { Api } from '../src/app/data/api';
import { Notices } from '../src/app/data/notices';
import { Outbox } from '../src/app/data/outbox';
import { Playback } from '../src/app/session/playback';
import { Playhead } from '../src/app/session/playhead';
import { ProjectStore } from '../src/app/data/project-store';
import type { ShownView } from '../src/app/drawing/shown-view';
import { Pictures } from '../src/app/drawing/pictures';
import { Pace } from '../src/app/drawing/pace';
import { StageHost } from '../src/app/drawing/stage-host';
import { bundled } from '../src/app/views/reel/bundled';
import { ProjectEvents } from '../src/app/data/project-events';
import { Tried } from '../src/app/session/tried';
import { Viewpoint } from '../src/app/session/viewpoint';
import { Workspace } from '../src/app/session/workspace';
import { provideArvex } from '../src/app/provide-arvex';
import { MemoryServer } from './tab';

/** What was asked of the graphics, in order. */
const asked: string[] = [];
let drawMs = 10;
let showMs = 1;
let broken = false;

vi.mock('../src/app/drawing/stage-desk', () => ({
  StageDesk: class {
    open = () => Promise.resolve();
    watchGraphics = () => Promise.resolve();
    follow = (patch: SetPatch) => {
      if (broken) return Promise.reject(new Error('the set is not taken in'));
      asked.push(`follow ${JSON.stringify(patch)}`);
      return Promise.resolve([]);
    };
    draw = (view: { name: string }, width: number, height: number) => {
      if (broken) return Promise.reject(new Error('the graphics are gone'));
      asked.push(`draw ${view.name} ${width}×${height}`);
      return Promise.resolve({ bitmap: { close: () => undefined, width, height }, milliseconds: drawMs });
    };
    refine = (view: { name: string }, width: number, _height: number, index: number, show: boolean) => {
      asked.push(`refine ${view.name} ${width} ${index}${show ? ' shown' : ''}`);
      return Promise.resolve(show ? { close: () => undefined } : undefined);
    };
    redevelop = (view: { name: string }, width: number, height: number) => {
      asked.push(`redevelop ${view.name} ${width}×${height}`);
      return Promise.resolve({ bitmap: { close: () => undefined, width, height }, milliseconds: showMs });
    };
    sampleGroups = (view: { name: string }, _width: number, _height: number, index: number) => {
      asked.push(`groups ${view.name} ${index}`);
      return Promise.resolve();
    };
    remix = (view: { name: string }, width: number, height: number) => {
      asked.push(`remix ${view.name} ${width}×${height}`);
      return Promise.resolve({ bitmap: { close: () => undefined, width, height }, milliseconds: 1 });
    };
    thumbnail = () => {
      asked.push('thumbnail');
      return Promise.resolve({});
    };
  },
}));

/** Pictures are made a frame of the screen apart: on a busy machine that takes a while. */
const soon = (check: () => void) => vi.waitFor(check, { timeout: 8000 });

let host: StageHost;
let pictures: Pictures;
let injector: EnvironmentInjector;
let store: ProjectStore;

/** What a view shows beside its name: another time is another picture. */
let seenAt = 0;

function view(name: string, samples: readonly number[], more: () => object = () => ({})): ShownView {
  const context = { transferFromImageBitmap: () => undefined };
  const canvas = { clientWidth: 160, clientHeight: 90, getContext: () => context } as unknown as HTMLCanvasElement;
  return {
    canvas,
    samples: () => samples,
    groupsApart: true,
    view: () => ({ view: { name, atFlicks: seenAt, ...more() } as unknown as StageView }),
  };
}
const done = (name: string) => asked.filter((one) => one.includes(` ${name} `));
const refined = (name: string) => asked.filter((one) => one.startsWith(`refine ${name}`));

beforeEach(async () => {
  asked.length = 0;
  drawMs = 10;
  showMs = 1;
  broken = false;
  const server = new MemoryServer(projectWithCamera().project);
  const services = [
    Outbox,
    Notices,
    ProjectEvents,
    ProjectStore,
    Playback,
    Playhead,
    Workspace,
    Tried,
    Viewpoint,
    StageHost,
    Pictures,
  ];
  const providers = [{ provide: Api, useValue: server }, ...services, provideArvex()];
  injector = createEnvironmentInjector(providers, TestBed.inject(EnvironmentInjector));
  store = injector.get(ProjectStore);
  await store.open(server.project.head.id);
  [host, pictures] = [injector.get(StageHost), injector.get(Pictures)];
  TestBed.tick();
  await soon(() => expect(host.loading()).toBe(false));
});

describe('the pictures of a page', () => {
  it('are drawn first, then thumbnails, then made finer: those that need least before the others, each to its end', async () => {
    pictures.show(view('large', [8, 16]));
    pictures.show(view('small', [4]));
    await firstValueFrom(pictures.thumbnail({} as StageView, 20, 10));
    await soon(() => expect(refined('large')).toHaveLength(16));
    const first = (what: string) => asked.findIndex((one) => one.startsWith(what));
    expect(first('draw small')).toBeLessThan(first('thumbnail'));
    expect(first('draw large')).toBeLessThan(first('thumbnail'));
    expect(first('thumbnail')).toBeLessThan(first('refine'));
    expect(first('refine large')).toBeGreaterThan(asked.lastIndexOf('refine small 160 3 shown'));
    expect(refined('large').filter((one) => one.endsWith('shown'))).toEqual([
      'refine large 160 7 shown',
      'refine large 160 15 shown',
    ]);
  });

  it('let frames that are prepared go before what makes them finer, once each shows its first finer picture', async () => {
    pictures.show(view('large', [4, 40]));
    await Promise.all([1, 2, 3].map(() => firstValueFrom(pictures.inBackground({} as StageView, 20, 10))));
    expect(refined('large')).toHaveLength(4);
    expect(refined('large').at(-1)).toContain('shown');
    await soon(() => expect(refined('large')).toHaveLength(40));
  });

  it('begin anew when what they show changes, and when another one has taken their place meanwhile', async () => {
    const large = view('large', [40]);
    pictures.show(large);
    await soon(() => expect(refined('large').length).toBeGreaterThan(3));
    pictures.show(view('small', [2]));
    await soon(() => expect(refined('large').at(-1)).toContain(' 39'));
    expect(refined('large').filter((one) => one.startsWith('refine large 160 0'))).toHaveLength(2);
    seenAt += 1;
    pictures.invalidate(large);
    await soon(() => expect(refined('large').filter((one) => one.startsWith('refine large 160 0'))).toHaveLength(3));
  });

  it('show another look from the samples that are there, and another light mix from those of each group', async () => {
    const [look, mix] = [signal(0), signal(0)];
    const lit = () => ({ look: { compensationStops: look() }, lightMix: { room: { stops: mix() } } });
    const shown = view('lit', [2, 6], lit);
    pictures.show(shown);
    await soon(() => expect(refined('lit')).toHaveLength(6));
    const drawn = done('lit').length;
    look.set(1);
    pictures.invalidate(shown, true);
    await soon(() => expect(done('lit').slice(drawn)).toEqual(['redevelop lit 160×90']));
    // Where that takes longer than two frames of the page, it is shown smaller while it is dragged, and whole at rest.
    showMs = 70;
    for (const [i, size] of ['160×90', '160×90', '80×45'].entries()) {
      look.set(2 + i);
      pictures.invalidate(shown, true);
      await soon(() => expect(done('lit').slice(drawn + 1 + i)).toEqual([`redevelop lit ${size}`]));
    }
    showMs = 1;
    look.set(1);
    pictures.invalidate(shown);
    await soon(() => expect(done('lit').slice(drawn + 4)).toEqual(['redevelop lit 160×90']));
    pictures.groupsWanted.set({ apart: ['room', null], together: [] });
    pictures.invalidate(shown);
    await soon(() => expect(asked.filter((one) => one.startsWith('groups'))).toHaveLength(6));
    const before = done('lit').length;
    mix.set(-2);
    pictures.invalidate(shown, true);
    await soon(() => expect(done('lit').slice(before)).toEqual(['remix lit 160×90']));
    // A look on top of the new mix is shown from there, and nothing is drawn anew.
    look.set(2);
    pictures.invalidate(shown);
    await soon(() => expect(done('lit').slice(before + 1)).toEqual(['redevelop lit 160×90']));
    await new Promise((resolve) => setTimeout(resolve, 300));
    expect(done('lit')).toHaveLength(before + 2);
    // The set has changed: what was added up is of another one.
    seenAt += 1;
    pictures.invalidate(shown);
    await soon(() => expect(done('lit').slice(before + 2)[0]).toBe('draw lit 160×90'));
  });

  it('get coarser while something moves and drawing is slow, and whole again at rest', async () => {
    const shown = view('view', [2]);
    pictures.show(shown);
    await soon(() => expect(refined('view')).toHaveLength(2));
    drawMs = 180;
    for (let i = 0; i < 3; i++) {
      const before = done('view').length;
      seenAt += 1;
      pictures.invalidate(shown, true);
      await soon(() => expect(done('view').length).toBeGreaterThan(before));
    }
    const widths = done('view').flatMap((one) => /^draw \S+ (\d+)/.exec(one)?.[1] ?? []);
    expect(widths.slice(0, 3)).toEqual(['53', '160', '160']); // the first of all is there soonest
    expect(Number(widths.at(-1))).toBeLessThan(100);
    // However long it takes until the next one: as long as it moves, nothing else is drawn.
    const thumbnail = firstValueFrom(pictures.thumbnail({} as StageView, 20, 10));
    const moving = done('view').length;
    await new Promise((resolve) => setTimeout(resolve, 400));
    expect([done('view').length, asked.includes('thumbnail')]).toEqual([moving, false]);
    expect(pictures.effort().share).toBeLessThan(1);
    seenAt += 1;
    pictures.invalidate(shown);
    await soon(() => expect(done('view')).toHaveLength(moving + 3));
    await thumbnail;
    expect(done('view').slice(moving)).toEqual(['draw view 160×90', 'refine view 160 0', 'refine view 160 1 shown']);
    expect(pictures.effort().share).toBe(1);
  });

  it('that are played are kept, and shown again without being drawn', async () => {
    const playhead = injector.get(Playhead);
    playhead.toMode('camera');
    vi.stubGlobal('createImageBitmap', (bitmap: ImageBitmap) => Promise.resolve(bitmap));
    let at = 0;
    const drawn: number[] = [];
    const shown = {
      ...view('played', [1]),
      view: () => ({ view: { name: 'played' } as unknown as StageView, label: at, frame: { key: `k${at}`, at } }),
      drawn: (label: unknown) => drawn.push(label as number),
    };
    pictures.show(shown);
    await soon(() => expect(done('played')).toHaveLength(3));
    injector.get(Playback).toggle();
    const play = async (frame: number) => {
      at = frame;
      const before = drawn.length;
      pictures.invalidate(shown, true);
      await soon(() => expect(drawn.length).toBeGreaterThan(before));
    };
    for (const frame of [1, 2, 3]) await play(frame);
    const before = done('played').length;
    for (const frame of [1, 2, 3]) await play(frame);
    expect(done('played')).toHaveLength(before);
    await play(4);
    expect(done('played')).toHaveLength(before + 1);
    injector.get(Playback).toggle();
  });

  it('wait while the interface has the machine to itself, and go on after it', async () => {
    pictures.show(view('resting', [6]));
    await soon(() => expect(refined('resting')).not.toEqual([]));
    await host.standAside(async () => {
      const before = done('resting').length;
      pictures.show(view('late', [1]));
      await new Promise((resolve) => setTimeout(resolve, 200));
      expect([done('resting').length, done('late')]).toEqual([before, []]);
    });
    await soon(() => expect(refined('late')).toHaveLength(1));
    await soon(() => expect(refined('resting').at(-1)).toBe('refine resting 160 5 shown'));
  });

  it('say why there are none, and come back', async () => {
    broken = true;
    const shown = view('view', [1]);
    pictures.show(shown);
    await soon(() => expect(host.failure()).toContain('the graphics are gone'));
    broken = false; // nobody asks again: it is tried anew after a pause
    await soon(() => expect(asked.some((one) => one.startsWith('draw view'))).toBe(true));
    await soon(() => expect(host.failure()).toBeUndefined());
  });

  it('take in again what of the set could not be taken in', async () => {
    const figure = withFigure(store.project()!, [0, 0, 0]);
    const operations = [creation('placement', figure.project.placements[figure.id]!)];
    broken = true;
    store.commit({ name: 'Put a figure', operations });
    TestBed.tick();
    await soon(() => expect(host.failure()).toContain('the set is not taken in'));
    const thumbnail = firstValueFrom(pictures.thumbnail({} as StageView, 20, 10));
    broken = false;
    const taken = () => asked.findIndex((one) => one.startsWith('follow') && one.includes(figure.id));
    await soon(() => expect(taken()).toBeGreaterThanOrEqual(0));
    // What would be kept is not made of a set that is not there yet.
    await thumbnail;
    expect(asked.indexOf('thumbnail')).toBeGreaterThan(taken());
    expect(host.failure()).toBeUndefined();
  });

  it('that are small are not drawn for nobody', async () => {
    const shown = view('resting', [1]);
    pictures
      .thumbnail({} as StageView, 20, 10)
      .subscribe()
      .unsubscribe();
    pictures.show(shown);
    await soon(() => expect(refined('resting')).toHaveLength(1));
    expect(asked).not.toContain('thumbnail');
  });
});

describe('the pace of what moves', () => {
  /** A machine on which a picture takes so long: per pixel and at least, with shadows, in full light. */
  const machine = (pixelsMs: number, leastMs: number, shadowsMs: number, lightMs: number) => (effort: Effort) =>
    leastMs + pixelsMs * effort.share ** 2 + (effort.shadows ? shadowsMs : 0) + (effort.lean ? 0 : lightMs);
  const play = (pace: Pace, took: (effort: Effort) => number, pictures = 60) => {
    const efforts: Effort[] = [];
    for (let i = 0; i < pictures; i++) {
      efforts.push(pace.effort);
      pace.tell(pace.effort, took(pace.effort));
    }
    return efforts;
  };

  it('gives up size, then shadows, then full light, and no more than it has to', () => {
    expect(play(new Pace(42), machine(20, 5, 5, 5)).at(-1)).toEqual({ share: 1, shadows: true, lean: false });
    expect(play(new Pace(42), machine(80, 5, 5, 5)).at(-1)).toEqual({ share: 1 / 2, shadows: true, lean: false });
    expect(play(new Pace(42), machine(200, 5, 5, 5)).at(-1)).toEqual({ share: 1 / 3, shadows: true, lean: false });
    expect(play(new Pace(42), machine(200, 10, 20, 5)).at(-1)).toEqual({ share: 1 / 3, shadows: false, lean: false });
    expect(play(new Pace(42), machine(200, 10, 20, 60)).at(-1)).toEqual({ share: 1 / 3, shadows: false, lean: true });
  });

  it('is reached within a few pictures, and tried to be bettered ever more rarely', () => {
    const pace = new Pace(42);
    const efforts = play(pace, machine(200, 10, 20, 60), 2000);
    expect(efforts.slice(6, 20).every(({ lean }) => lean)).toBe(true);
    expect(efforts.slice(20).filter(({ lean }) => !lean).length).toBeLessThan(40);
  });

  it('takes back what it gave up once the machine is free', () => {
    const pace = new Pace(42);
    play(pace, machine(200, 10, 20, 60));
    expect(play(pace, machine(10, 2, 2, 2), 400).at(-1)).toEqual({ share: 1, shadows: true, lean: false });
  });
});

describe('a reel of very many shots', () => {
  const shots = (frames: readonly number[]) => {
    let startFrame = 0;
    return frames.map((frameCount, i) => {
      startFrame += frameCount;
      return { shot: { id: `${i}` } as Shot, startFrame: startFrame - frameCount, frameCount };
    });
  };

  it('has no more blocks than can be told apart, and leaves none out', () => {
    const all = shots(Array.from({ length: 500 }, () => 48));
    const bundles = bundled(all, 1000 / 24_000);
    expect(bundles.length).toBeLessThan(20);
    expect(bundles.flat()).toEqual(all);
  });

  it('shows a shot that is wide enough by itself, whatever stands beside it', () => {
    const bundles = bundled(shots([4, 4, 400, 4, 4, 300]), 0.5);
    expect(bundles.map((bundle) => bundle.length)).toEqual([2, 1, 2, 1]);
  });
});
