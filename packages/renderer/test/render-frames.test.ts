import type { Lease, Project } from '@arvex/core';
import {
  addShot,
  applyChange,
  cameraAt,
  cutOf,
  FLICKS_PER_SECOND,
  makeCamera,
  newProject,
  pictureAt,
} from '@arvex/core';
import type { StageView } from '@arvex/stage';
import { viewOf } from '@arvex/stage/view';
import { describe, expect, it } from 'vitest';
import type { PictureMaker, RenderTransport } from '../src';
import { KeeperAway, KeeperRefused, renderFrames } from '../src';

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
const SEQUENCE = id(3);
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
const FRAMES = cutOf(PROJECT, SEQUENCE).frameCount;

/** Whoever keeps a render of so many frames, and what it has been sent and told; `refuses` tells when it does not answer. */
function keeper(frameCount: number, refuses: (asked: number) => boolean = () => false) {
  const frames = new Map<number, string>();
  const leased = new Map<number, string>();
  const failures: string[] = [];
  const beats: string[] = [];
  let asked = 0;
  const over = () => frames.size === frameCount || failures.length >= 3;
  const mustGoOn = () => {
    if (over()) throw new KeeperRefused('render-over', 'This render is over.');
  };
  const transport: RenderTransport = {
    render: async () => ({ sequenceId: SEQUENCE, widthPx: 320, heightPx: 134, state: over() ? 'done' : 'rendering' }),
    project: async () => PROJECT,
    lease: async (count): Promise<Lease> => {
      asked += 1;
      if (refuses(asked)) throw new KeeperAway('nobody there');
      mustGoOn();
      const free = Array.from({ length: frameCount }, (_, i) => i).filter((i) => !frames.has(i) && !leased.has(i));
      const given = free.slice(0, count);
      for (const index of given) leased.set(index, id(asked));
      return { leaseId: id(asked), frames: given, seconds: 0.03 };
    },
    extend: async (leaseId) => beats.push(leaseId),
    release: async (leaseId) => {
      for (const [index, holder] of leased) if (holder === leaseId && !frames.has(index)) leased.delete(index);
    },
    send: async (index, leaseId, frame) => {
      mustGoOn();
      if (leased.get(index) !== leaseId) throw new KeeperRefused('lease-lost', 'The lease has run out.');
      frames.set(index, `${leaseId} ${await frame.text()}`);
    },
    fail: async (index, _leaseId, why) => {
      failures.push(`${index}: ${why}`);
      leased.delete(index);
    },
  };
  return { transport, frames, leased, failures, beats, asked: () => asked };
}

/** Writes down what is to be drawn. */
function pictures(missing: readonly string[] = []) {
  const views: StageView[] = [];
  const maker: PictureMaker = {
    follow: async () => missing,
    png: async (view, widthPx, heightPx, samples) => {
      views.push(view);
      return new Blob([`${widthPx}×${heightPx} of ${samples}`]);
    },
    dispose: () => undefined,
  };
  return { maker, views };
}

describe('the frames of a render', () => {
  it('are made lease by lease, each where the one camera function has its camera, until all are there', async () => {
    const { transport, frames, asked } = keeper(5);
    const { maker, views } = pictures();
    expect(FRAMES).toBeGreaterThan(5);
    expect(await renderFrames(transport, maker, { samples: 8, framesALease: 2 })).toBe('done');
    expect([...frames.keys()]).toEqual([0, 1, 2, 3, 4]);
    expect(frames.get(3)).toBe(`${id(2)} 320×134 of 8`);
    expect(asked()).toBe(4); // three with frames, and one to hear that it is over
    for (const [index, view] of views.entries()) {
      const { cameraId, sceneFlicks } = pictureAt(PROJECT, SEQUENCE, index) ?? {};
      const state = cameraAt(PROJECT, cameraId ?? '', sceneFlicks ?? -1);
      expect(view).toMatchObject(viewOf(state, sceneFlicks ?? -1));
    }
  });

  it('wait while others have them all, and stop when whoever keeps them is away', async () => {
    const held = keeper(1);
    const lease = await held.transport.lease(1); // another renderer's
    setTimeout(() => void held.transport.send(0, lease.leaseId, new Blob(['theirs'])), 20);
    const waiting = pictures();
    expect(await renderFrames(held.transport, waiting.maker, { samples: 1, waitMs: 5 })).toBe('done');
    expect([waiting.views.length, held.frames.get(0)]).toEqual([0, `${id(1)} theirs`]);

    const away = keeper(5, (asked) => asked === 2);
    expect(await renderFrames(away.transport, pictures().maker, { samples: 1 })).toBe('away');
    expect(away.frames.size).toBe(4);
  });

  it('that cannot be made are told with their reason, and end the render instead of going on for ever', async () => {
    const incomplete = keeper(5);
    expect(await renderFrames(incomplete.transport, pictures(['a']).maker, { samples: 1, waitMs: 1 })).toBe('done');
    expect(incomplete.failures).toEqual(Array.from({ length: 3 }, () => '0: The file of a is missing.'));
    const broken = keeper(5);
    const { maker } = pictures();
    const png: PictureMaker['png'] = () => Promise.reject(new Error('The graphics are gone.'));
    expect(await renderFrames(broken.transport, { ...maker, png }, { samples: 1, waitMs: 1 })).toBe('done');
    expect([broken.failures.at(-1), broken.frames.size]).toEqual(['0: The graphics are gone.', 0]);
    // What it held besides is free for others.
    expect(broken.leased.size).toBe(0);
  });

  it('may take longer than their lease, which goes on while its renderer lives', async () => {
    const { transport, beats, frames } = keeper(1);
    const { maker } = pictures();
    const png: PictureMaker['png'] = async (...order) => {
      await new Promise((resolve) => setTimeout(resolve, 80));
      return maker.png(...order);
    };
    expect(await renderFrames(transport, { ...maker, png }, { samples: 1 })).toBe('done');
    expect(frames.size).toBe(1);
    expect(beats.length).toBeGreaterThan(2);
  });

  it('go to another renderer where the lease was lost', async () => {
    const { transport, frames, leased } = keeper(2);
    const { maker } = pictures();
    let lost = false;
    const png: PictureMaker['png'] = (...order) => {
      if (!lost) leased.set(0, 'another');
      if (!lost) setTimeout(() => leased.delete(0), 5);
      lost = true;
      return maker.png(...order);
    };
    expect(await renderFrames(transport, { ...maker, png }, { samples: 1, waitMs: 2 })).toBe('done');
    expect(frames.size).toBe(2);
  });
});
