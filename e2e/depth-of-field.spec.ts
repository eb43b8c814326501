import { expect, test } from '@playwright/test';
import { join } from 'node:path';
import type { Disc } from './blur-page';
import { bundle } from './bundle';

const WIDTH_PX = 1920;
const BACK_MM = 24.89;

const DISCS: readonly Disc[] = [
  { focalLengthMm: 24, fStop: 1.4, focusM: 1, objectM: 4 },
  { focalLengthMm: 35, fStop: 2.8, focusM: 2, objectM: 12 },
  { focalLengthMm: 50, fStop: 2, focusM: 3, objectM: 9 },
  { focalLengthMm: 50, fStop: 5.6, focusM: 1.2, objectM: 6 },
  { focalLengthMm: 85, fStop: 2.8, focusM: 5, objectM: 2.5 },
  { focalLengthMm: 135, fStop: 4, focusM: 4, objectM: 20 },
];

test('the disc of a point light is as large as the blur circle of a thin lens', async ({ page }) => {
  await page.goto('about:blank');
  await page.addScriptTag({ content: await bundle(join(import.meta.dirname, 'blur-page.ts')) });
  for (const disc of DISCS) {
    const { focalLengthMm: f, fStop, focusM, objectM } = disc;
    const [focus, object] = [focusM * 1000, objectM * 1000];
    // By similar triangles through the lens: image distances, and the cone from the pupil cut at the film.
    const [film, image] = [1 / (1 / f - 1 / focus), 1 / (1 / f - 1 / object)];
    const predicted = ((f / fStop) * Math.abs(film - image) * WIDTH_PX) / (image * BACK_MM);
    const measured = await page.evaluate(
      ([given, px]) =>
        (globalThis as unknown as { discPx: (d: Disc, px: number) => Promise<number> }).discPx(given, px),
      [disc, predicted] as const,
    );
    const error = Math.abs(measured - predicted);
    expect(error, `${f} mm ƒ${fStop}: ${measured} px of ${predicted} px`).toBeLessThan(Math.max(1, predicted * 0.03));
  }
});
