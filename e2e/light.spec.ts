import type { Page } from '@playwright/test';
import { expect } from '@playwright/test';
import { join } from 'node:path';
import { bundle } from './bundle';
import { test } from './shared';

const script = bundle(join(import.meta.dirname, 'light-page.ts'));

async function measured<T>(page: Page, what: string, ...given: unknown[]): Promise<T> {
  await page.addScriptTag({ content: await script });
  return page.evaluate(
    ([name, all]) => (globalThis as unknown as Record<string, (...a: unknown[]) => Promise<T>>)[name]?.(...all) as T,
    [what, given] as const,
  );
}

/** The angle of the sun's disc, 0.53°. */
const SUN = 2 * Math.tan((0.2666 * Math.PI) / 180);

test('the sun’s shadow softens with the distance from its edge, as the sun’s disc has it', async ({ page }) => {
  await page.goto('about:blank');
  for (const heightM of [4, 8, 16]) {
    const width = await measured<number>(page, 'penumbra', heightM);
    expect(width / (heightM * SUN), `${heightM} m: ${width} m`).toBeGreaterThan(0.9);
    expect(width / (heightM * SUN), `${heightM} m: ${width} m`).toBeLessThan(1.1);
  }
});

test('the floor of a deep well has the light of the sky that it sees', async ({ page }) => {
  await page.goto('about:blank');
  for (const [depthM, widthM] of [
    [2, 2],
    [4, 2],
    [3, 2],
  ] as const) {
    const share = await measured<number>(page, 'well', depthM, widthM);
    // Form factor of a square opening seen from the middle below it: four rectangles at their corner (Howell, B-3).
    const [a, b] = [widthM / 2 / depthM, widthM / 2 / depthM];
    const part = (u: number, v: number) => (u / Math.sqrt(1 + u * u)) * Math.atan(v / Math.sqrt(1 + u * u));
    const seen = (4 / (2 * Math.PI)) * (part(a, b) + part(b, a));
    expect(share / seen, `${depthM} m deep: ${share} of ${seen}`).toBeGreaterThan(0.95);
    expect(share / seen, `${depthM} m deep: ${share} of ${seen}`).toBeLessThan(1.05);
  }
});

test('a grey card in the open reads the same, however many samples are taken', async ({ page }) => {
  await page.goto('about:blank');
  for (const samples of [2, 8, 64]) {
    const [quick, fine] = await measured<[number, number]>(page, 'open', samples);
    expect(Math.abs(fine / quick - 1), `${samples}: ${fine} of ${quick}`).toBeLessThan(0.01);
  }
});

test('lean light is as bright as the full picture, within a third of a stop', async ({ browser, served }) => {
  const arvex = await served.copy();
  const context = await browser.newContext({ bypassCSP: true });
  try {
    const page = await context.newPage();
    await page.goto(`${arvex.server}/api/health`);
    const stops = await measured<number[]>(page, 'leanStops', await arvex.project());
    expect(stops.length).toBeGreaterThan(10);
    for (const [i, one] of stops.entries()) expect(Math.abs(one), `frame ${i * 64}: ${one} stops`).toBeLessThan(1 / 3);
  } finally {
    await context.close();
    await arvex.leave();
  }
});
