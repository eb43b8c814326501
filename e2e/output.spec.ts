import type { BrowserContext, Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import type { Project, Render } from '@arvex/core';
import { Arvex } from './arvex';
import { quickPage } from './hands';

let arvex: Arvex;
let context: BrowserContext;
let page: Page;

test.beforeAll(async ({ browser }) => {
  arvex = await Arvex.start();
  context = await browser.newContext();
  page = await quickPage(context);
  await page.goto(arvex.address);
  await page.keyboard.press('5');
});
test.afterAll(async () => {
  await context.close();
  await arvex.down();
});

const word = (name: string, on = page) => on.locator('.sentence').getByRole('button', { name });
const choose = async (name: string, radio: string) => {
  await word(name).click();
  await page.getByRole('radio', { name: radio }).click();
};
async function api<T>(path: string): Promise<T> {
  return (await (await fetch(`${arvex.server}/api${path}`)).json()) as T;
}
async function all(): Promise<Render[]> {
  const { items } = await api<{ items: { id: string }[] }>('/projects');
  return (await api<{ items: Render[] }>(`/projects/${items[0]?.id}/renders`)).items;
}

test('all cameras are ordered at once, each its own size and range, and go on when their tab and their server are killed', async () => {
  const { items } = await api<{ items: { id: string }[] }>('/projects');
  const project = await api<Project>(`/projects/${items[0]?.id}`);
  // One of the cameras has a size of its own.
  const [camera] = Object.values(project.cameras).sort((a, b) => a.number - b.number);
  const framing = { ...camera!.framing, delivery: { widthPx: 1080, heightPx: 1080, pixelAspect: 1 } };
  const operation = { op: 'patch', kind: 'camera', id: camera!.id, baseRevision: camera!.revision };
  const fields = { framing, own: [...camera!.own, 'delivery'] };
  const sent = await fetch(`${arvex.server}/api/projects/${project.head.id}/changes`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ id: crypto.randomUUID(), name: 'Square', form: 3, operations: [{ ...operation, fields }] }),
  });
  expect(sent.status).toBe(200);
  await page.getByRole('button', { name: 'quick preview' }).click();
  await choose('What:', 'cameras');
  await expect(page.locator('arvex-what-editor li')).toHaveCount(9);
  await page.locator('arvex-what-editor li').nth(7).getByRole('checkbox').uncheck();
  await page
    .getByRole('checkbox', { name: '8 Last light' })
    .or(page.locator('arvex-what-editor li').last().getByRole('checkbox'))
    .first()
    .uncheck();
  await word('Size:').click();
  await page.getByLabel('Share of the delivery size, typed').fill('10');
  await page.keyboard.press('Enter');
  await word('Frames:').click();
  await page.getByLabel('Every so many-th frame').fill('40');
  await page.keyboard.press('Enter');
  let sends = 0;
  const counting = (on: Page) =>
    on.on('request', (request) => (sends += Number(request.method() === 'PUT' && request.url().includes('/frames/'))));
  counting(page);
  await page.getByRole('button', { name: 'Render 7 cameras' }).click();
  await expect(page.locator('.render')).toHaveCount(7);
  await expect(page.locator('.render').first()).toContainText('108 × 108');
  await expect(page.locator('.render').nth(1)).toContainText('192 × 108');
  const done = async () => (await all()).reduce((sum, { framesDone }) => sum + framesDone, 0);
  await expect.poll(done).toBeGreaterThan(2);
  const before = await done();
  // Its tab is gone in the middle of a frame: another one of the browser goes on, and what is done stays done.
  await page.close({ runBeforeUnload: false });
  page = await quickPage(context);
  counting(page);
  await page.goto(arvex.address);
  await page.keyboard.press('5');
  expect(await done()).toBeGreaterThanOrEqual(before);
  await expect.poll(done).toBeGreaterThan(before + 3);
  const kept = await done();
  await arvex.killServer();
  await arvex.up();
  expect(await done()).toBeGreaterThanOrEqual(kept);
  await expect
    .poll(async () => (await all()).map(({ state }) => state), { timeout: 120_000 })
    .toEqual(Array.from({ length: 7 }, () => 'done'));
  const made = await all();
  expect(made.map(({ framesDone, frameCount }) => framesDone - frameCount)).toEqual(Array.from({ length: 7 }, () => 0));
  // Twice a few frames were in hand; nothing else was made again.
  const count = made.reduce((sum, { frameCount }) => sum + frameCount, 0);
  expect(sends).toBeGreaterThan(count / 2);
  expect(sends).toBeLessThanOrEqual(count + 2 * 4);
  expect(new Set(made.flatMap(({ files }) => files.map(({ path }) => path))).size).toBe(7 * 3);
});

test('one frame is shown as it will leave, while words are changed; names are shown as they are typed', async () => {
  await page.getByRole('button', { name: 'quick preview' }).click();
  await page.getByRole('button', { name: 'One frame first' }).click();
  const proof = page.locator('arvex-proof');
  await expect(proof.getByText('640 × 360')).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText(/s a frame: about/)).toBeVisible();
  await choose('Stereo and panorama:', 'sphere');
  await page.getByLabel('Width of a full turn').fill('512');
  await page.keyboard.press('Enter');
  await expect(proof.getByText('512 × 256')).toBeVisible({ timeout: 60_000 });
  await page.getByRole('radio', { name: 'flat' }).click();
  await choose('Background:', 'transparent');
  await expect(page.getByText('H.264 has no transparency')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Render the cut' })).toBeDisabled();
  await page.getByRole('radio', { name: 'sky' }).click();
  await word('Names and places:').click();
  await page.getByLabel('Pattern of the movie').fill('{project}_{nobody}');
  await expect(page.getByText('{nobody} stands for nothing in a name').first()).toBeVisible();
  await page.getByLabel('Pattern of the movie').fill('{part}-{version}');
  await expect(page.getByText('v002/The-Relight/The-Relight-v002.mp4')).toBeVisible();
  await page.getByRole('button', { name: 'Keep this order as a recipe' }).click();
  await page.getByLabel('Name of the recipe').fill('dailies');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'dailies', exact: true })).toHaveAttribute('aria-pressed', 'true');
  await page.getByRole('button', { name: 'Back to the set' }).click();
  await expect(proof).toHaveCount(0);
});
