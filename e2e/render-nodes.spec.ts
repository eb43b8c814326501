import { execFileSync } from 'node:child_process';
import { expect, test } from '@playwright/test';
import type { GivenOrder, Project, Render } from '@arvex/core';
import { FIRST_RECIPES, orderFrom } from '@arvex/core';
import { Arvex } from './arvex';

test('renderers without a screen make output with no tab open, and one that dies is started again', async () => {
  test.setTimeout(180_000);
  const arvex = await Arvex.start('--renderers', '1');
  try {
    const api = async <T>(path: string, body?: unknown): Promise<T> => {
      const headers = { 'content-type': 'application/json' };
      const post = body === undefined ? {} : { method: 'POST', headers, body: JSON.stringify(body) };
      return (await (await fetch(`${arvex.address}/api${path}`, post)).json()) as T;
    };
    const { items } = await api<{ items: { id: string }[] }>('/projects');
    const project = await api<Project>(`/projects/${items[0]?.id}`);
    const preview = orderFrom(FIRST_RECIPES[0]!, Object.keys(project.sequences)[0] ?? '');
    const order = {
      ...preview,
      size: { kind: 'share', share: 0.1 },
      frames: { ...preview.frames, range: { first: 1001, last: 1040 } },
    };
    const [render] = (await api<GivenOrder>(`/projects/${project.head.id}/orders`, order)).renders;
    const now = () => api<Render>(`/renders/${render?.id}`);
    await expect.poll(async () => (await now()).framesDone, { timeout: 60_000 }).toBeGreaterThan(3);
    // The browser of this server alone.
    const found = (...options: string[]) =>
      execFileSync('pgrep', options, { encoding: 'utf8' }).trim().split('\n').map(Number);
    const [server] = found('-f', `main.js --port ${arvex.port}`);
    for (const browser of found('-P', String(server), 'chromium')) process.kill(browser, 'SIGKILL');
    await expect.poll(async () => (await now()).state, { timeout: 120_000 }).toBe('done');
    expect(await now()).toMatchObject({ framesDone: 40, framesFailed: 0, error: null });
  } finally {
    await arvex.down();
  }
});
