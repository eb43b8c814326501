import type { Edit, Project } from '@arvex/core';
import { changeOf, setCamera } from '@arvex/core';
import { describe, expect, it, vi } from 'vitest';
import { nextId, projectWithCamera } from '../../../packages/core/test/sample-project';
import { AwayError, ProblemError } from '../src/app/data/api';
import { FakeEvents, fakeLocks } from './browser';
import { MemoryServer, openTab } from './tab';

/** Until something is so: a machine that does much else takes its time. */
const soon = <T>(check: () => T | Promise<T>, how = { timeout: 20_000 }): Promise<T> => vi.waitFor(check, how);

const begin = () => {
  const { project, cameraId } = projectWithCamera();
  const server = new MemoryServer(project);
  return { server, cameraId, nameAt: () => server.project.cameras[cameraId]?.name };
};
const renameCamera = (project: Project | undefined, cameraId: string, name: string): Edit =>
  setCamera(project as Project, cameraId, `Name ${name}`, { name });
const shown = (project: Project | undefined) => Object.values(project?.cameras ?? {})[0]?.name;

describe('the open project', () => {
  it('shows an edit at once, sends edits in their order, and says when all is saved', async () => {
    const { server, cameraId, nameAt } = begin();
    const { store } = await openTab(server);
    for (const name of ['Gate', 'Gate, low', 'Gate, lower']) {
      store.commit(renameCamera(store.project(), cameraId, name));
      expect(shown(store.project())).toBe(name);
    }
    expect(store.saveState()).toBe('saving');
    await soon(() => expect(store.saveState()).toBe('saved'));
    expect(server.changes.map(({ change }) => change.name)).toHaveLength(3);
    expect(nameAt()).toBe('Gate, lower');
  });

  it('is taken back and made again by name', async () => {
    const { server, cameraId, nameAt } = begin();
    const { store, undoList } = await openTab(server);
    store.commit(renameCamera(store.project(), cameraId, 'Gate'));
    const name = undoList.undoName();
    expect(name).toContain('Gate');
    undoList.undo();
    expect([shown(store.project()), undoList.undoName(), undoList.redoName()]).toEqual(['Pier ride', undefined, name]);
    undoList.redo();
    await soon(() => expect(nameAt()).toBe('Gate'));
    expect(undoList.redoName()).toBeUndefined();
  });

  it('takes back after a reload what was done before it, but not over what others wrote since', async () => {
    const { server, cameraId, nameAt } = begin();
    const { store, undoList } = await openTab(server);
    for (const name of ['Gate', 'Gate, low']) store.commit(renameCamera(store.project(), cameraId, name));
    undoList.undo();
    await soon(() => expect([nameAt(), store.saveState()]).toEqual(['Gate', 'saved']));
    await new Promise((kept) => setTimeout(kept, 50));
    fakeLocks.clear(); // the tab is loaded anew
    const { store: again, undoList: list } = await openTab(server);
    await soon(() =>
      expect([list.undoName(), list.redoName()]).toEqual(['Name Gate on Pier ride', 'Name Gate, low on Gate']),
    );
    list.redo();
    await soon(() => expect(nameAt()).toBe('Gate, low'));
    const other = await openTab(server);
    expect(other.undoList.undoName()).toBeUndefined(); // another tab did nothing yet
    other.store.commit(renameCamera(other.store.project(), cameraId, 'Pier gate'));
    await soon(() => expect(shown(again.project())).toBe('Pier gate'));
    list.undo();
    expect(shown(again.project())).toBe('Pier gate');
  });

  it('takes back in the next tab what was done in one that was closed', async () => {
    const { server, cameraId, nameAt } = begin();
    const { store } = await openTab(server);
    for (const name of ['Gate', 'Gate, low']) store.commit(renameCamera(store.project(), cameraId, name));
    await soon(() => expect([nameAt(), store.saveState()]).toEqual(['Gate, low', 'saved']));
    await new Promise((kept) => setTimeout(kept, 50));
    fakeLocks.clear(); // the tab is closed, and with it what it remembers
    sessionStorage.clear();
    const next = await openTab(server);
    await soon(() => expect(next.undoList.undoName()).toBeDefined());
    next.undoList.undo();
    await soon(() => expect([nameAt(), next.store.saveState()]).toEqual(['Gate', 'saved']));
    await new Promise((kept) => setTimeout(kept, 50));
    sessionStorage.clear();
    const beside = await openTab(server);
    await new Promise((taken) => setTimeout(taken, 50));
    expect([next.undoList.undoName(), next.undoList.redoName(), beside.undoList.undoName()]).toEqual([
      'Name Gate on Pier ride',
      'Name Gate, low on Gate',
      undefined, // the list is the next tab's now
    ]);
  });

  it('is the last of several that are opened soon after each other, and no late answer reaches it', async () => {
    const { server, cameraId } = begin();
    const { store } = await openTab(server);
    const [first, get] = [server.project, server.get.bind(server)];
    const slow = { ...first, head: { ...first.head, id: nextId(), name: 'Slow' } };
    const last = { ...first, head: { ...first.head, id: nextId(), name: 'Last' } };
    let answerSlow = (): void => undefined;
    vi.spyOn(server, 'get').mockImplementation(<T>(path: string): Promise<T> => {
      const answer = (project: Project) => structuredClone(project) as T;
      if (path === `/projects/${last.head.id}`) return Promise.resolve(answer(last));
      if (path !== `/projects/${slow.head.id}`) return get(path);
      return new Promise((resolve) => (answerSlow = () => resolve(answer(slow))));
    });
    server.away = true;
    store.commit(renameCamera(store.project(), cameraId, 'Gate'));
    await soon(() => expect(store.saveState()).toBe('kept here'));
    const opening = store.open(slow.head.id);
    await store.open(last.head.id);
    answerSlow();
    await opening;
    FakeEvents.open.clear(); // this server tells all of everything
    server.away = false; // what was renamed in the first project is answered now
    await soon(() => expect(server.changes).toHaveLength(1), { timeout: 3000 });
    await Promise.resolve();
    expect([store.project()?.head.name, shown(store.project()), store.project()?.seq]).toEqual([
      'Last',
      'Pier ride',
      0,
    ]);
  });

  it('keeps what is made while the server is away, and sends it when it is back', async () => {
    const { server, cameraId, nameAt } = begin();
    const { store } = await openTab(server);
    server.away = true;
    store.commit(renameCamera(store.project(), cameraId, 'Gate'));
    await soon(() => expect(store.saveState()).toBe('kept here'));
    expect(nameAt()).toBe('Pier ride');
    server.away = false;
    await soon(() => expect(nameAt()).toBe('Gate'), { timeout: 3000 });
    await soon(() => expect(store.saveState()).toBe('saved'));
  });

  it('keeps what is made through every failure that is not an answer, and sends it until it is taken, once', async () => {
    const { server, cameraId, nameAt } = begin();
    const { store } = await openTab(server);
    server.mishaps.push(
      { error: new AwayError('The server met an error of its own.') },
      { error: new AwayError('The server’s answer cannot be read.'), taken: true },
      { error: new TypeError('something nobody thought of') },
    );
    store.commit(renameCamera(store.project(), cameraId, 'Gate'));
    store.commit(renameCamera(store.project(), cameraId, 'Gate, low'));
    await soon(() => expect(store.trouble()).toBeDefined());
    expect(shown(store.project())).toBe('Gate, low');
    await soon(() => expect(store.saveState()).toBe('saved'), { timeout: 9000 });
    expect([nameAt(), server.changes.length]).toEqual(['Gate, low', 2]);
  }, 12_000);

  it('takes out what was built on a change that the server refuses, and says so', async () => {
    const { server, cameraId, nameAt } = begin();
    const { store, notices } = await openTab(server);
    const problem = { type: '/problems/broken-rule', title: 'no', status: 422, detail: 'It would break a rule.' };
    server.mishaps.push({ error: new ProblemError(problem) });
    store.commit(renameCamera(store.project(), cameraId, 'Gate'));
    store.commit(renameCamera(store.project(), cameraId, 'Gate, low'));
    await soon(() => expect(notices.all().length).toBe(1));
    expect(notices.all()[0]?.text).toContain('It would break a rule. 1 later step built on it went with it.');
    expect([shown(store.project()), nameAt(), store.saveState()]).toEqual(['Pier ride', 'Pier ride', 'saved']);
    // It goes on as if nothing had been.
    store.commit(renameCamera(store.project(), cameraId, 'Pier'));
    await soon(() => expect(nameAt()).toBe('Pier'));
  });

  it('sends what this browser has no room to keep, and warns as long as it waits', async () => {
    const { server, cameraId, nameAt } = begin();
    const { store } = await openTab(server);
    vi.spyOn(IDBObjectStore.prototype, 'add').mockImplementation(() => {
      throw new DOMException('full', 'QuotaExceededError');
    });
    server.away = true;
    store.commit(renameCamera(store.project(), cameraId, 'Gate'));
    await soon(() => expect(store.trouble()).toContain('Do not close this tab'));
    expect(store.saveState()).toBe('only in this tab');
    server.away = false;
    await soon(() => expect(nameAt()).toBe('Gate'), { timeout: 3000 });
    await soon(() => expect([store.saveState(), store.trouble()]).toEqual(['saved', undefined]));
  });

  it('opens and is edited where the browser forbids its storage to the page', async () => {
    const { server, cameraId, nameAt } = begin();
    for (const storage of ['localStorage', 'sessionStorage'] as const) {
      vi.spyOn(globalThis, storage, 'get').mockImplementation(() => {
        throw new DOMException('denied', 'SecurityError');
      });
    }
    const { store } = await openTab(server);
    store.commit(renameCamera(store.project(), cameraId, 'Gate'));
    await soon(() => expect(nameAt()).toBe('Gate'));
  });

  it('finds out what it missed, however often that fails', async () => {
    const { server, cameraId } = begin();
    const { store } = await openTab(server);
    const spied = vi
      .spyOn(server, 'get')
      .mockRejectedValueOnce(new AwayError())
      .mockRejectedValueOnce(new Error('odd'));
    const change = (name: string) => changeOf(renameCamera(server.project, cameraId, name), crypto.randomUUID());
    const sources = [...FakeEvents.open];
    FakeEvents.open.clear(); // this one is not told
    server.take(change('Gate'));
    sources.forEach((source) => FakeEvents.open.add(source));
    FakeEvents.send('hello', { seq: server.project.seq });
    await soon(() => expect(shown(store.project())).toBe('Gate'), { timeout: 5000 });
    await soon(() => expect(spied.mock.calls.length).toBe(4)); // twice in vain, once with it, once to hear that it is all
  });

  it('takes over what a tab left that died before it could send it', async () => {
    const { server, cameraId, nameAt } = begin();
    const dead = await openTab(server);
    server.away = true;
    dead.store.commit(renameCamera(dead.store.project(), cameraId, 'Yard'));
    await soon(() => expect(dead.store.saveState()).toBe('kept here'));
    dead.store.commit(renameCamera(dead.store.project(), cameraId, 'Gate'));
    expect(dead.store.saveState(), 'not kept yet').toBe('saving');
    await soon(() => expect(dead.store.saveState()).toBe('kept here'));
    fakeLocks.clear();
    server.away = false;
    const { store } = await openTab(server);
    // The test cannot really kill a tab: where its pause ends first, it is that one that sends, and this one hears of it.
    await soon(() => expect(shown(store.project())).toBe('Gate'));
    await soon(() => expect(nameAt()).toBe('Gate'));
    // Both may send them: each is applied once.
    expect(server.changes).toHaveLength(2);
  });

  it('sees what another tab does, and does not take that back', async () => {
    const { server, cameraId } = begin();
    const [mine, other] = [await openTab(server), await openTab(server)];
    mine.store.commit(renameCamera(mine.store.project(), cameraId, 'Gate'));
    await soon(() => expect(shown(other.store.project())).toBe('Gate'));
    other.store.commit(renameCamera(other.store.project(), cameraId, 'Pier'));
    await soon(() => expect(shown(mine.store.project())).toBe('Pier'));
    mine.undoList.undo();
    expect(shown(mine.store.project())).toBe('Pier');
    expect(mine.notices.all()[0]?.text).toContain('changed elsewhere');
  });

  for (const whose of ['mine', 'theirs'] as const) {
    it(`asks when two changed the same, and keeps ${whose}`, async () => {
      const { server, cameraId, nameAt } = begin();
      const { store } = await openTab(server);
      const [theirs] = renameCamera(server.project, cameraId, 'Theirs').operations;
      server.away = true;
      store.commit(renameCamera(store.project(), cameraId, 'Mine'));
      store.commit(
        setCamera(store.project() as Project, cameraId, 'Place', {
          pose: { positionM: [1, 2, 3], panDeg: 0, tiltDeg: 0, rollDeg: 0 },
        }),
      );
      await soon(() => expect(store.saveState()).toBe('kept here'));
      server.away = false;
      server.take(changeOf({ name: 'Rename', operations: theirs ? [theirs] : [] }, nextId()));
      const conflict = await new Promise<Parameters<typeof store.settle>[0]>((told) =>
        store.conflicts$.subscribe((one) => told(one)),
      );
      expect((conflict.theirs as { name: string }).name).toBe('Theirs');
      store.settle(conflict, whose);
      await soon(() => expect(store.saveState()).toBe('saved'), { timeout: 3000 });
      expect(nameAt()).toBe(whose === 'mine' ? 'Mine' : 'Theirs');
      expect(shown(store.project())).toBe(nameAt());
      // What was built on it goes the same way.
      expect(server.project.cameras[cameraId]?.pose.positionM[1]).toBe(whose === 'mine' ? 2 : 1.6);
    });
  }

  it('tells why an edit cannot be, and leaves everything as it is', async () => {
    const { server, cameraId } = begin();
    const { store, notices } = await openTab(server);
    const before = store.project();
    const patch = { op: 'patch', kind: 'camera', id: cameraId, baseRevision: 'first', fields: { number: -1 } };
    expect(store.commit({ name: 'Number', operations: [patch as never] })).toBe(false);
    expect(store.project()).toBe(before);
    expect(notices.all()).toHaveLength(1);
    expect(server.changes).toHaveLength(0);
  });
});
