import { TestBed } from '@angular/core/testing';
import { wrap } from 'comlink';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { nextId, projectWithCamera } from '../../../packages/core/test/sample-project';
import type { Render } from '@arvex/core';
import { Renders } from '../src/app/features/review/renders';
import type { Tab } from './tab';
import { MemoryServer, openTab } from './tab';

vi.mock('comlink', async (actual) => ({ ...(await actual<object>()), wrap: vi.fn() }));

let tab: Tab;
let server: MemoryServer;

beforeEach(async () => {
  server = new MemoryServer(projectWithCamera().project);
  tab = await openTab(server);
});

describe('a render', () => {
  const render = (parts: Partial<Render> = {}): Render => ({
    id: nextId(),
    projectId: nextId(),
    sequenceId: nextId(),
    name: 'The cut',
    rate: { frames: 24, seconds: 1 },
    firstFrame: 1001,
    movieHash: null,
    widthPx: 480,
    heightPx: 270,
    frameCount: 40,
    framesDone: 0,
    state: 'rendering',
    error: null,
    movieBytes: null,
    createdAt: '2026-01-01',
    ...parts,
  });

  it('is made by this tab until none is left, tried again when the server was away, and told how long it takes', async () => {
    const terminate = vi.fn();
    vi.stubGlobal(
      'Worker',
      class {
        terminate = terminate;
      },
    );
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'setInterval', 'clearInterval', 'Date'] });
    try {
      const one = render();
      const list = [one];
      const asked: string[] = [];
      const ends = ['away', 'done'];
      vi.mocked(wrap).mockReturnValue({
        render: (id: string) => {
          asked.push(id);
          const end = ends.shift();
          if (end === 'done') list[0] = { ...one, framesDone: 40, state: 'done' };
          return Promise.resolve(end);
        },
      } as never);
      Object.assign(server, {
        get: () => Promise.resolve({ items: [...list] }),
        post: (path: string) => Promise.resolve(path.endsWith('/renders') ? one : undefined),
      });
      const renders = tab.get(Renders);
      await renders.start(0.25);
      expect([renders.all()[0]?.id, renders.asking()]).toEqual([one.id, false]);
      TestBed.tick();
      await vi.waitFor(() => expect(asked).toEqual([one.id]));
      await vi.waitFor(() => expect(renders.trouble()).toBe('The renderer waits for the server. Tried once.'));
      await vi.advanceTimersByTimeAsync(600);
      expect(asked).toEqual([one.id, one.id]);
      expect([renders.current(), renders.all()[0]?.state]).toEqual([undefined, 'done']);
      expect([renders.trouble(), terminate.mock.calls.length]).toEqual([undefined, 1]);
    } finally {
      vi.useRealTimers();
    }
  });

  it('says why it cannot be begun, and its time only once there is a pace', async () => {
    const one = render();
    Object.assign(server, {
      get: () => Promise.resolve({ items: [] }),
      post: () => Promise.reject(new Error('SH_010 has no camera.')),
    });
    const renders = tab.get(Renders);
    await renders.start(1);
    expect([tab.notices.all().at(-1)?.text, renders.all()]).toEqual(['SH_010 has no camera.', []]);
    expect(renders.secondsLeft(one)).toBeUndefined();
  });
});
