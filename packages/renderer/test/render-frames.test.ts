import type { Lease, OrderPart, Project, RenderJob } from '@arvex/core';
import {
  addShot,
  applyChange,
  cameraAt,
  FLICKS_PER_SECOND,
  framesOfPart,
  makeCamera,
  newProject,
  ORDER_DEFAULTS,
  partsOf,
  pictureAt,
  PLACEMENT_DEFAULTS,
} from '@arvex/core';
import { frameView, viewOf } from '@arvex/stage/view';
import { describe, expect, it } from 'vitest';
import type { PictureMaker, RenderTransport } from '../src';
import { frameKey } from '../src/frame-key';
import { GraphicsLost, KeeperAway, KeeperRefused, renderFrames } from '../src';

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
const SEQUENCE = id(3);
const RENDER = id(6);
const POSE = { positionM: [0, 1.6, 9], panDeg: 0, tiltDeg: 0, rollDeg: 0 } as const;
const SHOT = { id: id(5), cameraId: id(4), sceneStartFlicks: 0, durationFlicks: FLICKS_PER_SECOND };
const PROJECT = [
  (project: Project) => makeCamera(project, id(4), POSE),
  (project: Project) => addShot(project, SEQUENCE, SHOT),
].reduce(
  (project, edit) => {
    const { name, operations } = edit(project);
    return applyChange(project, { id: id(9), name, operations: [...operations] });
  },
  newProject({ project: id(1), set: id(2), sequence: SEQUENCE }, 'Saltmarsh Light'),
);
const ORDER = { ...ORDER_DEFAULTS, what: { kind: 'cut', sequenceId: SEQUENCE } as const };
const PART = partsOf(PROJECT, ORDER)[0] as OrderPart;
const JOB: RenderJob = {
  renderId: RENDER,
  orderId: id(7),
  projectId: id(1),
  order: ORDER,
  part: PART,
  version: 'v001',
  date: '2026-01-01',
  state: 'rendering',
};

/** Whoever keeps a render of so many frames, and what it has been sent and told; `refuses` tells when it does not answer. */
function keeper(frameCount: number, refuses: (asked: number) => boolean = () => false) {
  const frames = new Map<number, string>();
  const leased = new Map<number, string>();
  const before = new Map<string, string>();
  const failures: string[] = [];
  const held = new Set<string>();
  let asked = 0;
  const triedOut = (index: number) => failures.filter((one) => one.startsWith(`${index}:`)).length >= 3;
  const transport: RenderTransport = {
    begin: async () => undefined,
    job: async () => JOB,
    project: async () => PROJECT,
    lease: async (count): Promise<Lease> => {
      asked += 1;
      if (refuses(asked)) throw new KeeperAway('nobody there');
      const free = Array.from({ length: frameCount }, (_, i) => i).filter(
        (i) => !frames.has(i) && !leased.has(i) && !triedOut(i),
      );
      const given = free.slice(0, count);
      for (const index of given) leased.set(index, id(asked));
      return { leaseId: id(asked), renderId: given.length > 0 ? RENDER : null, frames: given, seconds: 0.03 };
    },
    hold: (_render, leaseId) => {
      held.add(leaseId);
      return () => held.delete(leaseId);
    },
    release: async (_render, leaseId) => {
      for (const [index, holder] of leased) if (holder === leaseId && !frames.has(index)) leased.delete(index);
    },
    takeKept: async (_render, _lease, { frames: asked }) => {
      const found = asked.filter(({ key }) => before.has(key));
      for (const { index, key } of found) frames.set(index, before.get(key) ?? '');
      return found.map(({ index }) => index);
    },
    send: async ({ index, leaseId }, role, file, key) => {
      if (leased.get(index) !== leaseId) throw new KeeperRefused('lease-lost', 'The lease has run out.');
      frames.set(index, `${leaseId} ${role} ${await file.text()}`);
      if (key !== undefined) before.set(key, 'made before');
    },
    fail: async ({ index }, why) => {
      failures.push(`${index}: ${why}`);
      leased.delete(index);
    },
  };
  return { transport, frames, before, leased, failures, held, asked: () => asked };
}

/** Writes down what is to be drawn. */
function pictures(missing: readonly string[] = []) {
  const drawn: number[] = [];
  const maker: PictureMaker = {
    follow: async () => missing,
    key: (_job, index) => (index === 3 ? undefined : `key of ${index}`),
    frame: async ({ order }, index) => {
      drawn.push(index);
      return new Map([['png', new Blob([`of ${order.samples}`])]]);
    },
    dispose: () => undefined,
  };
  return { maker, drawn };
}

describe('the frames of a render', () => {
  it('are made lease by lease until all are there, the next one drawn while one is sent', async () => {
    const { transport, frames, asked } = keeper(5);
    const { maker, drawn } = pictures();
    const order: string[] = [];
    const slow: RenderTransport = {
      ...transport,
      send: async (frame, role, file) => {
        await new Promise((resolve) => setTimeout(resolve, 10));
        order.push(`sent ${frame.index}`);
        return transport.send(frame, role, file);
      },
    };
    const told: PictureMaker = {
      ...maker,
      frame: (job, index) => {
        order.push(`drawn ${index}`);
        return maker.frame(job, index);
      },
    };
    expect(framesOfPart(PART)).toBeGreaterThan(5);
    expect(await renderFrames(slow, told, { framesALease: 2 })).toMatchObject({ kind: 'idle' });
    expect([...frames.keys()]).toEqual([0, 1, 2, 3, 4]);
    expect([frames.get(3), drawn]).toEqual([`${id(2)} png of 8`, [0, 1, 2, 3, 4]]);
    expect(asked()).toBe(4); // three with frames, and one to hear that it is over
    expect(order.indexOf('drawn 1')).toBeLessThan(order.indexOf('sent 0'));
  });

  it('are taken as they were made before, where their order lets them and they would be the same', async () => {
    const job = { ...JOB, order: { ...ORDER, takesKept: true } };
    const again = keeper(5);
    const known = ['key of 1', 'key of 3', 'key of 4'];
    for (const key of known) again.before.set(key, 'made before');
    const { maker, drawn } = pictures();
    expect(await renderFrames({ ...again.transport, job: async () => job }, maker)).toMatchObject({ kind: 'idle' });
    expect([drawn, again.frames.get(1), again.before.size]).toEqual([[0, 2, 3], 'made before', 5]);
    const anew = keeper(5);
    for (const key of known) anew.before.set(key, 'made before');
    expect(await renderFrames(anew.transport, pictures().maker)).toMatchObject({ kind: 'idle' });
    expect([...anew.frames.values()]).not.toContain('made before');
    const key = (order: Partial<typeof ORDER>, project = PROJECT, at = 2) =>
      frameKey(project, { ...JOB, order: { ...ORDER, ...order } }, at, []);
    expect([key({ takesKept: true }), key({ sound: false, slateFrames: 0 })]).toEqual([key({}), key({})]);
    const opened = { ...PROJECT, head: { ...PROJECT.head, exposure: { ...PROJECT.head.exposure, iso: 3200 } } };
    const others = [key({ samples: 9 }), key({ look: false }), key({ shading: 'clay' }), key({}, opened)];
    expect(new Set([key({}), ...others]).size).toBe(5);
    expect(key({ visible: { ...ORDER.visible, guides: true } })).toBeUndefined();
  });

  it('of a thing that moves only while the shutter is open are others than of one that stands', () => {
    const at = 2 * (FLICKS_PER_SECOND / 24);
    const going = (toM: number): Project => {
      const key = (atFlicks: number, value: number) => ({ atFlicks, value, shape: 'linear' as const });
      const curves = { positionX: [key(at, 0), key(at + FLICKS_PER_SECOND / 240, toM)] };
      const thing = {
        ...PLACEMENT_DEFAULTS,
        id: id(20),
        revision: 'first',
        setId: id(2),
        name: 'lantern',
        positionM: [0, 0, 0] as const,
        piece: { kind: 'box', widthM: 1, heightM: 1, depthM: 1 } as const,
        motion: { kind: 'keys', curves } as const,
      };
      return { ...PROJECT, placements: { [thing.id]: thing } };
    };
    const order = { ...ORDER, shutter: { ...ORDER.shutter, blur: true } };
    const [still, moving] = [0, 1].map((toM) => frameKey(going(toM), { ...JOB, order }, 2, []));
    expect(still).toBeDefined();
    expect(moving).not.toBe(still);
  });

  it('are views of where the one camera function has its camera', () => {
    for (const index of [0, 7]) {
      const { cameraId, sceneFlicks = -1 } = pictureAt(PROJECT, SEQUENCE, index) ?? {};
      const state = cameraAt(PROJECT, cameraId ?? '', sceneFlicks);
      expect(frameView(PROJECT, SEQUENCE, index)).toMatchObject(viewOf(state, sceneFlicks));
    }
    expect(() => frameView(PROJECT, SEQUENCE, 24)).toThrow('no frame 25');
  });

  it('are left to others who have them, and wait when whoever keeps them is away', async () => {
    const held = keeper(1);
    await held.transport.lease(1); // another renderer's
    const waiting = pictures();
    expect(await renderFrames(held.transport, waiting.maker)).toMatchObject({ kind: 'idle' });
    expect(waiting.drawn).toEqual([]);
    const away = keeper(5, (asked) => asked === 2);
    expect(await renderFrames(away.transport, pictures().maker)).toEqual({ kind: 'away', reason: 'nobody there' });
    expect(away.frames.size).toBe(4);
  });

  it('that cannot be made are told with their reason, and the rest goes on', async () => {
    const incomplete = keeper(1);
    expect(await renderFrames(incomplete.transport, pictures(['a']).maker, { waitMs: 1 })).toMatchObject({
      kind: 'idle',
    });
    expect(incomplete.failures).toEqual(Array.from({ length: 3 }, () => '0: The file of a is missing.'));
    const broken = keeper(5);
    const { maker } = pictures();
    const frame: PictureMaker['frame'] = (job, index) =>
      index === 1 ? Promise.reject(new Error('Too dark.')) : maker.frame(job, index);
    expect(await renderFrames(broken.transport, { ...maker, frame }, { waitMs: 1 })).toMatchObject({ kind: 'idle' });
    expect([broken.failures, [...broken.frames.keys()].sort()]).toEqual([
      ['1: Too dark.', '1: Too dark.', '1: Too dark.'],
      [0, 2, 3, 4],
    ]);
    const lost = keeper(5);
    const gone: PictureMaker['frame'] = () => Promise.reject(new GraphicsLost());
    expect(await renderFrames(lost.transport, { ...maker, frame: gone })).toMatchObject({ kind: 'lost' });
    expect([lost.failures, lost.leased.size]).toEqual([[], 0]); // what it held is free for others
  });

  it('may take longer than their lease, which goes on while its renderer lives and no longer', async () => {
    const { transport, held, frames } = keeper(1);
    const { maker } = pictures();
    const during: number[] = [];
    const frame: PictureMaker['frame'] = async (job, index) => {
      during.push(held.size);
      return maker.frame(job, index);
    };
    expect(await renderFrames(transport, { ...maker, frame })).toMatchObject({ kind: 'idle' });
    expect([frames.size, during, held.size]).toEqual([1, [1], 0]);
  });

  it('go to another renderer where the lease was lost', async () => {
    const { transport, frames, leased } = keeper(2);
    const { maker } = pictures();
    let lost = false;
    const frame: PictureMaker['frame'] = (job, index) => {
      if (!lost) leased.set(0, 'another');
      if (!lost) setTimeout(() => leased.delete(0), 1);
      lost = true;
      return maker.frame(job, index);
    };
    for (let tries = 0; tries < 9 && frames.size < 2; tries++) {
      await renderFrames(transport, { ...maker, frame }, { waitMs: 2 });
      await new Promise((resolve) => setTimeout(resolve, 5));
    }
    expect(frames.size).toBe(2);
  });
});
