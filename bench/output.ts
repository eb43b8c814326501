import type { Browser, CDPSession } from '@playwright/test';
import { chromium } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { setTimeout as sleep } from 'node:timers/promises';
import { join } from 'node:path';
import type { GivenOrder, Project, Render, RenderOrder } from '@arvex/core';
import { FIRST_RECIPES, orderByRecipe } from '@arvex/core';
import { Arvex } from '../e2e/arvex';
import { ARGUMENTS } from '../e2e/browser';
import { bundle } from '../e2e/bundle';
import type { Line } from './measure';
import { median } from './measure';

const FLAGS = [...ARGUMENTS, '--js-flags=--expose-gc'];
const ROUNDS = 3;
/** Frames of a quick preview that a round makes; before memory is looked at, and after so many more that a leak would show. */
const [FRAMES, FIRST, MANY] = [40, 200, 2000];

/** Times output: the loop beside drawing alone, memory over many frames, two renderers beside one. */
export async function benchOutput(): Promise<Line[]> {
  return [...(await inOnePage()), await byRenderers()];
}

interface Loop {
  readonly loop: number;
  readonly alone: number;
}

async function inOnePage(): Promise<Line[]> {
  const arvex = await Arvex.start();
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: FLAGS });
  try {
    const page = await (await browser.newContext({ bypassCSP: true })).newPage();
    await page.goto(`${arvex.address}/api/health`);
    await page.addScriptTag({ content: await bundle(join(import.meta.dirname, 'output-page.ts')) });
    const measure = async (change: Partial<RenderOrder>, count: number) => {
      await given(arvex, change);
      const loop = await page.evaluate(
        (most) => (globalThis as unknown as { benchLoop: (most: number) => Promise<Loop> }).benchLoop(most),
        count,
      );
      await page.evaluate(() => (globalThis as unknown as { gc: () => void }).gc());
      return { ...loop, heldMb: await heldMb(browser) };
    };
    const rounds: Loop[] = [];
    for (let i = 0; i < ROUNDS; i++) rounds.push(await measure({ frames: range(FRAMES) }, FRAMES));
    const small = { size: { kind: 'typed', widthPx: 160, heightPx: 90 } } as const;
    const first = await measure({ ...small, frames: range(FIRST) }, FIRST);
    let made = 0;
    let held = 0;
    while (made < MANY) {
      const count = Math.min(1000, MANY - made);
      held = (await measure({ ...small, frames: range(count) }, count)).heldMb;
      made += count;
    }
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
        what: `memory of the browser after ${MANY} more frames`,
        unit: 'MB',
        value: held,
        baseline: `after ${FIRST}`,
        baselineValue: first.heldMb,
        budget: 'ratio under 1.1',
      },
    ];
  } finally {
    await browser.close();
    await arvex.down();
  }
}

/** The same order by one renderer without a screen, and by two. */
async function byRenderers(): Promise<Line> {
  const times: Record<1 | 2, number[]> = { 1: [], 2: [] };
  for (let i = 0; i < 2; i++) {
    for (const count of [1, 2] as const) {
      const arvex = await Arvex.start('--renderers', String(count));
      try {
        // All of them have drawn before it counts.
        await finished(arvex, await given(arvex, { frames: range(8 * count) }));
        const begin = performance.now();
        await finished(arvex, await given(arvex, { frames: range(160) }));
        times[count].push(performance.now() - begin);
      } finally {
        await arvex.down();
      }
    }
  }
  return {
    what: '160 frames of a quick preview by two renderers',
    unit: 'ms',
    value: median(times[2]),
    baseline: 'by one',
    baselineValue: median(times[1]),
    budget: 'ratio under 0.63 where two processors are free',
  };
}

/** Waits until all frames of a render are made. */
async function finished(arvex: Arvex, { id }: Render): Promise<void> {
  for (;;) {
    const { framesDone, frameCount } = await arvex.json<Render>(`/renders/${id}`);
    if (framesDone === frameCount) return;
    await sleep(50);
  }
}

let session: Promise<CDPSession> | undefined;

/** Memory that all processes of a browser hold, MB. */
async function heldMb(browser: Browser): Promise<number> {
  session ??= browser.newBrowserCDPSession();
  const { processInfo } = await (await session).send('SystemInfo.getProcessInfo');
  const pages = processInfo.map(({ id }) => Number(readFileSync(`/proc/${id}/statm`, 'utf8').split(' ')[1]));
  return pages.reduce((sum, count) => sum + count * 4096, 0) / 1e6;
}

const range = (count: number) => ({ range: { first: 1001, last: 1000 + count }, step: 1, handles: false });

async function given(arvex: Arvex, change: Partial<RenderOrder>): Promise<Render> {
  const { items } = await arvex.json<{ items: { id: string }[] }>('/projects');
  const project = await arvex.json<Project>(`/projects/${items[0]?.id}`);
  const preview = orderByRecipe(FIRST_RECIPES[0]!, Object.keys(project.sequences)[0] ?? '');
  const answer = await fetch(`${arvex.address}/api/projects/${project.head.id}/orders`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ ...preview, takesKept: false, ...change }),
  });
  const { renders } = (await answer.json()) as GivenOrder;
  const [render] = renders;
  if (!render) throw new Error('The order was not taken.');
  return render;
}
