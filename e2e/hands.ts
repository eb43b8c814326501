import type { Browser, Locator, Page } from '@playwright/test';
import { expect } from '@playwright/test';
import type { Visit } from './arvex';

/** Opens a page whose resting pictures are done soon: where none are compared, refining them only takes the machine's time. */
export async function quickPage(opener: Pick<Browser, 'newPage'>): Promise<Page> {
  const page = await opener.newPage();
  await page.addInitScript(() => {
    for (const what of ['depth-of-field', 'motion-blur', 'fine-at-rest']) {
      if (localStorage.getItem(`arvex.${what}`) === null) localStorage.setItem(`arvex.${what}`, 'false');
    }
  });
  return page;
}

/** Lets the worker that draws refuse to. The first one made is the stage's; others have nothing to do with graphics. */
export function refuseWorkerGraphics(): void {
  const given = globalThis.Worker;
  let made = 0;
  globalThis.Worker = class extends given {
    constructor(address: string | URL, options?: WorkerOptions) {
      super(address, options);
      if (made++ > 0) return;
      let refused = false;
      this.postMessage = () => {
        if (refused) return; // what is cleared away later is told to nobody
        refused = true;
        throw new Error('no graphics in workers');
      };
    }
  };
}

/** Opens a page in a browser without graphics: all goes on but the pictures, which take most of a small machine's time. */
export async function pageWithoutPictures(opener: Pick<Browser, 'newPage'>): Promise<Page> {
  const page = await opener.newPage();
  await page.addInitScript(refuseWorkerGraphics);
  await page.addInitScript(() => {
    OffscreenCanvas.prototype.getContext = () => null;
  });
  return page;
}

/** What a person does with the page, and waits for. */
export class Hands {
  constructor(
    readonly page: Page,
    private readonly arvex: Visit,
  ) {}

  button(name: string | RegExp): Locator {
    return this.page.getByRole('button', { name, exact: true });
  }

  async type(label: string, text: string): Promise<void> {
    const box = this.page.getByRole('textbox', { name: label, exact: true });
    await box.fill(text);
    await box.press('Enter');
  }

  /** Chooses one of several, and waits until their menu has closed. */
  async choose(label: RegExp | string, item: string | RegExp): Promise<void> {
    await this.page.getByRole('button', { name: label }).click();
    await this.page.getByRole('menuitemradio', { name: item }).click();
    await expect(this.page.locator('.cdk-overlay-backdrop')).toHaveCount(0);
  }

  /** Does something from a menu, and waits until it has closed. */
  async menu(label: RegExp | string, item: string | RegExp): Promise<void> {
    await this.page.getByRole('button', { name: label, exact: typeof label === 'string' }).click();
    await this.page.getByRole('menuitem', { name: item }).click();
    await expect(this.page.locator('.cdk-overlay-backdrop')).toHaveCount(0);
  }

  /** Opens a card of the bench, whichever is open now. */
  async card(name: string): Promise<void> {
    const open = this.page.locator(`arvex-${name}-card .open`);
    if ((await open.getAttribute('aria-expanded')) === 'false') await open.click();
  }

  /** Looks through another camera. */
  async lookThrough(name: string | RegExp): Promise<void> {
    await this.page.getByTestId('camera-chip').click();
    await this.page.getByRole('menuitem', { name }).click();
    await expect(this.page.locator('.cdk-overlay-backdrop')).toHaveCount(0);
  }

  /** Goes to a frame of the reel by keys. */
  async goTo(frame: number): Promise<void> {
    const { keyboard } = this.page;
    const shown = this.page.getByTestId('frame-number');
    await keyboard.press('Home');
    await expect(shown).toHaveText('1001');
    const by = frame - 1001;
    for (let i = 0; i < Math.floor(by / 24); i++) await keyboard.press('Shift+ArrowRight');
    for (let i = 0; i < by % 24; i++) await keyboard.press('ArrowRight');
    await expect(shown).toHaveText(String(frame));
    // And until it is seen: where nothing is looked through there is nothing to wait for.
    if (await this.page.getByLabel('The picture', { exact: true }).isVisible())
      await expect(this.page.getByTestId('seen')).toHaveAttribute('data-frame', String(frame));
  }

  /** The middle of a place, once it rests: what was just moved is drawn a frame later. */
  async middleOf(place: Locator | string): Promise<[number, number]> {
    const locator = typeof place === 'string' ? this.page.locator(place) : place;
    const middle = async (): Promise<[number, number]> => {
      const box = (await locator.boundingBox()) ?? { x: 0, y: 0, width: 0, height: 0 };
      return [box.x + box.width / 2, box.y + box.height / 2];
    };
    let at = await middle();
    for (let tries = 0; tries < 20; tries++) {
      await this.page.evaluate(() => new Promise((drawn) => requestAnimationFrame(() => requestAnimationFrame(drawn))));
      const now = await middle();
      if (now[0] === at[0] && now[1] === at[1]) break;
      at = now;
    }
    return at;
  }

  /** Drags from a place by pixels. @param held what is done before it is released. */
  async drag(
    from: Locator | readonly [number, number],
    dx: number,
    dy: number,
    held: () => Promise<void> = () => Promise.resolve(),
  ): Promise<void> {
    const [x, y] = 'boundingBox' in from ? await this.middleOf(from) : from;
    await this.page.mouse.move(x, y);
    await this.page.mouse.down();
    await this.page.mouse.move(x + dx, y + dy, { steps: 5 });
    await held();
    await this.page.mouse.up();
  }

  /** What is said lies over the plan for a while. */
  async quiet(): Promise<void> {
    await expect(this.page.locator('.notice')).toHaveCount(0);
  }

  /** The project as the server has it, once all is saved. */
  async project<T>(): Promise<T> {
    // What was just done is on the screen two frames later.
    await this.page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))));
    await expect(this.page.getByTestId('save-state')).toContainText('saved');
    return this.arvex.project<T>();
  }
}
