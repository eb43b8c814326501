import type { Page } from '@playwright/test';
import { expect } from '@playwright/test';
import type { AxeResults, RunOptions } from 'axe-core';
import axe from 'axe-core';
import type { Visit } from './arvex';
import { Hands, quickPage } from './hands';
import { test } from './shared';

const STEPS = ['Set', 'Cameras', 'Moves', 'Sequence', 'Review'];
/** Levels A and AA of WCAG 2.2, and of those before it that it holds. */
const RULES: RunOptions = {
  runOnly: { type: 'tag', values: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'] },
  resultTypes: ['violations'],
};

let arvex: Visit;
let page: Page;
let hands: Hands;

test.beforeAll(async ({ browser, served }) => {
  arvex = await served.copy();
  page = await quickPage(browser);
  hands = new Hands(page, arvex);
  await page.goto(arvex.address);
  await expect(page.getByTestId('seen')).toContainText('Gallery crane');
  await page.evaluate(axe.source);
});
test.afterAll(async () => {
  await page.close(); // one that stays draws on and asks a server that is gone, beside all tests that follow
  await arvex.leave();
});

/** What hangs on the theme. */
const CONTRAST: RunOptions = { ...RULES, runOnly: { type: 'rule', values: ['color-contrast'] } };

/** What stands against the rules in a part of the page, in words. */
async function against(part = 'body', rules = RULES): Promise<string[]> {
  const { violations } = await page.evaluate(
    ([query, options]) =>
      (globalThis as unknown as { axe: { run(part: string, options: RunOptions): Promise<AxeResults> } }).axe.run(
        query,
        options,
      ),
    [part, rules] as const,
  );
  return violations.flatMap(({ id, nodes }) =>
    nodes.map(({ html, failureSummary }) => `${id}: ${html.slice(0, 400)} — ${failureSummary ?? ''}`),
  );
}
/** What the bench cuts: numbers by their units, words by their switches, anything by the panel's edge. */
function cutOnBench(): Promise<string[]> {
  return page.evaluate(() => {
    const bench = document.querySelector('.bench');
    const edge = (bench?.getBoundingClientRect().right ?? 0) + 1;
    const parts =
      bench?.querySelectorAll<HTMLElement>('button, input, arvex-number-field input, .mat-button-toggle') ?? [];
    return [...parts].flatMap((part) => {
      const isRead = part.matches('arvex-number-field input, .mat-button-toggle');
      const words = part.querySelector<HTMLElement>('.mat-button-toggle-label-content') ?? part;
      const isCut = isRead && words.scrollWidth > part.clientWidth + 1;
      const name = part.getAttribute('aria-label') ?? part.textContent.trim();
      return isCut || part.getBoundingClientRect().right > edge ? [`cut: ${name}`] : [];
    });
  });
}
async function closed(): Promise<void> {
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
}

for (const theme of ['dark', 'light']) {
  test(`every step, card and lower view of the ${theme} theme keeps to WCAG 2.2 AA, and cuts nothing`, async () => {
    if (theme === 'light') {
      await page.keyboard.press('Control+k');
      await page.getByRole('combobox', { name: 'Find an action' }).fill('theme');
      await page.keyboard.press('Enter');
      // Until the colours have faded over, however seldom the machine makes a page meanwhile.
      await expect(page.locator('html')).toHaveAttribute('data-theme', 'light');
      await page.waitForTimeout(500);
      const fading = () => document.getAnimations().filter((one) => one instanceof CSSTransition).length;
      await expect.poll(() => page.evaluate(fading)).toBe(0);
    }
    const rules = theme === 'dark' ? RULES : CONTRAST;
    const found: Record<string, string[]> = {};
    for (const step of STEPS) {
      await page
        .getByRole('navigation')
        .getByRole('button', { name: new RegExp(step) })
        .click();
      await expect(page.locator(`.bench arvex-${step.toLowerCase()}-bench`)).toBeVisible(); // its code comes when it is shown
      found[step] = await against('body', rules);
      const cards = page.locator('.bench .open');
      for (let card = 0; card < (await cards.count()); card++) {
        const open = cards.nth(card);
        if ((await open.getAttribute('aria-expanded')) === 'false') await open.click();
        found[`${step}, ${await open.innerText()}`] = [...(await against('.bench', rules)), ...(await cutOnBench())];
      }
    }
    await page.getByRole('navigation').getByRole('button', { name: /Moves/ }).click(); // it has the most views
    await page.getByRole('tab').first().click();
    for (const view of await page.getByRole('tab').allInnerTexts()) {
      await expect(page.getByRole('tab', { name: view, exact: true, selected: true })).toBeFocused();
      await page.waitForTimeout(300); // its code comes when it is shown
      found[view] = await against('.work', rules);
      await page.keyboard.press('ArrowRight');
    }
    expect(Object.entries(found).filter(([, violations]) => violations.length > 0)).toEqual([]);
  });
}

test('every dialog keeps to WCAG 2.2 AA', async () => {
  const found: Record<string, string[]> = {};
  const look = async (name: string) => {
    await expect(page.getByRole('dialog')).toBeVisible();
    await page.waitForTimeout(300); // until it has faded in: half seen it has half the contrast
    found[name] = await against('.cdk-overlay-container');
    await closed();
  };
  await page.keyboard.press('Control+k');
  await look('search');
  await page.keyboard.press('?');
  await look('keys');
  await hands.card('lens');
  await page.getByRole('button', { name: /^Lens kit: / }).click();
  await page.getByRole('menuitemradio', { name: /Edit lens kits/ }).click();
  await look('lens kits');
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox', { name: 'Find an action' }).fill('Match other');
  await page.keyboard.press('Enter');
  await look('match');
  await page.getByRole('tab', { name: 'Cameras', exact: true }).click();
  for (const name of ['Gallery crane', 'Pier ride']) await page.getByLabel(`Compare ${name}`).check();
  await hands.button('Compare these two').click();
  await look('compare');
  await page.getByRole('navigation').getByRole('button', { name: /Moves/ }).click();
  await hands.card('add-move');
  await hands.button(/Through views/).click();
  await look('through views');

  expect(Object.entries(found).filter(([, violations]) => violations.length > 0)).toEqual([]);
});

test('what was changed in two places is asked for in a dialog that keeps to them', async () => {
  interface Whole {
    readonly head: { readonly id: string };
    readonly cameras: Record<string, { readonly id: string; readonly name: string; readonly revision: string }>;
  }
  await page
    .getByRole('navigation')
    .getByRole('button', { name: /Cameras/ })
    .click();
  const project = await hands.project<Whole>();
  const crane = Object.values(project.cameras).find(({ name }) => name === 'Gallery crane');
  await hands.lookThrough(/Gallery crane \d/);
  await page.route('**/changes', (route) => route.abort());
  const named = page.getByRole('textbox', { name: 'Name of the camera' });
  await named.fill('Crane, here');
  await named.press('Enter');
  const theirs = { op: 'patch', kind: 'camera', id: crane?.id, baseRevision: crane?.revision };
  await fetch(`${arvex.server}/api/projects/${project.head.id}/changes`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({
      id: crypto.randomUUID(),
      name: 'Rename elsewhere',
      operations: [{ ...theirs, fields: { name: 'Crane, elsewhere' } }],
    }),
  });
  await page.unroute('**/changes');
  await expect(page.getByRole('heading', { name: 'Changed in two places' })).toBeVisible();
  await page.waitForTimeout(300);
  expect(await against('.cdk-overlay-container')).toEqual([]);
  await hands.button('Put mine over it').click();
  expect((await hands.project<Whole>()).cameras[crane?.id ?? '']?.name).toBe('Crane, here');
});
