import type { Page } from '@playwright/test';
import { expect } from '@playwright/test';
import type { Visit } from './arvex';
import { Hands } from './hands';
import { test } from './shared';

test.describe.configure({ mode: 'serial' });

let arvex: Visit;
let page: Page;
let hands: Hands;

test.beforeAll(async ({ browser, served }) => {
  arvex = await served.copy();
  page = await browser.newPage();
  hands = new Hands(page, arvex);
  await page.goto(arvex.address);
  await expect(page.getByTestId('seen')).toContainText('SL_010');
});
test.afterAll(async () => {
  await page.close();
  await arvex.leave();
});

const ready = () => page.locator('arvex-reel .ready');
const thumbnails = () => page.locator('arvex-shot-strip img');

/** Frames that came on the canvas in so many seconds of playing. */
async function played(seconds: number): Promise<number> {
  await page.evaluate(() => {
    const label = document.querySelector('[data-testid=seen]') as HTMLElement;
    const counted = globalThis as { seenFrames?: number };
    counted.seenFrames = 0;
    new MutationObserver(() => (counted.seenFrames = (counted.seenFrames ?? 0) + 1)).observe(label, {
      attributeFilter: ['data-frame'],
    });
  });
  await page.keyboard.press(' ');
  await page.waitForTimeout(seconds * 1000);
  const frames = await page.evaluate(() => (globalThis as { seenFrames?: number }).seenFrames ?? 0);
  await page.keyboard.press(' ');
  return frames;
}

test('a project that was open before shows its reel at once, without drawing it', async () => {
  await expect(thumbnails()).toHaveCount(10, { timeout: 90_000 });
  await page.reload();
  await expect(page.locator('[data-shot]')).toHaveCount(8);
  const begin = Date.now();
  await expect(thumbnails()).toHaveCount(10);
  // Drawing them takes seconds; they are there before the picture is.
  expect(Date.now() - begin).toBeLessThan(3000);
});

test('what is given up for the pace is said while it plays, and all comes back at rest', async () => {
  const frames = await played(6);
  expect(frames).toBeGreaterThan(12);
  await expect(page.getByTestId('given')).toHaveCount(0, { timeout: 60_000 });
});

test('frames are prepared and stay ready until an edit touches them, and again when it is undone', async () => {
  await page.keyboard.press('Home');
  await page.keyboard.press('i');
  for (let i = 0; i < 4; i++) await page.keyboard.press('ArrowRight');
  await page.keyboard.press('o');
  await page.keyboard.press('Home');
  await page.keyboard.press('Alt+p');
  await expect(hands.button('Stop preparing')).toBeVisible();
  await expect(hands.button('Stop preparing')).toHaveCount(0, { timeout: 150_000 });
  await expect(hands.button('Prepare to play')).toHaveAttribute('aria-pressed', 'true');
  await expect(ready()).not.toHaveCount(0);
  // Another camera's lens is not seen in these frames; this one's is.
  await page.locator('[data-shot=SL_020]').click();
  await hands.type('Squeeze', '1.2');
  await expect(hands.button('Prepare to play')).toHaveAttribute('aria-pressed', 'true');
  await page.locator('[data-shot=SL_010]').click();
  await hands.type('Squeeze', '1.2');
  await expect(hands.button('Prepare to play')).toHaveAttribute('aria-pressed', 'false');
  await page.locator('[data-shot=SL_010]').click();
  await page.keyboard.press('Control+z');
  await expect(hands.button('Prepare to play')).toHaveAttribute('aria-pressed', 'true');
  expect(await played(5)).toBeGreaterThan(25);
});

test('the picture takes the whole work area with one key and comes back; the divider stands where each step left it', async () => {
  const size = async () => {
    const box = await page.getByLabel('The picture', { exact: true }).boundingBox();
    return Math.round((box?.width ?? 0) * (box?.height ?? 0));
  };
  const before = await size();
  await page.keyboard.press('x');
  await expect.poll(size).toBeGreaterThan(1.9 * before);
  await expect.poll(size).toBeGreaterThan(0.6 * 1280 * 800);
  await page.keyboard.press('x');
  await expect.poll(size).toBe(before);
  await page.getByRole('separator', { name: 'Height of the picture' }).focus();
  await page.keyboard.press('ArrowUp');
  await expect.poll(size).toBeLessThan(before);
  const smaller = await size();
  await page.keyboard.press('3');
  await expect.poll(size).toBe(before);
  await page.keyboard.press('2');
  await expect.poll(size).toBe(smaller);
});
