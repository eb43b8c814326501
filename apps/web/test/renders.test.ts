import { TestBed } from '@angular/core/testing';
import { wrap } from 'comlink';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { nextId, projectWithCamera } from '../../../packages/core/test/sample-project';
import type { Recipe, Render, RenderOrder } from '@arvex/core';
import { addShot, FIRST_RECIPES, flicksAtFrame, ORDER_DEFAULTS } from '@arvex/core';
import { OrderDesk } from '../src/app/features/review/order-desk';
import { Recipes } from '../src/app/features/review/recipes';
import { Renders } from '../src/app/features/review/renders';
import { Playhead } from '../src/app/session/playhead';
import type { Tab } from './tab';
import { MemoryServer, openTab } from './tab';

vi.mock('comlink', async (actual) => ({ ...(await actual<object>()), wrap: vi.fn() }));

let tab: Tab;
let server: MemoryServer;

beforeEach(async () => {
  localStorage.clear();
  sessionStorage.clear();
  server = new MemoryServer(projectWithCamera().project);
  tab = await openTab(server);
});

const order = (): RenderOrder => ({ ...ORDER_DEFAULTS, what: { kind: 'cut', sequenceId: nextId() } });

describe('a render', () => {
  const render = (parts: Partial<Render> = {}): Render => ({
    id: nextId(),
    orderId: nextId(),
    projectId: nextId(),
    name: 'v001',
    title: 'The cut',
    rate: { frames: 24, seconds: 1 },
    firstFrame: 1001,
    widthPx: 480,
    heightPx: 270,
    frameCount: 40,
    framesDone: 0,
    framesFailed: 0,
    framesKept: 0,
    graphics: null,
    state: 'rendering',
    error: null,
    isFirst: false,
    hasFrames: true,
    isSeen: true,
    isApart: false,
    mixOf: null,
    author: 'you',
    files: [],
    folder: null,
    createdAt: '2026-01-01',
    ...parts,
  });

  it('is made by this tab until none is left, tried again when the server was away, and told how long it takes', async () => {
    const terminate = vi.fn();
    vi.stubGlobal(
      'Worker',
      class {
        terminate = terminate;
        postMessage = vi.fn();
        addEventListener = vi.fn();
      },
    );
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'setInterval', 'clearInterval', 'Date', 'performance'] });
    try {
      const one = render();
      const list = [one];
      let asked = 0;
      let end = (): void => undefined;
      const ended = new Promise<void>((resolve) => (end = resolve));
      const ends = ['away', 'idle', 'idle'].map((kind) => ({ kind, reason: 'The disk is full.' }));
      vi.mocked(wrap).mockReturnValue({
        beatBy: vi.fn(),
        work: async () => {
          asked += 1;
          const said = ends.shift();
          // Of two idle ends the first finds that others have the last frames.
          if (asked === 2) list[0] = { ...one, framesDone: 39 };
          if (asked === 3) list[0] = { ...one, framesDone: 40, state: 'done' };
          if (asked === 2) await ended;
          return said;
        },
      } as never);
      Object.assign(server, {
        get: () => Promise.resolve({ items: [...list] }),
        post: (path: string) =>
          Promise.resolve(
            path.split('?')[0]?.endsWith('/orders')
              ? { orderId: one.orderId, version: 'v001', renders: [one] }
              : undefined,
          ),
      });
      const renders = tab.get(Renders);
      expect(await renders.give(order())).toBe(true);
      expect([renders.all()[0]?.id, renders.asking()]).toEqual([one.id, false]);
      TestBed.tick();
      await vi.waitFor(() => expect(renders.trouble()).toBe('The renderer waits. The disk is full. Tried once.'));
      await vi.advanceTimersByTimeAsync(600);
      // While frames come, nothing is said to be wrong any more.
      expect([asked, renders.trouble()]).toEqual([2, 'The renderer waits. The disk is full. Tried once.']);
      tab.store.renders$.next(one.id);
      await vi.advanceTimersByTimeAsync(1000);
      expect([asked, renders.all()[0]?.framesDone, renders.trouble()]).toEqual([2, 39, undefined]);
      end();
      await vi.advanceTimersByTimeAsync(2100);
      expect(asked).toBe(3);
      expect([renders.current(), renders.all()[0]?.state]).toEqual([undefined, 'done']);
      expect([renders.trouble(), terminate.mock.calls.length]).toEqual([undefined, 2]);
    } finally {
      vi.useRealTimers();
    }
  });

  it('says why it cannot be begun, and its time only once there is a pace', async () => {
    const one = { ...render(), mixOf: nextId() }; // made by the server: no worker is wanted
    const items: Render[] = [];
    Object.assign(server, {
      get: () => Promise.resolve({ items }),
      post: () => Promise.reject(new Error('SH_010 has no camera.')),
    });
    const renders = tab.get(Renders);
    expect(await renders.give(order())).toBe(false);
    expect([tab.notices.all().at(-1)?.text, renders.all()]).toEqual(['SH_010 has no camera.', []]);
    items[0] = one;
    await renders.act(one.id, 'first');
    await vi.waitFor(() => expect(renders.all()).toHaveLength(1));
    expect(renders.secondsLeft(one)).toBeUndefined();
    items[0] = { ...one, framesDone: 8 };
    await renders.act(one.id, 'first');
    await vi.waitFor(() => expect(renders.all()[0]?.framesDone).toBe(8));
    expect(renders.secondsLeft(items[0])).toBeCloseTo(32 / (renders.pace(items[0]) ?? NaN));
  });
});

describe('the order', () => {
  const shot = () => {
    const [cameraId = ''] = Object.keys(tab.store.project()!.cameras);
    const id = nextId();
    const rate = { frames: 24, seconds: 1 };
    const times = { sceneStartFlicks: 0, durationFlicks: flicksAtFrame(12, rate) };
    tab.store.commit(addShot(tab.store.project()!, tab.get(Playhead).sequenceId(), { id, cameraId, ...times }));
    return { id, cameraId };
  };

  it('is a recipe until a word is changed, outlives a reload, and follows what is gone', () => {
    const [desk, first] = [tab.get(OrderDesk), shot()];
    expect([desk.recipe(), desk.stop()]).toEqual(['review', undefined]);
    desk.take(FIRST_RECIPES[2] as Recipe);
    expect([desk.recipe(), desk.parts().map(({ title }) => title)]).toEqual(['deliver', ['SH_010']]);
    desk.set({ what: { kind: 'shots', sequenceId: tab.get(Playhead).sequenceId(), shotIds: [first.id] }, samples: 3 });
    expect(desk.recipe()).toBeNull();
    TestBed.tick();
    const kept = localStorage.getItem(`arvex.order.${server.project.head.id}`);
    expect(JSON.parse(kept ?? '')).toMatchObject({ order: { samples: 3 }, recipe: null });
    tab.undoList.undo();
    expect([desk.order()?.what, desk.parts()]).toMatchObject([{ shotIds: null }, []]);
    expect(desk.stop()?.message).toContain('has no shots');
  });

  it('orders the frame at the playhead wherever that goes, or stays at the one that was typed', () => {
    const [desk, playhead, { cameraId }] = [tab.get(OrderDesk), tab.get(Playhead), shot()];
    playhead.toMode('cut');
    playhead.goTo(7);
    desk.set({ what: desk.still() });
    playhead.goTo(9);
    expect(desk.order()?.what).toMatchObject({ kind: 'still', frame: 9 });
    playhead.lookThrough(cameraId);
    expect(desk.order()?.what).toMatchObject({ kind: 'camera-still', cameraId });
    playhead.toMode('cut');
    desk.stillFollows.set(false);
    desk.set({ what: { kind: 'still', sequenceId: playhead.sequenceId(), frame: 4 } });
    playhead.goTo(11);
    expect(desk.order()?.what).toMatchObject({ frame: 4 });
    desk.stillFollows.set(true);
    expect(desk.order()?.what).toMatchObject({ frame: 11 });
    desk.set({ what: { kind: 'shots', sequenceId: playhead.sequenceId(), shotIds: [] } });
    expect(desk.stop()?.message).toContain('No shot is chosen');
  });

  it('proves the frame at the playhead, of a camera by itself at its scene time', () => {
    const [desk, playhead, { cameraId }] = [tab.get(OrderDesk), tab.get(Playhead), shot()];
    playhead.goTo(7);
    expect(desk.atPlayhead()).toMatchObject({ index: 7, part: { subject: { kind: 'cut' } } });
    desk.set({ slateFrames: 5 });
    expect(desk.atPlayhead()?.index).toBe(12);
    desk.set({ slateFrames: 0, what: { kind: 'cameras', cameraIds: null } });
    expect(desk.atPlayhead()).toMatchObject({ index: 7, part: { subject: { kind: 'camera', cameraId } } });
  });

  it('is kept as a recipe, in the place of one of that name', async () => {
    const put: [string, { name: string }][] = [];
    const kept: Recipe[] = [];
    Object.assign(server, {
      get: () => Promise.resolve({ items: kept }),
      put: (path: string, body: { name: string }) => {
        put.push([path, body]);
        kept.splice(0, 1, { ...(body as Recipe), id: path.slice('/recipes/'.length) });
        return Promise.resolve(body);
      },
    });
    const [recipes, desk] = [tab.get(Recipes), tab.get(OrderDesk)];
    await recipes.keep(desk.order()!, 'review');
    await recipes.keep(desk.order()!, 'review');
    expect(put[0]?.[0]).toBe(put[1]?.[0]);
    expect(recipes.all().map(({ name }) => name)).toEqual(['quick preview', 'review', 'deliver']);
    expect(recipes.isFirst(recipes.all()[1]!)).toBe(false);
  });
});
