import type { Page } from '@playwright/test';
import { expect } from '@playwright/test';
import type { Visit } from './arvex';
import { Hands, quickPage } from './hands';
import { test } from './shared';

test.describe.configure({ mode: 'serial' });

let arvex: Visit;
let page: Page;
let hands: Hands;

test.beforeAll(async ({ browser, served }) => {
  arvex = await served.copy();
  page = await quickPage(browser);
  hands = new Hands(page, arvex);
  await page.goto(arvex.address);
  await expect(page.getByTestId('seen')).toContainText('SL_010');
  await page.keyboard.press('4');
  await expect(lane('SL_010')).toBeVisible();
});
test.afterAll(async () => {
  await page.close();
  await arvex.leave();
});

const lane = (name: string) => page.locator(`[data-lane-shot="${name}"]`);
const shotNames = () =>
  page.locator('[data-lane-shot]').evaluateAll((all) => all.map((one) => one.getAttribute('data-lane-shot')));

interface Shot {
  readonly id: string;
  readonly name: string;
  readonly sequenceId: string;
  readonly order: string;
  readonly cameraId: string;
  readonly durationFlicks: number;
  readonly gapFlicks: number;
  readonly continues: boolean;
  readonly takeName: string;
}
interface Whole {
  readonly shots: Record<string, Shot>;
  readonly sequences: Record<string, { readonly id: string; readonly name: string }>;
  readonly cameras: Record<string, { readonly id: string; readonly number: number }>;
  readonly markers: Record<string, { readonly atFlicks: number; readonly name: string }>;
  readonly sounds: Record<string, { readonly name: string; readonly lengthS: number; readonly startFlicks: number }>;
}
const FRAME = 29_400_000;

/** The shots of a sequence as the server has them: name, number of the camera, first frame from 0, frames. */
async function cut(sequence = 'The Relight') {
  const { shots, cameras, sequences } = await hands.project<Whole>();
  const id = Object.values(sequences).find(({ name }) => name === sequence)?.id;
  let start = 0;
  return Object.values(shots)
    .filter(({ sequenceId }) => sequenceId === id)
    .sort((a, b) => (a.order < b.order ? -1 : 1))
    .map((shot) => {
      const from = start + shot.gapFlicks / FRAME;
      start = from + shot.durationFlicks / FRAME;
      return { name: shot.name, camera: cameras[shot.cameraId]?.number, from, frames: shot.durationFlicks / FRAME };
    });
}
const undone = async (what: string) => {
  await page.getByRole('button', { name: `Undo: ${what}` }).click();
};

test('a joint is pulled with both its pictures in sight, and is one step of undo', async () => {
  const before = await cut();
  const [x, y] = await hands.middleOf(lane('SL_020').locator('.pull.joint'));
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + 21, y, { steps: 4 });
  const both = page.getByTestId('two-pictures').locator('figcaption');
  await expect(both).toHaveCount(2);
  await expect(both.first()).toContainText('SL_010');
  await expect(both.last()).toContainText('SL_020');
  await page.mouse.up();
  const after = await cut();
  const by = (after[0]?.frames ?? 0) - (before[0]?.frames ?? 0);
  expect(by).toBeGreaterThan(5);
  expect(after[1]).toMatchObject({ from: (before[1]?.from ?? 0) + by, frames: (before[1]?.frames ?? 0) - by });
  expect(after.slice(2)).toEqual(before.slice(2));
  await undone(`Roll SL_010 and SL_020 by +${by} frames`);
  expect(await cut()).toEqual(before);
});

test('ends are trimmed with ripple and without, by hand and by keys; a refusal is said and changes nothing', async () => {
  const before = await cut();
  await lane('SL_030').locator('.body').click();
  await page.keyboard.press('Control+ArrowLeft');
  await page.keyboard.press('Control+ArrowLeft');
  expect((await cut()).map(({ frames }) => frames)).toEqual(
    before.map(({ frames }, i) => (i === 2 ? frames - 2 : frames)),
  );
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('e');
  await expect(page.getByRole('button', { name: 'rest stays' }).first()).toBeVisible();
  await page.keyboard.press('Control+ArrowLeft');
  const opened = await cut();
  expect(opened[3]?.from).toBe(before[3]?.from);
  await page.keyboard.press('Control+ArrowRight');
  await page.keyboard.press('Control+ArrowRight');
  await expect(page.locator('.notice')).toContainText('begins right after SL_030');
  await page.locator('.notice button').first().click();
  expect(await cut()).toEqual(before);
  await page.keyboard.press('e');
});

test('shots are divided, put elsewhere, copied, and deleted with their gap or without', async () => {
  const before = await cut();
  await lane('SL_030').locator('.body').click();
  await page.keyboard.press('d');
  await expect(lane('SL_035')).toBeVisible();
  const divided = await cut();
  expect((divided[2]?.frames ?? 0) + (divided[3]?.frames ?? 0)).toBe(before[2]?.frames);
  await lane('SL_035').locator('.body').click();
  await page.keyboard.press('Shift+Delete');
  await page.keyboard.press('4');
  await hands.card('coverage');
  await page.getByRole('button', { name: 'Close the gap' }).click();
  expect((await cut()).map(({ name }) => name)).toEqual(before.map(({ name }) => name));
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  expect(await cut()).toEqual(before);
  await lane('SL_050').locator('.body').click();
  await page.keyboard.press('Control+c');
  await lane('SL_010').locator('.body').click();
  await page.keyboard.press('Control+v');
  expect((await cut())[1]).toMatchObject({ camera: 5, frames: before[4]?.frames });
  await page.keyboard.press('Control+z');
  expect(await cut()).toEqual(before);
});

test('four cameras are cut live while the cut plays, each on the frame that was seen, as one edit', async () => {
  await page.getByTestId('sequence').click();
  await page.getByRole('menuitem', { name: 'New sequence' }).click();
  await hands.lookThrough(/^2.*Pier ride/);
  await hands.goTo(1130);
  await page.getByRole('button', { name: /Add a shot of Pier ride/ }).click();
  await expect(lane('SH_010')).toBeVisible();
  await expect(page.getByTestId('seen')).toContainText('SH_010 · the cut · Pier ride');
  await page.keyboard.press('y');
  await page.getByRole('button', { name: 'Loop' }).click();
  await page.keyboard.press('Home');
  await page.keyboard.press(' ');
  // At some frames a key is pressed in the moment in which its frame is seen.
  const strokes = await page.evaluate(async () => {
    const label = document.querySelector('[data-testid=seen]') as HTMLElement;
    const wanted = [
      [14, 1],
      [30, 3],
      [47, 8],
      [70, 2],
    ] as const;
    const made: [number, number][] = [];
    for (const [at, camera] of wanted) {
      while (Number(label.dataset['frame']) - 1001 < at) await new Promise((done) => requestAnimationFrame(done));
      made.push([Number(label.dataset['frame']) - 1001, camera]);
      const key = { key: '!"§$%&/('[camera - 1] ?? '', code: `Digit${camera}`, shiftKey: true, bubbles: true };
      document.body.dispatchEvent(new KeyboardEvent('keydown', key));
    }
    // Where time is kept and nothing new is seen before the next stroke, it falls where time is, and the one before it stays.
    document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'y', code: 'KeyY', bubbles: true }));
    const until = performance.now() + 600;
    while (performance.now() < until);
    document.body.dispatchEvent(
      new KeyboardEvent('keydown', { key: '$', code: 'Digit4', shiftKey: true, bubbles: true }),
    );
    return made;
  });
  await page.keyboard.press(' ');
  const made = await cut('Sequence 2');
  expect(made.slice(0, 5).map(({ from, camera }) => [from, camera])).toEqual([[0, 2], ...strokes]);
  const [later, before] = [made[5], strokes.at(-1)];
  expect(later?.camera).toBe(4);
  expect(later?.from).toBeGreaterThanOrEqual((before?.[0] ?? 0) + 14); // 0.6 s
  expect(later?.from).toBeLessThan((before?.[0] ?? 0) + 40);
  expect(made.reduce((sum, { frames }) => sum + frames, 0)).toBe(117); // all of the camera's move
  await page.keyboard.press('Control+z');
  expect(await cut('Sequence 2')).toHaveLength(1);
  await page.keyboard.press('Control+Shift+Z');
  expect(await cut('Sequence 2')).toHaveLength(6);
  await page.keyboard.press('y'); // every frame again
});

test('played at every frame, each shot is seen from its first frame to its last', async () => {
  const shots = await cut('Sequence 2');
  await page.keyboard.press('Home');
  await page.evaluate(() => {
    const label = document.querySelector('[data-testid=seen]') as HTMLElement;
    const seen: string[] = [];
    Object.assign(globalThis, { seenTexts: seen });
    new MutationObserver(() => seen.push(label.textContent ?? '')).observe(label, { attributeFilter: ['data-frame'] });
  });
  await page.keyboard.press(' ');
  await expect(page.getByTestId('seen')).toHaveAttribute('data-frame', '1117', { timeout: 60_000 });
  await expect(hands.button('Play')).toBeVisible();
  const texts = await page.evaluate(() => (globalThis as unknown as { seenTexts: string[] }).seenTexts);
  const played = new Map(texts.map((text) => [Number(text.split(' · ').at(-1)), text.split(' · ')[0]]));
  for (const { name, from, frames } of shots) {
    const all = Array.from(
      { length: frames },
      (_, i) => played.get(1001 + from + i) ?? (from + i === 0 ? name : undefined),
    );
    expect(all, `${name} from ${from}`).toEqual(Array.from({ length: frames }, () => name));
  }
  await page.keyboard.press('y');
});

test('a take is compared, picked and given back; a shot is slowed, and dissolves', async () => {
  await page.getByTestId('sequence').click();
  await page.getByRole('menuitemradio', { name: /The Relight/ }).click();
  const before = await cut();
  await lane('SL_040').locator('.body').click();
  await hands.card('takes');
  await page.getByRole('button', { name: /^Compare take b/ }).click();
  await expect(page.getByTestId('two-pictures').locator('canvas')).toHaveCount(2);
  await hands.button('End comparing').click();
  await page.getByRole('button', { name: /^Take b.*put it into the cut/ }).click();
  expect((await cut())[3]).toMatchObject({ camera: 5, frames: before[3]?.frames });
  await page.keyboard.press('Control+z');
  await hands.card('speed');
  await hands.type('Speed of the shot', '50');
  expect((await cut())[3]?.frames).toBe((before[3]?.frames ?? 0) * 2);
  await page.keyboard.press('Control+z');
  // A ramp's last key is dragged earlier and slower: one step of undo, and the shot is as long.
  await hands.button('Ramp the speed').click();
  const last = page.getByRole('button', { name: /^Key 2, frame/ });
  await expect(last).toHaveAccessibleName(/^Key 2, frame 94, 100 %/);
  const [x, y] = await hands.middleOf(last);
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x - 80, y + 20, { steps: 4 });
  await page.mouse.up();
  await expect(last).toHaveAccessibleName(/^Key 2, frame (6|7)\d, (5|6)\d %/);
  expect((await cut())[3]?.frames).toBe(before[3]?.frames);
  await page.keyboard.press('Control+z');
  await expect(last).toHaveAccessibleName(/^Key 2, frame 94, 100 %/);
  await page.keyboard.press('Control+z');
  await hands.card('joins');
  await page.getByRole('radio', { name: 'dissolve' }).click();
  await hands.type('Length of the transition into the shot', '16');
  await page.keyboard.press('Home');
  await hands.card('coverage');
  await expect(page.getByText('needs handles of 8')).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  expect(await cut()).toEqual(before);
});

test('sound is brought in and divided, a damaged file is refused with its reason; markers are tapped', async () => {
  await hands.card('sound');
  await expect(page.locator('.piece .words')).toHaveText('wind and bell');
  await expect.poll(() => page.locator('.piece path').getAttribute('d')).toMatch(/^M0\.5 /);
  const { sounds } = await hands.project<Whole>();
  const wav = await page.evaluate(async () => {
    const rate = 8000;
    const bytes = new Uint8Array(44 + rate * 4);
    const view = new DataView(bytes.buffer);
    [...'RIFF'].forEach((c, i) => (bytes[i] = c.charCodeAt(0)));
    [...'WAVEfmt '].forEach((c, i) => (bytes[8 + i] = c.charCodeAt(0)));
    [...'data'].forEach((c, i) => (bytes[36 + i] = c.charCodeAt(0)));
    view.setUint32(4, bytes.length - 8, true);
    view.setUint32(16, 16, true);
    view.setUint16(20, 1, true);
    view.setUint16(22, 1, true);
    view.setUint32(24, rate, true);
    view.setUint32(28, rate * 2, true);
    view.setUint16(32, 2, true);
    view.setUint16(34, 16, true);
    view.setUint32(40, rate * 4, true);
    for (let i = 0; i < rate * 2; i++) view.setInt16(44 + i * 2, Math.sin(i / 8) * 9000, true);
    return [...bytes];
  });
  const chooser = page.getByLabel('File of sound');
  await chooser.setInputFiles({ name: 'steps.wav', mimeType: 'audio/wav', buffer: Buffer.from(wav.slice(0, 30_000)) });
  await expect(page.locator('.notice').last()).toContainText(
    /steps\.wav was not brought in: The (file is cut off|sound cannot be decoded)/,
  );
  await chooser.setInputFiles({ name: 'words.wav', mimeType: 'audio/wav', buffer: Buffer.from('no sound at all') });
  await expect(page.locator('.notice').last()).toContainText('words.wav was not brought in: This is no sound');
  await chooser.setInputFiles({ name: 'steps.wav', mimeType: 'audio/wav', buffer: Buffer.from(wav) });
  await expect(page.locator('.piece .words')).toHaveCount(2);
  const brought = Object.values((await hands.project<Whole>()).sounds).find(({ name }) => name === 'steps');
  expect(brought?.lengthS).toBeCloseTo(2, 2);
  expect(Object.keys(sounds)).toHaveLength(1);
  await page.keyboard.press('Home');
  const tapped = async () => Object.values((await hands.project<Whole>()).markers).length;
  const before = await tapped();
  await page.keyboard.press(' ');
  await page.waitForTimeout(1500);
  await page.keyboard.press('m');
  await page.waitForTimeout(700);
  await page.keyboard.press('m');
  await page.keyboard.press(' ');
  expect(await tapped()).toBe(before + 2);
  await undone('Set 2 markers');
  expect(await tapped()).toBe(before);
});

test('frames follow the sound: what has been heard and what is seen stay together', async () => {
  await page.keyboard.press('Home');
  await page.keyboard.press(' ');
  await page.waitForTimeout(1000);
  const at = () =>
    page.evaluate(
      () =>
        [
          performance.now(),
          Number(document.querySelector<HTMLElement>('[data-testid=seen]')?.dataset['frame']),
        ] as const,
    );
  const first = await at();
  await page.waitForTimeout(6000);
  const last = await at();
  await page.keyboard.press(' ');
  const [seconds, frames] = [(last[0] - first[0]) / 1000, last[1] - first[1]];
  // Frames are left out here; what is seen is at most one drawn frame behind.
  expect(Math.abs(frames / 24 - seconds)).toBeLessThan(0.5);
});

test('the board puts shots in another order, and the list numbers them anew', async () => {
  const before = await cut();
  await page.keyboard.press('Shift+B');
  const tile = (name: string) => page.locator('arvex-board li', { hasText: name });
  await hands.button('Smaller pictures').click();
  await expect(tile('SL_060')).toContainText('160 f');
  const [x, y] = await hands.middleOf(tile('SL_020').locator('.picture'));
  const [toX, toY] = await hands.middleOf(tile('SL_010').locator('.picture'));
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(toX - 40, toY, { steps: 6 });
  await page.mouse.up();
  expect((await cut()).slice(0, 2).map(({ name }) => name)).toEqual(['SL_020', 'SL_010']);
  await page.keyboard.press('Control+z');
  await page.getByRole('radio', { name: 'list' }).click();
  await hands.type('Pattern of the shots’ names, # where the number goes', 'RL_##');
  await hands.button('Number').click();
  expect((await cut()).map(({ name }) => name).slice(0, 3)).toEqual(['RL_10', 'RL_20', 'RL_30']);
  const saving = page.waitForEvent('download');
  await hands.button('Save as CSV').click();
  const file = await saving;
  expect(file.suggestedFilename()).toContain('shots.csv');
  await page.keyboard.press('Control+z');
  expect(await cut()).toEqual(before);
  await page.getByRole('radio', { name: 'pictures' }).click();
  await page.keyboard.press('Shift+L');
});

test('shots are found, are grouped by scenes that fold, and what is meant is said no more', async () => {
  const before = await cut();
  await page.keyboard.press('Shift+B');
  const tile = (name: string) => page.locator('arvex-board li', { hasText: name });
  await tile('SL_020').locator('.picture').click();
  await tile('SL_040')
    .locator('.picture')
    .click({ modifiers: ['Shift'] });
  await hands.card('shot');
  await hands.type('Scene that the chosen shots belong to', '7b');
  const scene = page.locator('arvex-board').getByRole('button', { name: /Scene 7b/ });
  await scene.click();
  await expect(page.locator('arvex-board li')).toHaveCount(before.length - 2);
  await page.getByRole('searchbox', { name: /Find shots/ }).fill('scene 7b');
  await expect(page.locator('arvex-board li')).toHaveCount(3); // what is looked for is shown, folded or not
  await page.getByRole('searchbox', { name: /Find shots/ }).press('Enter');
  await expect(page.getByTestId('seen')).toContainText('SL_020');
  await page.getByRole('searchbox', { name: /Find shots/ }).fill('');

  await page
    .locator('arvex-board')
    .getByRole('button', { name: /Scene 7b/ })
    .click();
  await tile('SL_030')
    .locator('.picture')
    .click({ modifiers: ['Control'] });
  await page.keyboard.press('Home');
  await expect(page.locator('arvex-sequence-bench .astray')).toContainText('the picture shows SL_010');
  await hands.button('Edit what I see').click();
  await expect(page.locator('arvex-sequence-bench .astray')).toHaveCount(0);

  await hands.card('continuity');
  const card = page.locator('arvex-continuity-card');
  const count = async () => Number(/(\d+) to look at/.exec(await card.locator('.open').innerText())?.[1] ?? 0);
  await expect.poll(count).toBeGreaterThan(0);
  const told = await count();
  await card.getByRole('button', { name: 'meant', exact: true }).first().click();
  await expect.poll(count).toBe(told - 1);
  await card.getByRole('button', { name: 'Meant 1' }).click();
  await card.getByRole('button', { name: 'say it' }).click();
  await expect.poll(count).toBe(told);
  for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
  expect(await cut()).toEqual(before);
  await page.keyboard.press('Shift+L');
});

test('the work is shown without anything about it, and one is back where one stood', async () => {
  await hands.goTo(1100);
  await page.keyboard.press('Alt+s');
  await expect(page.locator('arvex-top-bar')).toBeHidden();
  await page.keyboard.press(' ');
  await expect(page.getByTestId('seen')).toContainText('the cut');
  await expect.poll(() => page.getByTestId('seen').getAttribute('data-frame')).not.toBe('1001');
  await page.keyboard.press(' ');
  await page.keyboard.press('Escape');
  await expect(page.locator('arvex-top-bar')).toBeVisible();
  await expect(page.getByTestId('frame-number')).toHaveText('1100');
  expect(await shotNames()).toHaveLength(8);
  // A page that is loaded anew in the middle of it comes back to the work.
  await page.keyboard.press('Alt+s');
  await expect(page.locator('arvex-top-bar')).toBeHidden();
  await page.reload();
  await expect(page.locator('arvex-top-bar')).toBeVisible();
  await expect(lane('SL_010')).toBeVisible();
  await expect(page.getByTestId('seen')).toContainText('SL_010');
});
