import { randomUUID } from 'node:crypto';
import { setTimeout as sleep } from 'node:timers/promises';
import { afterAll, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import type { AskedWork, FinishedFile, HeldWork, WorkQueue } from '../../src/queue/work-queue';

/** A queue that is tried, and the renders that are put into it. */
export interface TriedQueue {
  readonly queue: WorkQueue;
  /** Makes a render of so many frames in a project, of which none is done; a mix of another where that is said. */
  render(frames: number, mixOf?: string): Promise<GivenRender>;
  stateOf(renderId: string): Promise<string>;
  /** Takes all renders away. */
  empty(): Promise<void>;
  close(): Promise<void>;
}

interface GivenRender {
  readonly projectId: string;
  readonly renderId: string;
}

/** Leases are this long here, seconds. */
export const LEASE_S = 0.4;

/** What every queue does, whatever it keeps its work in. */
export function keepsTheContract(name: string, open: () => Promise<TriedQueue>): void {
  describe(`the contract of queues, kept by ${name}`, () => {
    let tried: TriedQueue;
    let queue: WorkQueue;
    beforeAll(async () => {
      tried = await open();
      ({ queue } = tried);
    });
    beforeEach(() => tried.empty());
    afterAll(() => tried.close());

    const ask = (asked: Partial<AskedWork> = {}) => queue.lease({ kinds: ['draw'], count: 1, ...asked });
    const got = async (asked: Partial<AskedWork> = {}): Promise<HeldWork> => {
      const held = await ask(asked);
      if (!held) throw new Error('There is no work.');
      return held;
    };
    const file = (index: number, role = 'png'): FinishedFile => ({
      index,
      role,
      path: `v001/frame.${index}.${role}`,
      hash: 'a'.repeat(64),
      bytes: 7,
    });
    const keep = (held: HeldWork, index: number, role = 'png', roles = ['png']) =>
      queue.keep(held.projectId, held, file(index, role), roles);
    /** Draws all that is left of a render. */
    const drawn = async (renderId: string): Promise<void> => {
      for (
        let held = await ask({ renderId, count: 4 });
        held;
        held = await ask({ renderId, count: 4 }).catch(() => undefined)
      )
        for (const index of held.frames) await keep(held, index);
    };

    it('gives each frame to one worker alone, however many ask at once', async () => {
      const { renderId } = await tried.render(40);
      const held = await Promise.all(Array.from({ length: 12 }, () => ask({ count: 5 })));
      const frames = held.flatMap((one) => one?.frames ?? []);
      while (frames.length < 40) frames.push(...(await got({ renderId, count: 5 })).frames);
      expect(frames.sort((a, b) => a - b)).toEqual(Array.from({ length: 40 }, (_, i) => i));
      expect(await ask()).toBeUndefined();
    });

    it('gives again what its worker was not heard of for too long, and takes nothing from that one any more', async () => {
      await tried.render(1);
      const late = await got();
      await sleep(LEASE_S * 1500);
      const next = await got();
      await expect(keep(late, 0)).rejects.toMatchObject({ code: 'lease-lost' });
      await expect(queue.extend(late)).rejects.toMatchObject({ code: 'lease-lost' });
      await keep(next, 0);
      expect(await queue.files(next.renderId)).toHaveLength(1);
    });

    it('leaves work with a worker that says that it lives, and frees it when that begins anew or gives it back', async () => {
      await tried.render(2);
      const held = await got({ worker: 'one' });
      const other = await got({ worker: 'two' });
      for (let i = 0; i < 4; i++) {
        await sleep(LEASE_S * 400);
        expect(await queue.extend(held)).toBe(LEASE_S);
        await queue.extend(other);
      }
      expect(await ask()).toBeUndefined();
      expect(await queue.begin('one')).toBe(1);
      await expect(queue.mustHold(held, 0)).rejects.toMatchObject({ code: 'lease-lost' });
      expect((await got()).frames).toEqual(held.frames);
      await queue.release(other);
      expect((await got()).frames).toEqual(other.frames);
    });

    it('has a frame done with the last of its roles, and a render finished with the last of its frames: by one worker', async () => {
      const { renderId } = await tried.render(2);
      const held = await got({ count: 2 });
      for (const role of ['left.png', 'right.png']) {
        expect(await ask({ kinds: ['finish'] })).toBeUndefined();
        await keep(held, 0, role, ['left.png', 'right.png']);
      }
      expect(await tried.stateOf(renderId)).toBe('rendering');
      for (const role of ['left.png', 'right.png']) await keep(held, 1, role, ['left.png', 'right.png']);
      const finishing = await Promise.all(Array.from({ length: 6 }, () => ask({ kinds: ['finish'] })));
      const [mine, ...others] = finishing.filter((one) => one !== undefined);
      expect([mine?.renderId, others]).toEqual([renderId, []]);
      await queue.finished(mine as HeldWork, { folder: '/out' });
      expect(await tried.stateOf(renderId)).toBe('done');
      await expect(queue.finished(mine as HeldWork, { folder: null })).rejects.toMatchObject({ code: 'lease-lost' });
    });

    it('gives a whole render that is given back again, but not before its pause is over', async () => {
      const { renderId } = await tried.render(1);
      await drawn(renderId);
      const held = await got({ kinds: ['finish'] });
      await queue.release(held, LEASE_S);
      expect(await ask({ kinds: ['finish'] })).toBeUndefined();
      await sleep(LEASE_S * 1500);
      const again = await got({ kinds: ['finish'] });
      await queue.finished(again, { failed: 'The disk is full.' });
      expect(await tried.stateOf(renderId)).toBe('failed');
    });

    it('leaves a frame that failed three times, goes on with the rest, and tries again when asked', async () => {
      const { renderId } = await tried.render(2);
      for (let tries = 0; tries < 3; tries++) {
        const held = await got({ renderId });
        expect(held.frames).toEqual([0]);
        await queue.fail(held, 0, 'no light');
      }
      expect((await got({ renderId })).frames).toEqual([1]);
      await queue.begin('nobody');
      await sleep(LEASE_S * 1500);
      await drawn(renderId);
      expect(await tried.stateOf(renderId)).toBe('failed');
      await queue.again(renderId);
      await drawn(renderId);
      expect((await got({ kinds: ['finish'] })).renderId).toBe(renderId);
    });

    it('gives first what was put first in line, and nothing of what is paused, of which it still takes what is in hand', async () => {
      const [first, second] = [await tried.render(2), await tried.render(2)];
      await queue.first(second.renderId);
      const held = await got();
      expect(held.renderId).toBe(second.renderId);
      await queue.pause(second.renderId, true);
      expect((await got()).renderId).toBe(first.renderId);
      await keep(held, held.frames[0] ?? -1);
      await queue.pause(second.renderId, false);
      expect((await got()).renderId).toBe(second.renderId);
      await expect(queue.pause(randomUUID(), true)).rejects.toMatchObject({ code: 'not-found' });
    });

    it('takes nothing of what is cancelled, tells who works on it, and ends no other', async () => {
      const [cancelled, other] = [await tried.render(1), await tried.render(1)];
      await drawn(cancelled.renderId);
      const [held, theirs] = [await got({ kinds: ['finish'] }), await got({ renderId: other.renderId })];
      const gone = vi.fn();
      const end = queue.onGone(gone);
      await queue.cancel(cancelled.renderId);
      queue.drop({ projectId: cancelled.projectId });
      end();
      queue.drop({ projectId: other.projectId });
      expect(gone.mock.calls).toEqual([[{ renderId: cancelled.renderId }], [{ projectId: cancelled.projectId }]]);
      await expect(queue.finished(held, { folder: null })).rejects.toMatchObject({ code: 'lease-lost' });
      await expect(queue.cancel(cancelled.renderId)).rejects.toMatchObject({ code: 'render-over' });
      expect(await tried.stateOf(cancelled.renderId)).toBe('cancelled');
      await keep(theirs, 0);
      expect(await tried.stateOf(other.renderId)).toBe('encoding');
    });

    it('lets frames whose files are gone be made anew, and finishes after that', async () => {
      const { renderId } = await tried.render(3);
      await drawn(renderId);
      const held = await got({ kinds: ['finish'] });
      await queue.makeAnew(renderId, [1]);
      await expect(queue.finished(held, { folder: null })).rejects.toMatchObject({ code: 'lease-lost' });
      expect((await queue.files(renderId)).map(({ index }) => index)).toEqual([0, 2]);
      const anew = await got({ renderId, count: 3 });
      expect(anew.frames).toEqual([1]);
      await keep(anew, 1);
      expect((await got({ kinds: ['finish'] })).renderId).toBe(renderId);
    });

    it('gives mixes to those who mix alone, and what one kind of graphics began to that kind', async () => {
      const source = await tried.render(2);
      const mix = await tried.render(1, source.renderId);
      expect((await got({ kinds: ['mix'] })).renderId).toBe(mix.renderId);
      expect((await got({ graphics: 'one' })).renderId).toBe(source.renderId);
      expect(await ask({ graphics: 'other' })).toBeUndefined();
      expect((await got({ graphics: 'one' })).frames).toEqual([1]);
    });

    it('tells that there is work with all that brings some', async () => {
      const told = vi.fn();
      const end = queue.onWork(told);
      const since = async (work: () => Promise<unknown>) => {
        told.mockClear();
        await work();
        return told.mock.calls.length > 0;
      };
      const { renderId } = await tried.render(1);
      queue.tell();
      await queue.pause(renderId, true);
      expect(await since(() => queue.pause(renderId, false))).toBe(true);
      const held = await got();
      expect(await since(() => queue.release(held))).toBe(true);
      const again = await got();
      expect(await since(() => keep(again, 0))).toBe(true);
      expect(await since(() => queue.makeAnew(renderId, [0]))).toBe(true);
      end();
      expect(await since(() => Promise.resolve(queue.tell()))).toBe(false);
    });

    it('says nothing is there of a render that is not', async () => {
      const lease = { renderId: randomUUID(), leaseId: randomUUID() };
      const nothing = { code: 'not-found' };
      await expect(ask({ renderId: lease.renderId })).rejects.toMatchObject(nothing);
      for (const act of ['first', 'cancel', 'again'] as const)
        await expect(queue[act](lease.renderId)).rejects.toMatchObject(nothing);
      await expect(queue.mustHold(lease, 0)).rejects.toMatchObject(nothing);
      await expect(queue.nameOf(lease.renderId, 0)).rejects.toMatchObject(nothing);
    });

    it('keeps the name of each frame as it was given, and what was made under a key', async () => {
      const { renderId, projectId } = await tried.render(2);
      expect(await queue.nameOf(renderId, 1)).toBe('frame.1');
      const held = await got();
      await queue.keep(projectId, held, { ...file(0), key: 'k'.repeat(64) }, ['png']);
      expect((await queue.madeAs(projectId, 'k'.repeat(64))).map(({ path }) => path)).toEqual(['v001/frame.0.png']);
      expect(await queue.madeAs(randomUUID(), 'k'.repeat(64))).toEqual([]);
      expect([await queue.at(renderId, 'v001/frame.0.png'), (await queue.picture(renderId))?.index]).toEqual([
        expect.objectContaining({ index: 0, bytes: 7 }),
        0,
      ]);
    });
  });
}
