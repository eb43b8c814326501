import { expect, test } from '@playwright/test';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { bundle } from './bundle';

interface Held {
  readonly geometries: number;
  readonly textures: number;
}
interface InPage {
  heldOver(bytes: number[], turns: number): Promise<{ held: Held[]; left: Held; offers: number }>;
  afterLoss(bytes: number[]): Promise<{ told: boolean[]; lit: number; graphics: string; apart: number }>;
}

test.beforeEach(async ({ page }) => {
  await page.goto('about:blank');
  await page.addScriptTag({ content: await bundle(join(import.meta.dirname, 'graphics-page.ts')) });
});
const crate = async () => [...(await readFile(join(import.meta.dirname, '../demo/made/crate.glb')))];

test('forty imports and renders leave the graphics holding no more than one', async ({ page }) => {
  const turns = 40;
  const { held, left, offers } = await page.evaluate(
    ([bytes, count]) => (globalThis as unknown as InPage).heldOver(bytes, count),
    [await crate(), turns] as const,
  );
  expect(held).toHaveLength(turns);
  // The same kinds of pieces stand there every `offers` turns: what they take is what they took before.
  for (let turn = offers; turn < turns; turn++) expect([turn, held[turn]]).toEqual([turn, held[turn - offers]]);
  expect(left.geometries).toBeLessThan(held[0]?.geometries ?? 0);
  expect(left.textures).toBeLessThan(held[0]?.textures ?? 0);
});

test('graphics that were lost come back with the same picture', async ({ page }) => {
  const { told, lit, graphics, apart } = await page.evaluate(
    (bytes) => (globalThis as unknown as InPage).afterLoss(bytes),
    await crate(),
  );
  expect(told).toEqual([true, false]);
  expect(lit).toBeGreaterThan(0);
  expect(apart).toBe(0);
  // By the name of what draws, not by one that all browsers of a kind give: renderers are told apart by it.
  expect(graphics).toMatch(/^ANGLE \(.+/);
});
