/** What the page's own thread has to do: it is what a person waits for. */
import type { Page } from '@playwright/test';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { largeFloor } from '../e2e/set-geometry';

const SETTLED_MS = 3000;
/** As many edits are measured, and as many lie between the first and the last of them. */
const [MEASURED, BETWEEN] = [20, 500];

/** Milliseconds of the page's thread for an edit: of the first ones, and of some with hundreds of steps of undo behind them. */
export async function editsMs(page: Page, address: string): Promise<[number, number]> {
  await page.goto(address);
  await page.getByTestId('seen').getByText('SL_010').waitFor();
  await page.keyboard.press('2');
  await page.waitForTimeout(SETTLED_MS);
  const session = await page.context().newCDPSession(page);
  await session.send('Performance.enable');
  const busyS = async () =>
    (await session.send('Performance.getMetrics')).metrics.find(({ name }) => name === 'TaskDuration')?.value ?? NaN;
  const field = page.getByLabel('Name of the camera', { exact: true });
  let name = 0;
  const edits = async (count: number) => {
    for (const until = name + count; name < until; name++) {
      await field.fill(`Crane ${name}`);
      await field.press('Enter');
    }
    await page.waitForTimeout(SETTLED_MS);
  };
  await edits(5); // what comes with a first edit is no part of it
  const measured = async () => {
    const before = await busyS();
    await edits(MEASURED);
    return (1000 * ((await busyS()) - before)) / MEASURED;
  };
  const first = await measured();
  await edits(BETWEEN);
  return [first, await measured()];
}

/** Brings a hundred megabytes into the set. @returns the longest task of the page's thread meanwhile, milliseconds (0 where none is over 50), and the file's bytes. */
export async function bringingIn(page: Page, address: string): Promise<[number, number]> {
  const directory = await mkdtemp(join(tmpdir(), 'arvex-bench-'));
  try {
    const [path, file] = [join(directory, 'floor.glb'), await largeFloor(1001)];
    await writeFile(path, file);
    await page.goto(address);
    await page.getByTestId('seen').getByText('SL_010').waitFor();
    await page.keyboard.press('1');
    await page.waitForTimeout(SETTLED_MS);
    await page.evaluate(() => {
      const longest = { ms: 0 };
      Object.assign(globalThis, { longest });
      new PerformanceObserver((list) => {
        for (const entry of list.getEntries()) longest.ms = Math.max(longest.ms, entry.duration);
      }).observe({ type: 'longtask' });
    });
    const measured = page.waitForResponse(/\/api\/geometry/, { timeout: 120_000 });
    await page.getByLabel('Files for the set').setInputFiles(path);
    await measured;
    await page.waitForTimeout(10_000); // nothing is looked for in the page meanwhile: that would be work of its thread, too
    const { ms } = await page.evaluate(() => (globalThis as unknown as { longest: { ms: number } }).longest);
    return [ms, file.length];
  } finally {
    await rm(directory, { recursive: true, force: true });
  }
}
