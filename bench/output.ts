import { chromium } from '@playwright/test';
import { join } from 'node:path';
import type { GivenOrder, Project, Render, RenderOrder } from '@arvex/core';
import { FIRST_RECIPES, orderFrom } from '@arvex/core';
import { Arvex } from '../e2e/arvex';
import { bundle } from '../e2e/bundle';
import type { Line } from './measure';
import { median } from './measure';

const FLAGS = [
  ...['--no-sandbox', '--disable-quic', '--no-first-run', '--use-angle=swiftshader', '--enable-unsafe-swiftshader'],
  '--enable-precise-memory-info',
];
const ROUNDS = 3;
/** Frames of a quick preview that a round makes; and so many that memory shows whether it grows. */
const [FRAMES, MANY] = [40, 2000];

/** Times output: the loop beside drawing alone, memory over many frames, two renderers beside one. */
export async function benchOutput(): Promise<Line[]> {
  const arvex = await Arvex.start();
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: FLAGS });
  try {
    const page = await (await browser.newContext({ bypassCSP: true })).newPage();
    await page.goto(`${arvex.address}/api/health`);
    await page.addScriptTag({ content: await bundle(join(import.meta.dirname, 'output-page.ts')) });
    interface Loop {
      loop: number;
      alone: number;
      heldBefore: number;
      heldAfter: number;
    }
    const measure = async (change: Partial<RenderOrder>) => {
      const render = await given(arvex, change);
      return page.evaluate(
        (id) => (globalThis as unknown as { benchLoop: (id: string) => Promise<Loop> }).benchLoop(id),
        render.id,
      );
    };
    const rounds: Loop[] = [];
    for (let i = 0; i < ROUNDS; i++) rounds.push(await measure({ frames: range(FRAMES) }));
    const small = { size: { kind: 'typed', widthPx: 160, heightPx: 90 } } as const;
    const first = await measure({ ...small, frames: range(200) });
    const many = await measure({ ...small, what: { kind: 'cameras', cameraIds: null }, frames: range(MANY / 8) });
    return [
      {
        what: `${FRAMES} frames of a quick preview in the render loop`,
        unit: 'ms',
        value: median(rounds.map(({ loop }) => loop)),
        baseline: 'the same frames drawn and encoded alone',
        baselineValue: median(rounds.map(({ alone }) => alone)),
        budget: 'ratio under 1.18 (0.85 of its pace)',
      },
      {
        what: 'memory of the page after many frames',
        unit: 'MB',
        value: many.heldAfter,
        baseline: 'after 200',
        baselineValue: first.heldAfter,
        budget: 'ratio under 1.1',
      },
    ];
  } finally {
    await browser.close();
    await arvex.down();
  }
}

const range = (count: number) => ({ range: { first: 1001, last: 1000 + count }, step: 1, handles: false });

async function given(arvex: Arvex, change: Partial<RenderOrder>): Promise<Render> {
  const { items } = await arvex.json<{ items: { id: string }[] }>('/projects');
  const project = await arvex.json<Project>(`/projects/${items[0]?.id}`);
  const preview = orderFrom(FIRST_RECIPES[0]!, Object.keys(project.sequences)[0] ?? '');
  const answer = await fetch(`${arvex.address}/api/projects/${project.head.id}/orders`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ ...preview, ...change }),
  });
  const { renders } = (await answer.json()) as GivenOrder;
  const [render] = renders;
  if (!render) throw new Error('The order was not taken.');
  return render;
}
