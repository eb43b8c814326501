import type { Lease, Render } from '@arvex/core';
import { ORDER_DEFAULTS } from '@arvex/core';
import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { stat } from 'node:fs/promises';
import { buildApp } from '../src/house/app';
import { openHouse } from '../src/house/open-house';
import { png } from './png';
import { orderOf, ordered, ownPlaces, projectOn } from './serve';

const closing: (() => Promise<unknown>)[] = [];
afterEach(async () => {
  for (const close of closing.splice(0).reverse()) await close();
});

/** Some processes on one database and one data directory, which start in the same moment. */
async function processes(...names: string[]) {
  const places = await ownPlaces();
  closing.push(places.leave);
  const start = async (processName: string) => {
    const house = await openHouse({ ...places, processName });
    const app = await buildApp(house);
    closing.push(
      () => house.close(),
      () => app.close(),
    );
    return { app, house };
  };
  return { places, start, started: await Promise.all(names.map(start)) };
}

describe('several processes on one database', () => {
  it('bring an empty one up together, share a render, and one finishes it where the other ends', async () => {
    const { started } = await processes('one', 'two');
    const [one, two] = started;
    if (!one || !two) throw new Error('Two were started.');
    const { project, sequence } = await projectOn(one.app, 4);
    const formats = { ...ORDER_DEFAULTS.formats, movies: ORDER_DEFAULTS.formats.movies };
    const [render] = await ordered(one.app, project, orderOf(sequence, { formats }));
    if (!render) throw new Error('There is no render.');
    const draw = async ({ app }: typeof one) => {
      const leased = await app.inject({ method: 'POST', url: '/api/leases', payload: { count: 1 } });
      const { leaseId, frames } = leased.json<Lease>();
      const url = `/api/renders/${render.id}/frames/${frames[0]}/png?lease=${leaseId}`;
      const payload = png(render.widthPx, render.heightPx, [9, 9, 9]);
      return app.inject({ method: 'PUT', url, payload, headers: { 'content-type': 'image/png' } });
    };
    const sent = await Promise.all([one, two, one].map(draw));
    expect(sent.map(({ statusCode }) => statusCode)).toEqual([200, 200, 200]);
    await one.house.close();
    expect((await draw(two)).statusCode).toBe(200);
    const now = async () => (await two.app.inject(`/api/renders/${render.id}`)).json<Render>();
    await vi.waitFor(async () => expect((await now()).state).toBe('done'), { timeout: 30_000, interval: 100 });
    const movies = (await now()).files.filter(({ kind }) => kind === 'movie');
    expect(movies).toHaveLength(1);
  });

  it('sweep away at their start what they left themselves, and nothing of the others', async () => {
    const { places, start } = await processes('one');
    const left = (of: string) => [
      join(places.dataDirectory, 'files', 'incoming', of),
      join(places.dataDirectory, 'temporary', of),
    ];
    for (const folder of [...left('one'), ...left('two')]) {
      await mkdir(folder, { recursive: true });
      await writeFile(join(folder, 'half'), 'half of a file');
    }
    await start('two');
    const isThere = (path: string) =>
      stat(join(path, 'half')).then(
        () => true,
        () => false,
      );
    expect(await Promise.all([...left('one'), ...left('two')].map(isThere))).toEqual([true, true, false, false]);
  });
});
