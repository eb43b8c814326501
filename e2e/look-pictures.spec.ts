import { expect, test } from '@playwright/test';
import { join } from 'node:path';
import { bundle } from './bundle';

interface InPage {
  readonly looks: string[];
  apart(name: string, edge: number): number;
  glowing(look: object, width: number): Promise<{ left: number; right: number; far: number }>;
}

const script = bundle(join(import.meta.dirname, 'look-page.ts'));
const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
const GLOW = { amount: 1, threshold: 0.5, size: 0.04, of: { kind: 'all' } };

test.beforeEach(async ({ page }) => {
  await page.goto('about:blank');
  await page.addScriptTag({ content: await script });
});

test('graphics show the colours of a look as the core computes them', async ({ page }) => {
  const found = await page.evaluate(() => {
    const { looks, apart } = globalThis as unknown as InPage;
    return looks.map((name) => [name, apart(name, 1), apart(name, 0.4)] as const);
  });
  expect(found).toHaveLength(4);
  for (const [name, whole, edge] of found) {
    expect(whole, name).toBeLessThan(1);
    expect(edge, `${name} at the edge`).toBeLessThan(1);
  }
});

test('glow spreads alike at all sizes, and only what is chosen glows', async ({ page }) => {
  const glowing = (look: object, width: number) =>
    page.evaluate(([one, px]) => (globalThis as unknown as InPage).glowing(one, px), [look, width] as const);
  const none = await glowing({}, 640);
  expect(none.left).toBeLessThan(0.01);
  const [large, small] = [await glowing({ glow: GLOW }, 1280), await glowing({ glow: GLOW }, 320)];
  expect(large.left).toBeGreaterThan(0.1);
  expect(Math.abs(large.left - small.left) / large.left).toBeLessThan(0.06);
  expect(Math.abs(large.right - large.left)).toBeLessThan(0.02);
  const things = await glowing({ glow: { ...GLOW, of: { kind: 'things', ids: [id(10)] } } }, 640);
  expect(things.left).toBeGreaterThan(0.9 * large.left);
  expect(things.right).toBeLessThan(things.left / 3);
  const groups = await glowing({ glow: { ...GLOW, of: { kind: 'groups', ids: [id(31)] } } }, 640);
  expect(groups.right).toBeGreaterThan(groups.left * 3);
  const streaks = { amount: 1, arms: 2, angleDeg: 0, length: 0.4, tint: '#80a0ff', spread: 0.2 };
  const streaked = await glowing({ glow: { ...GLOW, amount: 0 }, streaks }, 640);
  // Along the line from one lamp to the other.
  expect(streaked.far).toBeGreaterThan(0.05);
});
