import { chromium } from '@playwright/test';
import { join } from 'node:path';
import { Arvex } from '../e2e/arvex';
import { bundle } from '../e2e/bundle';
import type { Line } from './measure';
import { median } from './measure';
import type { StageFigures } from './stage-page';

const FLAGS = [
  '--no-sandbox',
  '--disable-quic',
  '--no-first-run',
  '--use-angle=swiftshader',
  '--enable-unsafe-swiftshader',
];
const LOADS = 5;

/** Times the first screen and the picture in Debian's Chromium with software graphics. */
export async function benchBrowser(): Promise<Line[]> {
  const arvex = await Arvex.start();
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: FLAGS });
  try {
    const context = await browser.newContext({ bypassCSP: true, viewport: { width: 1280, height: 800 } });
    const page = await context.newPage();
    const usable: number[] = [];
    let scriptBytes = 0;
    page.on('response', (response) => {
      if (response.url().endsWith('.js') && usable.length === 0)
        scriptBytes += Number(response.headers()['content-length'] ?? 0);
    });
    const blank: number[] = [];
    for (let i = 0; i < LOADS; i++) {
      const begin = performance.now();
      await page.goto(arvex.address);
      await page.getByTestId('seen').getByText('SL_010').waitFor();
      usable.push(performance.now() - begin);
      const bare = performance.now();
      await page.goto(`${arvex.address}/api/health`);
      blank.push(performance.now() - bare);
    }
    await page.goto(arvex.address);
    const { items } = await arvex.json<{ items: { id: string }[] }>('/projects');
    const project = await arvex.json(`/projects/${items[0]?.id ?? ''}`);
    await page.addScriptTag({ content: await bundle(join(import.meta.dirname, 'stage-page.ts')) });
    const drawn = await page.evaluate(
      (given) => (globalThis as unknown as { benchStage: (p: unknown) => Promise<StageFigures> }).benchStage(given),
      project,
    );
    return [
      {
        what: 'one sample of the demo, 960 × 540',
        unit: 'ms',
        value: drawn.demo.still,
        baseline: 'bare three.js frame of the same scene and lights, no sky',
        baselineValue: drawn.demo.bareStill,
      },
      {
        what: 'the demo while a piece is dragged, 960 × 540',
        unit: 'ms',
        value: drawn.demo.ours,
        baseline: 'bare three.js frame, one mesh and its shadow moved',
        baselineValue: drawn.demo.bare,
        budget: 'ratio under 2',
      },
      {
        what: '1 000 pieces while one is dragged',
        unit: 'ms',
        value: drawn.blocks.ours,
        baseline: 'bare three.js, the same forms as single meshes',
        baselineValue: drawn.blocks.bare,
        budget: 'ratio under 2',
      },
      {
        what: 'draw calls of 1 000 pieces',
        unit: 'calls',
        value: drawn.blocks.calls,
        baseline: 'one for each piece',
        baselineValue: 1000,
        budget: 'under 60',
      },
      {
        what: 'the demo, another of 50 cameras each time',
        unit: 'ms',
        value: drawn.switching.changing,
        baseline: 'the same camera',
        baselineValue: drawn.switching.same,
        budget: 'ratio near 1',
      },
      {
        what: 'the demo while a lens is turned',
        unit: 'ms',
        value: drawn.switching.turned,
        baseline: 'the same camera, untouched',
        baselineValue: drawn.switching.same,
        budget: 'ratio under 2',
      },
      {
        what: 'pick in two million triangles',
        unit: 'ms',
        value: drawn.picking.ours,
        baseline: 'three.js raycast',
        baselineValue: drawn.picking.bare,
        budget: 'under 5',
      },
      {
        what: 'first picture from a warm server',
        unit: 'ms',
        value: median(usable),
        baseline: 'an empty page of the same server',
        baselineValue: median(blank),
        budget: 'under 3 000',
      },
      {
        what: 'script up to the first picture, compressed',
        unit: 'kB',
        value: scriptBytes / 1000,
        baseline: 'budget',
        baselineValue: 500,
        budget: 'under 500',
      },
    ];
  } finally {
    await browser.close();
    await arvex.down();
  }
}
