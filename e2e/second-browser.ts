import { spawn } from 'node:child_process';
import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import type { Page } from 'puppeteer-core';
import puppeteer from 'puppeteer-core';
import { Arvex } from './arvex';

// All five steps in Debian's other browser, driven over WebDriver BiDi under a screen in memory. Not part of the check:
// `npm run second-browser`, which installs the browser and the screen.

const FIREFOX = '/usr/bin/firefox-esr';
const DISPLAY = ':87';
const PICTURES = join(import.meta.dirname, '..', 'test-results', 'second-browser');
const LIMIT_MS = 60_000;
const PLAYED_MS = 4000;

const STEPS = [
  { key: '1', name: 'Set', seen: 'arvex-set-bench' },
  { key: '2', name: 'Cameras', seen: 'arvex-cameras-bench' },
  { key: '3', name: 'Moves', seen: 'arvex-moves-bench' },
  { key: '4', name: 'Sequence', seen: 'arvex-sequence-bench' },
  { key: '5', name: 'Review', seen: 'arvex-review-bench' },
] as const;

function must(is: boolean, what: string): void {
  if (!is) throw new Error(what);
}

async function textOf(page: Page, selector: string): Promise<string> {
  return page.$eval(selector, (found) => found.textContent ?? '');
}

async function walkThrough(page: Page, address: string): Promise<void> {
  const errors: string[] = [];
  page.on('console', (message) => message.type() === 'error' && errors.push(message.text()));
  page.on('pageerror', (error) => errors.push(String(error)));
  await page.goto(address);
  await page.waitForSelector('[data-testid=camera-chip]');
  for (const { key, name, seen } of STEPS) {
    await page.keyboard.press(key);
    await page.waitForSelector(seen);
    await sleep(1500);
    await page.screenshot({ path: join(PICTURES, `${name}.png`) });
    console.log(`${name}: ${seen} is there`);
  }
  await page.keyboard.press('4');
  await page.keyboard.press('Home');
  const before = await textOf(page, '[data-testid=seen]');
  await page.keyboard.press(' ');
  await sleep(PLAYED_MS);
  await page.keyboard.press(' ');
  const after = await textOf(page, '[data-testid=seen]');
  must(before !== after, `the cut does not play: it still shows ${after}`);
  console.log(`Played from ${before.trim()} to ${after.trim()}`);
  await page.keyboard.press('d'); // one edit, taken back
  await page.waitForFunction(() => document.querySelector('[aria-label^="Undo: Split"]') !== null);
  await page.keyboard.down('Control');
  await page.keyboard.press('z');
  await page.keyboard.up('Control');
  await page.waitForFunction(() => document.querySelector('[data-testid=save-state]')?.textContent.includes('saved'));
  must(errors.length === 0, `the page said:\n${errors.join('\n')}`);
}

async function inTheBrowser(address: string): Promise<void> {
  const browser = await puppeteer.launch({
    browser: 'firefox',
    executablePath: FIREFOX,
    headless: false,
    env: { ...process.env, DISPLAY },
    args: ['--width=1280', '--height=800'],
    defaultViewport: { width: 1280, height: 720 },
  });
  try {
    const page = await browser.newPage();
    page.setDefaultTimeout(LIMIT_MS);
    await walkThrough(page, address);
    console.log(`All five steps work in ${await browser.version()}. Pictures: ${PICTURES}`);
  } finally {
    await browser.close();
  }
}

await mkdir(PICTURES, { recursive: true });
const screen = spawn('Xvfb', [DISPLAY, '-screen', '0', '1280x800x24'], { stdio: 'ignore' });
try {
  const arvex = await Arvex.start();
  try {
    await inTheBrowser(arvex.address);
  } finally {
    await arvex.down();
  }
} finally {
  screen.kill();
}
