import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { join } from 'node:path';
import { bundle } from './bundle';

const script = bundle(join(import.meta.dirname, 'joint-page.ts'));

async function measured<T>(page: Page, what: string, ...given: unknown[]): Promise<T> {
  await page.goto('about:blank');
  await page.addScriptTag({ content: await script });
  return page.evaluate(
    ([name, all]) => (globalThis as unknown as Record<string, (...a: unknown[]) => Promise<T>>)[name]?.(...all) as T,
    [what, given] as const,
  );
}

interface Beside {
  readonly before: number;
  readonly after: number;
  readonly across: number;
  readonly blurredPx: number;
}

test('nothing is blurred or interpolated across a joint, and a slowed shot is blurred by half', async ({ page }) => {
  const [whole, slow] = [await measured<Beside>(page, 'beside', false), await measured<Beside>(page, 'beside', true)];
  for (const { before, after, across } of [whole, slow]) {
    expect([before, after]).toEqual([0, 0]);
    expect(across).toBeGreaterThan(100); // the two shots show something else
  }
  // A pan of 40° in a second, the shutter half open: edges as wide as a 48th of a second turns; half as wide at half the speed.
  expect(whole.blurredPx).toBeGreaterThan(3);
  expect(slow.blurredPx / whole.blurredPx).toBeGreaterThan(0.35);
  expect(slow.blurredPx / whole.blurredPx).toBeLessThan(0.7);
});

/** The transfer function of sRGB and its inverse (IEC 61966-2-1). */
const light = (code: number) => (code / 255 <= 0.04045 ? code / 255 / 12.92 : ((code / 255 + 0.055) / 1.055) ** 2.4);
const code = (value: number) => 255 * (value <= 0.0031308 ? value * 12.92 : 1.055 * value ** (1 / 2.4) - 0.055);

test('a dissolve mixes light, not code values', async ({ page }) => {
  const frames = await measured<{ out: number; into: number; both: number }[]>(page, 'dissolve');
  for (const [i, { out, into, both }] of frames.entries()) {
    const weight = (i + 1) / 4;
    expect(Math.abs(into - out)).toBeGreaterThan(60);
    expect(Math.abs(both - code(light(out) * (1 - weight) + light(into) * weight)), `frame ${i}`).toBeLessThan(1.6);
  }
});
