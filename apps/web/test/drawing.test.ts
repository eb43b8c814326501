import { createEnvironmentInjector, EnvironmentInjector } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { creation } from '@arvex/core';
import type { SetPatch, StageView } from '@arvex/stage';
import { firstValueFrom } from 'rxjs';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { projectWithCamera, withFigure } from '../../../packages/core/test/sample-project';
import { Api } from '../src/app/data/api';
import { Notices } from '../src/app/data/notices';
import { Outbox } from '../src/app/data/outbox';
import { Playhead } from '../src/app/session/playhead';
import { ProjectStore } from '../src/app/data/project-store';
import type { ShownView } from '../src/app/drawing/pictures';
import { Pictures } from '../src/app/drawing/pictures';
import { StageHost } from '../src/app/drawing/stage-host';
import { ProjectEvents } from '../src/app/data/project-events';
import { Viewpoint } from '../src/app/session/viewpoint';
import { Workspace } from '../src/app/session/workspace';
import { provideArvex } from '../src/app/provide-arvex';
import { MemoryServer } from './tab';

/** What was asked of the graphics, in order. */
const asked: string[] = [];
let drawMs = 10;
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
      return Promise.resolve({ bitmap: { close: () => undefined }, milliseconds: drawMs });
    };
    refine = (view: { name: string }, width: number, _height: number, index: number, show: boolean) => {
      asked.push(`refine ${view.name} ${width} ${index}${show ? ' shown' : ''}`);
      return Promise.resolve(show ? { close: () => undefined } : undefined);
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
let store: ProjectStore;

function view(name: string, samples: readonly number[]): ShownView {
  const context = { transferFromImageBitmap: () => undefined };
  const canvas = { clientWidth: 160, clientHeight: 90, getContext: () => context } as unknown as HTMLCanvasElement;
  return { canvas, samples: () => samples, view: () => ({ view: { name } as unknown as StageView }) };
}
const done = (name: string) => asked.filter((one) => one.includes(` ${name} `));
const refined = (name: string) => asked.filter((one) => one.startsWith(`refine ${name}`));

beforeEach(async () => {
  asked.length = 0;
  drawMs = 10;
  broken = false;
  const server = new MemoryServer(projectWithCamera().project);
  const services = [Outbox, Notices, ProjectEvents, ProjectStore, Playhead, Workspace, Viewpoint, StageHost, Pictures];
  const providers = [{ provide: Api, useValue: server }, ...services, provideArvex()];
  const injector = createEnvironmentInjector(providers, TestBed.inject(EnvironmentInjector));
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

  it('begin anew when what they show changes, and when another one has taken their place meanwhile', async () => {
    const large = view('large', [40]);
    pictures.show(large);
    await soon(() => expect(refined('large').length).toBeGreaterThan(3));
    pictures.show(view('small', [2]));
    await soon(() => expect(refined('large').at(-1)).toContain(' 39'));
    expect(refined('large').filter((one) => one.startsWith('refine large 160 0'))).toHaveLength(2);
    pictures.invalidate(large);
    await soon(() => expect(refined('large').filter((one) => one.startsWith('refine large 160 0'))).toHaveLength(3));
  });

  it('get coarser while something moves and drawing is slow, and whole again at rest', async () => {
    const shown = view('view', [2]);
    pictures.show(shown);
    await soon(() => expect(refined('view')).toHaveLength(2));
    drawMs = 180;
    for (let i = 0; i < 3; i++) {
      const before = done('view').length;
      pictures.invalidate(shown, true);
      await soon(() => expect(done('view').length).toBeGreaterThan(before));
    }
    const widths = done('view').flatMap((one) => /^draw \S+ (\d+)/.exec(one)?.[1] ?? []);
    expect(widths.slice(0, 2)).toEqual(['160', '160']);
    expect(Number(widths.at(-1))).toBeLessThan(100);
    const moving = done('view').length;
    await soon(() => expect(done('view')).toHaveLength(moving + 2));
    expect(done('view').slice(moving)).toEqual(['refine view 160 0', 'refine view 160 1 shown']);
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
    broken = false;
    await soon(() => expect(asked.some((one) => one.startsWith('follow') && one.includes(figure.id))).toBe(true));
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
