import { existsSync } from 'node:fs';
import { setTimeout as sleep } from 'node:timers/promises';
import type { Browser, Page } from 'playwright-core';
import type { Graphics } from './graphics';
import { BROWSER_ARGUMENTS, GRAPHICS } from './graphics';

/** Where Debian puts its browser; another one may be named. */
const CHROMIUM = ['/usr/bin/chromium', '/usr/bin/chromium-browser'];
/** Pauses before a renderer that died is started again, milliseconds: they grow while it keeps dying. */
const PAUSES_MS = [1000, 2000, 5000, 10_000, 30_000] as const;
/** One that lived so long begins with the first pause again. */
const LIVED_MS = 60_000;
/** A renderer is asked whether it lives so often, and has so long to answer: a large frame keeps only its worker busy. */
const [ASKED_MS, ANSWERS_MS] = [10_000, 30_000] as const;

/** A control picture is there within this, milliseconds. */
const CONTROL_MS = 60_000;

/** Graphics that do not draw what they are asked for. */
class DrawsWrong extends Error {}

/** Renderers without a screen on this machine: a browser each, with the same code that a tab makes frames with. */
export class RenderNodes {
  private readonly ending = new AbortController();
  private readonly running: Promise<void>[] = [];
  private readonly browsers = new Set<Browser>();

  /**
   * Starts so many, and again whichever dies.
   * @param address of this application. @throws Error when there is no browser to run them.
   */
  start(count: number, address: string, warn: (reason: string) => void): void {
    const program = CHROMIUM.find((path) => existsSync(path));
    if (count > 0 && program === undefined) {
      throw new Error(
        'Renderers need Debian’s chromium, which is not installed. Install it, or start without --renderers.',
      );
    }
    for (let number = 1; number <= count; number++) this.running.push(this.keep(number, program ?? '', address, warn));
  }

  /** Stops all of them. What they had in hand is made anew by others. */
  async close(): Promise<void> {
    this.ending.abort();
    await Promise.all([...this.browsers].map((browser) => browser.close().catch(() => undefined)));
    await Promise.all(this.running);
  }

  private async keep(number: number, program: string, address: string, warn: (reason: string) => void): Promise<void> {
    let graphics = 0;
    for (let tries = 0; !this.ending.signal.aborted; tries++) {
      const begin = Date.now();
      const way = GRAPHICS[graphics] as Graphics;
      const reason = await this.live(program, `${address}/renderer?name=node-${number}`, way).catch(
        (error: unknown) => {
          // What draws nothing, or draws it wrong, gives way to the next.
          if (error instanceof DrawsWrong && graphics + 1 < GRAPHICS.length) graphics += 1;
          return (error as Error).message.split('\n')[0];
        },
      );
      if (this.ending.signal.aborted) return;
      if (Date.now() - begin > LIVED_MS) tries = 0;
      warn(`Renderer ${number} ended: ${reason}. It is started again.`);
      const pause = PAUSES_MS[Math.min(tries, PAUSES_MS.length - 1)] as number;
      await sleep(pause, undefined, { signal: this.ending.signal }).catch(() => undefined);
    }
  }

  /** Runs one until it ends. @returns why it did. */
  private async live(program: string, address: string, graphics: Graphics): Promise<string> {
    // Only who asks for renderers has the browser's driver read in.
    const { chromium } = await import('playwright-core');
    const browser = await chromium.launch({
      executablePath: program,
      args: [...BROWSER_ARGUMENTS, ...graphics.flags],
      handleSIGINT: false,
      handleSIGTERM: false,
    });
    this.browsers.add(browser);
    try {
      if (this.ending.signal.aborted) return 'it was asked to';
      const page = await browser.newPage();
      const ended = new Promise<string>((resolve) => {
        browser.once('disconnected', () => resolve('its browser died'));
        page.once('crash', () => resolve('its page crashed'));
      });
      await page.goto(address);
      await this.mustDrawRight(page, graphics);
      return await Promise.race([ended, this.hangs(page)]);
    } finally {
      this.browsers.delete(browser);
      await browser.close().catch(() => undefined);
    }
  }

  /** Waits for the control picture that a renderer draws at its start. @throws DrawsWrong where it is not as it has to be. */
  private async mustDrawRight(page: Page, { name }: Graphics): Promise<void> {
    const told = page.locator('[data-control]');
    await told.waitFor({ timeout: CONTROL_MS, state: 'attached' }).catch(() => undefined);
    const control = await told.getAttribute('data-control', { timeout: 1000 }).catch(() => 'nothing is drawn');
    if (control !== 'right') throw new DrawsWrong(`with ${name}, its control picture is wrong (${control})`);
  }

  /** Resolves when a page does not answer any more. */
  private async hangs(page: Page): Promise<string> {
    for (;;) {
      await sleep(ASKED_MS, undefined, { signal: this.ending.signal, ref: false });
      const answers = page.evaluate('1').then(() => true);
      answers.catch(() => undefined);
      if (!(await Promise.race([answers, sleep(ANSWERS_MS, false, { ref: false })]))) return 'it did not answer';
    }
  }
}
