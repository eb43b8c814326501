import type { BrowserContext, Page } from '@playwright/test';
import { expect } from '@playwright/test';
import type { Project } from '@arvex/core';
import { cameraAt, camerasInOrder, variationsOf } from '@arvex/core';
import type { Visit } from './arvex';
import { Hands, quickPage } from './hands';
import { test } from './shared';

test.describe.configure({ mode: 'serial' });

let arvex: Visit;
let context: BrowserContext;
let page: Page;
let hands: Hands;

const INSIDE = 'Inside the hut';

test.beforeAll(async ({ browser, served }) => {
  arvex = await served.copy();
  context = await browser.newContext({ permissions: ['clipboard-read', 'clipboard-write'] });
  page = await quickPage(context);
  hands = new Hands(page, arvex);
  await page.goto(arvex.address);
  await page.keyboard.press('2');
});

test.afterAll(async () => {
  await context.close();
  await arvex.leave();
});

const project = () => arvex.project<Project>();
const camera = async (name = INSIDE) => camerasInOrder(await project()).find((one) => one.name === name)!;
const group = async (name: string) => Object.values((await project()).lightGroups).find((one) => one.name === name)!.id;
const copyFor = (name: string) => page.getByRole('button', { name: `A copy for ${name}` });

test('a person makes morning, noon and midnight of the hut: each keeps its own look and light', async () => {
  await hands.lookThrough(INSIDE);
  await hands.card('variations');
  await hands.button('Wear as it is').click();
  for (const [name, kelvin, stops] of [
    ['morning', '5000', '1.5'],
    ['noon', '6000', '3'],
    ['midnight', '4000', '-5'],
  ] as const) {
    // Lit, then kept: what was kept before stays as it is.
    await hands.card('look');
    await hands.type('White, typed', kelvin);
    if (name === 'morning') await copyFor(INSIDE).click();
    await hands.card('light-mix');
    await hands.type('Stops of outside, typed', stops);
    await hands.card('variations');
    await hands.type('Name of a new variation', name);
  }
  const outside = await group('outside');
  await expect
    .poll(async () => {
      const [now, one] = [await project(), await camera()];
      return variationsOf(one)
        .slice(-3)
        .map(({ id, name }) => {
          const { look, lightMix } = cameraAt(now, one.id, 0, undefined, id);
          return [name, look.white.kelvin, lightMix[outside]?.stops];
        });
    })
    .toEqual([
      ['morning', 5000, 1.5],
      ['noon', 6000, 3],
      ['midnight', 4000, -5],
    ]);
  // Worn in a press, after a reload too; and taken back.
  await hands.card('variations');
  await hands.button('Wear noon').click();
  await expect(hands.button('Wear noon')).toHaveAttribute('aria-pressed', 'true');
  await page.reload();
  await hands.card('variations');
  await expect(hands.button('Wear noon')).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('Alt+v');
  await page.getByRole('button', { name: `${INSIDE}: wear midnight` }).click();
  await expect(hands.button('Wear midnight')).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('Control+z');
  await expect(hands.button('Wear noon')).toHaveAttribute('aria-pressed', 'true');
});

test('two variations are compared by a wipe that goes with keys, and ends with Escape', async () => {
  await hands.button('Compare midnight with what is worn').click();
  const wipe = page.getByRole('slider', { name: 'Wipe between two variations' });
  await expect(wipe).toHaveAttribute('aria-valuenow', '50');
  await wipe.press('Shift+ArrowRight');
  await expect(wipe).toHaveAttribute('aria-valuenow', '60');
  await page.keyboard.press('Escape');
  await expect(wipe).toHaveCount(0);
});

test('a look that is shared says so and asks; a copy leaves the others', async () => {
  await hands.lookThrough('Pier ride');
  await hands.card('look');
  await expect(page.getByText('3 other cameras wear it too')).toBeVisible();
  await hands.type('Exposure, typed', '1');
  await expect(page.getByText(/shares the look “Saltmarsh evening” with 3 other cameras/)).toBeVisible();
  await copyFor('Pier ride').click();
  await expect
    .poll(async () => cameraAt(await project(), (await camera('Pier ride')).id, 0).look.compensationStops)
    .toBe(1);
  expect(cameraAt(await project(), (await camera('Gallery crane')).id, 0).look.compensationStops).toBe(0);
  // And back to the project's, and its own again, without losing it.
  const own = page.getByRole('switch', { name: /^Look:/ });
  await own.click();
  await expect(own).toHaveAttribute('aria-checked', 'false');
  await own.click();
  await expect
    .poll(async () => cameraAt(await project(), (await camera('Pier ride')).id, 0).look.compensationStops)
    .toBe(1);
});

test('looks go by the clipboard and by files; a broken one names its line and changes nothing', async () => {
  const before = (await camera('Pier ride')).lookId;
  await hands.menu('More of this look', 'Copy this look');
  await hands.lookThrough('Over the keeper');
  await hands.menu('More of this look', 'Paste a look, values or a light mix');
  await expect
    .poll(async () => cameraAt(await project(), (await camera('Over the keeper')).id, 0).look.compensationStops)
    .toBe(1);
  expect((await camera('Over the keeper')).lookId).not.toBe(before);
  const file = page.getByLabel('File of a look');
  const cdl = (power: string) =>
    `<ColorCorrection id="dusk">\n<SOPNode>\n<Slope>1.1 1 0.9</Slope>\n<Offset>0 0 0</Offset>\n<Power>${power}</Power>\n</SOPNode>\n</ColorCorrection>`;
  const upload = (name: string, text: string) =>
    file.setInputFiles({ name, mimeType: 'text/plain', buffer: Buffer.from(text) });
  const seen = async () => cameraAt(await project(), (await camera('Over the keeper')).id, 0).look;
  const was = await seen();
  await upload('dusk.cc', cdl('1 -1 1'));
  await expect(page.getByText(/dusk\.cc: Line 5: Power is 1 -1 1/)).toBeVisible();
  await upload('small.cube', 'LUT_3D_SIZE 2\n0 0 0\n');
  await expect(page.getByText(/small\.cube: Line 3: the file ends after 1 of 8 colours/)).toBeVisible();
  await upload('later.json', '{\n "arvex": "look",\n "form": 999\n}');
  await expect(page.getByText(/later\.json: Line 3: it was written by a newer Arvex/)).toBeVisible();
  expect(await seen()).toEqual(was);
  await upload('dusk.cc', cdl('1 1.2 1'));
  await expect.poll(async () => (await seen()).cdl).toMatchObject({ slope: [1.1, 1, 0.9], power: [1, 1.2, 1] });
  const corners = [0, 1].flatMap((b) => [0, 1].flatMap((g) => [0, 1].map((r) => `${1 - r} ${1 - g} ${1 - b}`)));
  await upload('inverted.cube', ['LUT_3D_SIZE 2', ...corners].join('\n'));
  await expect.poll(async () => (await seen()).lut?.share).toBe(1);
  const saved = page.waitForEvent('download');
  await page.getByRole('button', { name: 'More of this look' }).click();
  await page.getByRole('menuitem', { name: 'Write it to a file' }).click();
  await page.getByRole('menuitem', { name: 'Colour correction, .cc' }).click();
  expect((await saved).suggestedFilename()).toMatch(/\.cc$/);
  await expect(page.getByText(/cannot carry: compensation/)).toBeVisible();
});

test('a light group is set from the meter, seen alone, and shown from its own samples', async () => {
  await hands.lookThrough('Over the courier');
  await hands.card('light-mix');
  await page.getByRole('button', { name: 'Only lantern', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Only lantern', exact: true })).toHaveAttribute('aria-pressed', 'true');
  await page.getByRole('button', { name: 'Only lantern', exact: true }).click();
  await hands.choose(/^Light group that is set from the meter/, 'outside');
  await hands.type('Stops over the setting that the meter is to read', '-2');
  await page.locator('arvex-light-mix-card').getByRole('button', { name: 'Set', exact: true }).click();
  const outside = await group('outside');
  const stops = async () => (await camera('Over the courier')).lightMix[outside]?.stops;
  await expect.poll(stops, { timeout: 20_000 }).toBeLessThan(0);
  // The meter says so.
  await hands.card('light');
  await expect(page.getByTestId('meter')).toContainText(/2\.[01] stops under|1\.9 stops under/, { timeout: 20_000 });
});

test('three variations of a camera are rendered together, each under its name', async () => {
  await page.reload(); // what was refused is told no more
  await page.keyboard.press('5');
  await page.getByRole('button', { name: 'quick preview' }).click();
  await page.locator('.sentence').getByRole('button', { name: 'What:' }).click();
  await page.getByRole('radio', { name: 'cameras', exact: true }).click();
  const rows = page.locator('arvex-what-editor > ul > li');
  for (let i = 0; i < 8; i++) await rows.nth(i).getByRole('checkbox').uncheck();
  await page.getByRole('radio', { name: 'chosen ones' }).click();
  const all = page.locator('arvex-what-editor .variations').getByRole('checkbox');
  await expect(all).toHaveCount(6);
  for (const i of [0, 1, 2]) await all.nth(i).uncheck();
  await page.getByRole('button', { name: /^Render 3/ }).click();
  await expect(page.locator('.render')).toHaveCount(3);
  await expect
    .poll(
      async () => {
        const { head } = await project();
        const { items } = await arvex.json<{ items: { state: string; title: string }[] }>(
          `/projects/${head.id}/renders`,
        );
        return items.map(({ state, title }) => `${title}: ${state}`).sort();
      },
      { timeout: 60_000 },
    )
    .toEqual([`${INSIDE}, midnight: done`, `${INSIDE}, morning: done`, `${INSIDE}, noon: done`]);
});
