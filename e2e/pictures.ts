import type { Page } from '@playwright/test';
import { expect } from '@playwright/test';
import { execFileSync } from 'node:child_process';

/** A picture as 8-bit grey values. */
export interface Grey {
  readonly width: number;
  readonly height: number;
  readonly pixels: Buffer;
}

/** Reads a PNG with ffmpeg: an independent reader. */
export function greyOf(png: Buffer): Grey {
  const probe = ['-v', 'error', '-show_entries', 'stream=width,height', '-of', 'csv=p=0', '-'];
  const size = execFileSync('ffprobe', probe, { input: png, encoding: 'utf8' });
  const [width, height] = size.trim().split(',').map(Number) as [number, number];
  const decode = ['-v', 'error', '-i', '-', '-f', 'rawvideo', '-pix_fmt', 'gray', '-'];
  return { width, height, pixels: execFileSync('ffmpeg', decode, { input: png, maxBuffer: 1 << 28 }) };
}

/** Mean absolute difference of two pictures of one size, 0 to 255. */
export function difference(a: Grey, b: Grey): number {
  if (a.width !== b.width || a.height !== b.height)
    throw new Error(`${a.width} × ${a.height} and ${b.width} × ${b.height}`);
  let sum = 0;
  for (let i = 0; i < a.pixels.length; i++) sum += Math.abs((a.pixels[i] ?? 0) - (b.pixels[i] ?? 0));
  return sum / a.pixels.length;
}

/** Standard deviation of a picture's values: near 0 for an empty one. */
export function contrast({ pixels }: Grey): number {
  const mean = pixels.reduce((sum, value) => sum + value, 0) / pixels.length;
  return Math.sqrt(pixels.reduce((sum, value) => sum + (value - mean) ** 2, 0) / pixels.length);
}

/** What a part of the page shows now. */
export async function shot(page: Page, label: string): Promise<Grey> {
  return greyOf(await page.getByLabel(label, { exact: true }).screenshot());
}

/** What a part of the page shows once it no longer changes: drawn, and refined to its end. */
export async function restingShot(page: Page, label: string): Promise<Grey> {
  let before = await shot(page, label);
  await expect
    .poll(
      async () => {
        const now = await shot(page, label);
        const change = difference(before, now);
        before = now;
        return change;
      },
      { intervals: [1500], timeout: 60_000 },
    )
    .toBe(0);
  return before;
}
