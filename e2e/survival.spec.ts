import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { join } from 'node:path';
import { Arvex, startOutcome } from './arvex';
import { pageWithoutPictures, quickPage } from './hands';

// Each has a server of its own: they go beside each other.
test.describe.configure({ mode: 'parallel' });

/** How often a tab is crashed: `ARVEX_CRASHES=40` for a long look. */
const CRASHES = Number(process.env['ARVEX_CRASHES'] ?? 3);

interface Named {
  readonly cameras: Record<string, { name: string }>;
}

const saved = (page: Page) => expect(page.getByTestId('save-state')).toContainText('saved', { timeout: 60_000 });
const nameField = (page: Page) => page.getByLabel('Name of the camera', { exact: true });
/** Names of the cameras as the server has them; none while it is away. */
async function names(arvex: Arvex): Promise<string[]> {
  const project = await arvex.project<Named>().catch(() => undefined);
  return Object.values(project?.cameras ?? {}).map((camera) => camera.name);
}
async function rename(page: Page, name: string): Promise<void> {
  await nameField(page).fill(name);
  await nameField(page).press('Enter');
}

test('killing the server and the database in the middle of editing loses nothing', async ({ browser }) => {
  const context = await browser.newContext();
  const page = await quickPage(context);
  const arvex = await Arvex.start();
  try {
    await page.goto(arvex.address);
    await expect(nameField(page)).toHaveValue('Gallery crane');
    await rename(page, 'Acknowledged one');
    await expect.poll(() => names(arvex)).toContain('Acknowledged one');

    await arvex.killServer();
    await rename(page, 'Made while the server was gone');
    await expect(page.getByTestId('save-state')).toContainText('kept here');
    await page.getByLabel('Focal length', { exact: true }).fill('50');
    await page.getByLabel('Focal length', { exact: true }).press('Enter');
    await arvex.up(); // the database left behind is stopped and started again
    await saved(page);
    await expect.poll(() => names(arvex)).toContain('Made while the server was gone');

    await rename(page, 'Acknowledged two');
    await expect.poll(() => names(arvex)).toContain('Acknowledged two');
    await arvex.killDatabase();
    await rename(page, 'Made while the database was gone');
    // The server brings its database up again by itself, and the outbox goes on.
    await expect.poll(() => names(arvex), { timeout: 60_000 }).toContain('Made while the database was gone');
    await saved(page);

    // The tab dies too: what it had not sent is sent by the next one.
    await arvex.killServer();
    await arvex.killDatabase();
    await rename(page, 'Left in the outbox');
    await expect(page.getByTestId('save-state')).toContainText('kept here');
    const next = await pageWithoutPictures(context);
    await page.close();
    await arvex.up();
    await next.goto(arvex.address);
    await saved(next);
    await expect.poll(() => names(arvex)).toContain('Left in the outbox');
    await expect(nameField(next)).toHaveValue('Left in the outbox');
  } finally {
    await context.close();
    await arvex.down();
  }
});

test('what is wanted for the first time while the server is away is there all the same', async ({ browser }) => {
  const arvex = await Arvex.start();
  const page = await quickPage(browser);
  try {
    const unexpected: Error[] = [];
    page.on('pageerror', (error) => unexpected.push(error));
    await page.goto(arvex.address);
    await expect(nameField(page)).toHaveValue('Gallery crane');
    await page.waitForFunction(() => {
      const ahead = [...document.querySelectorAll<HTMLLinkElement>('link[rel=prefetch]')];
      return ahead.length > 0 && ahead.every(({ href }) => performance.getEntriesByName(href).length > 0);
    });
    await arvex.killServer();
    await page.keyboard.press('3');
    await expect(page.locator('arvex-moves-bench')).toBeVisible();
    await page.keyboard.press('Shift+G');
    await expect(page.locator('arvex-curves-view')).toBeVisible();
    await page.locator('arvex-comfort-card .open').click();
    await expect(page.locator('arvex-comfort-card .apexcharts-canvas').first()).toBeVisible();
    await page.keyboard.press('1');
    await expect(page.locator('arvex-set-bench')).toBeVisible();
    await page.keyboard.press('Control+k');
    await expect(page.getByRole('combobox', { name: 'Find an action' })).toBeVisible();
    expect(unexpected).toEqual([]);
    await arvex.up();
    await saved(page);
  } finally {
    await page.close();
    await arvex.down();
  }
});

test('two tabs that change the same camera are asked, and nothing is overwritten', async ({ browser }) => {
  const arvex = await Arvex.start();
  const context = await browser.newContext();
  try {
    const [here, there] = [await pageWithoutPictures(context), await pageWithoutPictures(context)];
    for (const page of [here, there]) {
      await page.goto(arvex.address);
      await expect(nameField(page)).toHaveValue('Gallery crane');
    }
    await here.route('**/api/**', (route) => route.abort()); // this tab is cut off
    await rename(here, 'Name from here');
    await expect(here.getByTestId('save-state')).toContainText('kept here');
    await rename(there, 'Name from there');
    await saved(there);
    await here.unroute('**/api/**');
    await expect(here.getByRole('heading', { name: 'Changed in two places' })).toBeVisible();
    expect(await names(arvex)).toContain('Name from there');
    const row = here.getByRole('row', { name: 'name' });
    await expect(row).toContainText('Name from here');
    await expect(row).toContainText('Name from there');
    await here.getByRole('button', { name: 'Put mine over it' }).click();
    await saved(here);
    expect(await names(arvex)).toContain('Name from here');
    await expect(nameField(there)).toHaveValue('Name from here');
  } finally {
    await context.close();
    await arvex.down();
  }
});

test('a tab that crashes loses nothing that it said to be kept', async ({ browser }) => {
  test.setTimeout(60_000 + CRASHES * 20_000);
  const arvex = await Arvex.start();
  const context = await browser.newContext();
  try {
    let name = 'Gallery crane';
    for (let i = 0; i < CRASHES; i++) {
      const page = await pageWithoutPictures(context);
      await page.goto(arvex.address);
      await expect(nameField(page)).toHaveValue(name);
      const cutOff = Math.random() < 0.5;
      if (cutOff) await page.route('**/api/**/changes', (route) => route.abort());
      for (let edits = 1 + Math.floor(Math.random() * 4); edits > 0; edits--) {
        name = `Crash ${i}, ${edits} to go`;
        await rename(page, name);
      }
      await page.evaluate(() => new Promise((shown) => requestAnimationFrame(() => requestAnimationFrame(shown))));
      const state = page.getByTestId('save-state');
      await expect(state).toContainText(cutOff ? 'kept here' : /saved|kept here/);
      const session = await context.newCDPSession(page);
      const crashed = page.waitForEvent('crash');
      void session.send('Page.crash').catch(() => undefined); // is never answered
      await crashed;
      await page.close();
    }
    const last = await pageWithoutPictures(context);
    await last.goto(arvex.address);
    // Nothing waits before the project is there: what the tab before kept is taken over then.
    await expect(nameField(last)).toHaveValue(name);
    await saved(last);
    expect(await names(arvex)).toContain(name);
  } finally {
    await context.close();
    await arvex.down();
  }
});

test('ten tabs of one browser are in step, whichever of them is closed', async ({ browser }) => {
  test.slow();
  const arvex = await Arvex.start();
  const context = await browser.newContext();
  try {
    const tabs: Page[] = [];
    for (let i = 0; i < 10; i++) {
      // Two show pictures: ten that do would only take ten times as long to open.
      const tab = i < 2 ? await quickPage(context) : await pageWithoutPictures(context);
      await tab.goto(arvex.address);
      await expect(nameField(tab)).toHaveValue('Gallery crane');
      tabs.push(tab);
    }
    const inStep = async (name: string) => {
      for (const tab of tabs) await expect(nameField(tab)).toHaveValue(name, { timeout: 30_000 });
    };
    await rename(tabs[9]!, 'Told by the last');
    await inStep('Told by the last');
    // The first one holds the stream for all; it dies, another one takes it up, and what happens meanwhile is not missed.
    const [first] = tabs.splice(0, 1);
    await first!.close();
    await rename(tabs[0]!, 'Told by the second');
    await inStep('Told by the second');
    await Promise.all(tabs.splice(2, 6).map((tab) => tab.close()));
    await rename(tabs[1]!, 'Told by the third');
    await inStep('Told by the third');
    expect(await names(arvex)).toContain('Told by the third');
  } finally {
    await context.close();
    await arvex.down();
  }
});

test('a start that cannot be says so in one sentence', async () => {
  const arvex = await Arvex.start('--empty');
  try {
    const taken = startOutcome('--port', String(arvex.port), '--data', join(arvex.data, 'other'));
    expect(taken.code).not.toBe(0);
    expect(taken.output).toContain(`Port ${arvex.port} is taken`);
    const inUse = startOutcome('--port', '4999', '--data', arvex.data);
    expect(inUse.code).not.toBe(0);
    expect(inUse.output).toContain('is in use by another Arvex');
    expect(startOutcome('--help').output).toContain('--data DIR');
    expect(startOutcome('--port', 'seven').output).toContain('is not a port');
    expect(await arvex.interrupt()).toBe(0);
  } finally {
    await arvex.down();
  }
});

test('who stops Arvex while its server has died leaves no database behind', async () => {
  const arvex = await Arvex.start('--empty');
  try {
    expect(arvex.hasDatabase()).toBe(true);
    arvex.crashServer();
    await arvex.interrupt();
    expect(arvex.hasDatabase()).toBe(false);
  } finally {
    await arvex.down();
  }
});

test('an empty project says the next step and offers it', async ({ browser }) => {
  const page = await quickPage(browser);
  const arvex = await Arvex.start('--empty');
  try {
    await page.goto(arvex.address);
    await expect(page.getByText('What is there?')).toBeVisible();
    await expect(page.getByRole('radio', { name: 'camera' })).toBeChecked(); // the cut has nothing to run over
    await page.keyboard.press('f');
    await page.getByRole('button', { name: 'Make camera from this view' }).click();
    await expect(page.getByTestId('camera-chip')).toContainText('Camera 1');
    await page.keyboard.press('4');
    await expect(page.locator('arvex-sequence-bench').getByText('The cut has no shots yet.')).toBeVisible();
    await expect(page.locator('arvex-coverage-card .open')).toBeVisible();
    await expect(page.locator('arvex-speed-card .open')).toHaveCount(0); // there is no shot to be slow
    await page.getByRole('button', { name: 'Add a shot of Camera 1' }).click();
    await expect(page.getByTestId('seen')).toHaveText('SH_010 · the cut · Camera 1 · 1001');
    await page.keyboard.press('2');
    await page.getByRole('button', { name: 'Delete this camera' }).click();
    await expect(page.getByText('What is there?')).toBeVisible();
    await page.keyboard.press('5');
    await expect(
      page.locator('arvex-review-bench').getByText('SH_010 has no camera (Camera 1 was deleted)'),
    ).toBeVisible();
    await expect(page.getByRole('button', { name: 'Render the cut' })).toBeDisabled();
    await page.keyboard.press('Control+z');
    await expect(page.getByRole('button', { name: 'Render the cut' })).toBeEnabled();
  } finally {
    await page.close();
    await arvex.down();
  }
});
