import { join } from 'node:path';
import type { Page } from '@playwright/test';
import { chromium } from '@playwright/test';
import { Arvex } from './arvex';
import { ARGUMENTS } from './browser';
import { Hands } from './hands';

// The pictures of the README, made from the demo: `npm run screenshots`. Looked at before they are committed.

const FOLDER = join(import.meta.dirname, '..', 'docs', 'screenshots');
const SIZE = { width: 1280, height: 800 };
/** A picture at rest is refined, strips of the reel are drawn: so long, ms. */
const REST_MS = 6000;

type View = readonly [name: string, prepare: (page: Page, hands: Hands) => Promise<unknown>];

const key = (page: Page, ...keys: string[]) =>
  keys.reduce(async (before, one) => {
    await before;
    await page.keyboard.press(one);
    await page.waitForTimeout(300);
  }, Promise.resolve());

async function tab(page: Page, name: string): Promise<void> {
  await page.getByRole('tab', { name, exact: true }).click();
  await page.mouse.move(SIZE.width / 2, SIZE.height - 4);
}

async function atFrame(page: Page, frame: number): Promise<void> {
  await key(page, 'Alt+g');
  await page.keyboard.type(String(frame));
  await key(page, 'Enter');
}

const VIEWS: readonly View[] = [
  ['cameras', (page) => key(page, '2')],
  ['cameras-look', (_page, hands) => hands.card('look')],
  [
    'cameras-focus',
    async (page, hands) => {
      await atFrame(page, 1284);
      await hands.card('focus');
    },
  ],
  [
    'cameras-light',
    async (page, hands) => {
      await atFrame(page, 1580);
      await hands.card('light');
    },
  ],
  ['set', (page) => key(page, 'Home', '1')],
  ['free-view', (page) => tab(page, 'Free view')],
  [
    'variations',
    async (page, hands) => {
      await tab(page, 'Plan');
      await key(page, '2');
      await hands.lookThrough(/Inside the hut/);
      await hands.card('variations');
      await key(page, 'Alt+v');
    },
  ],
  [
    'moves-plan',
    async (page, hands) => {
      await key(page, '3');
      await tab(page, 'Plan');
      await hands.lookThrough(/Pier ride/);
      await atFrame(page, 1180);
    },
  ],
  ['moves', (page) => key(page, 'Shift+G')],
  [
    'sequence',
    async (page) => {
      await key(page, '4');
      await page.getByRole('radio', { name: 'the cut' }).click();
      await key(page, 'Home', 'Shift+L');
    },
  ],
  ['sequence-board', (page) => key(page, 'Shift+B')],
  [
    'sequence-joint',
    async (page, hands) => {
      await key(page, 'Shift+L');
      const [x, y] = await hands.middleOf(page.locator('[data-lane-shot="SL_050"] .pull.joint'));
      await page.mouse.move(x, y);
      await page.mouse.down();
      await page.mouse.move(x + 16, y, { steps: 4 });
    },
  ],
  [
    'review-proof',
    async (page) => {
      await key(page, 'Escape');
      await page.mouse.up();
      await key(page, '5');
      await atFrame(page, 1169);
      await page.getByRole('button', { name: 'One frame first' }).click();
      await page.getByRole('link', { name: 'Keep' }).waitFor();
    },
  ],
  [
    'review',
    async (page) => {
      await page.getByRole('button', { name: 'Back to the set' }).click();
      await page.getByRole('button', { name: 'quick preview' }).click();
      await page.locator('.sentence').getByRole('button', { name: 'What:' }).click();
      await page.getByRole('radio', { name: 'cameras' }).click();
      await page.getByRole('button', { name: /^Render \d cameras$/ }).click();
      await page.locator('.render').first().waitFor();
    },
  ],
];

const arvex = await Arvex.start();
try {
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ARGUMENTS });
  try {
    const page = await browser.newPage({ viewport: SIZE });
    const hands = new Hands(page, arvex);
    await page.goto(arvex.address);
    await page.getByTestId('camera-chip').waitFor();
    const keep = async (name: string) => {
      await page.waitForTimeout(REST_MS);
      await page.screenshot({ path: join(FOLDER, `${name}.png`) });
      console.log(name);
    };
    for (const [name, prepare] of VIEWS) {
      await page.mouse.move(SIZE.width / 2, SIZE.height - 4); // no tip in the picture
      await prepare(page, hands);
      await keep(name);
    }
    await page.evaluate(() => [localStorage, sessionStorage].forEach((kept) => kept.setItem('arvex.theme', '"light"')));
    await page.reload();
    await key(page, '2');
    await tab(page, 'Plan');
    await hands.card('light');
    await keep('light-theme');
    await page.evaluate(() => [localStorage, sessionStorage].forEach((kept) => kept.removeItem('arvex.theme')));
    await page.reload();
    await page.getByTestId('project').click();
    await page.getByRole('button', { name: 'New project' }).click();
    await page.locator('[data-place=room]').waitFor();
    await keep('first-minute');
  } finally {
    await browser.close();
  }
} finally {
  await arvex.down();
}
