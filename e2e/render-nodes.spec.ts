import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import type { GivenOrder, Project, Render } from '@arvex/core';
import { FIRST_RECIPES, orderByRecipe } from '@arvex/core';
import { Arvex } from './arvex';
import { quickPage } from './hands';

test('renderers without a screen make output with no tab open, the same as a tab does, and one that dies is started again', async ({
  browser,
}) => {
  test.setTimeout(180_000);
  const arvex = await Arvex.start('--renderers', '1');
  try {
    const api = async <T>(path: string, body?: unknown): Promise<T> => {
      const headers = { 'content-type': 'application/json' };
      const post = body === undefined ? {} : { method: 'POST', headers, body: JSON.stringify(body) };
      return (await (await fetch(`${arvex.server}/api${path}`, post)).json()) as T;
    };
    const { items } = await api<{ items: { id: string }[] }>('/projects');
    const project = await api<Project>(`/projects/${items[0]?.id}`);
    const preview = orderByRecipe(FIRST_RECIPES[0]!, Object.keys(project.sequences)[0] ?? '');
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
    // What a tab shows of the same order has the same bytes.
    const page = await quickPage(browser);
    await page.addInitScript(
      ([id, kept]) => localStorage.setItem(`arvex.order.${id}`, kept as string),
      [project.head.id, JSON.stringify({ order, recipe: null })],
    );
    await page.goto(arvex.address);
    await page.keyboard.press('5');
    await page.getByRole('button', { name: 'One frame first' }).click();
    const keeping = page.waitForEvent('download');
    await page.getByRole('link', { name: 'Keep' }).click();
    const download = await keeping;
    const frame = Number(/\.(\d+)\.png$/.exec(download.suggestedFilename())?.[1]) - 1001;
    const made = await fetch(`${arvex.server}/api/renders/${render?.id}/picture?index=${frame}`);
    expect(Buffer.from(await made.arrayBuffer()).equals(readFileSync(await download.path()))).toBe(true);
    await page.close();
  } finally {
    await arvex.down();
  }
});
