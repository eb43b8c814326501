import type { Page } from '@playwright/test';
import { expect } from '@playwright/test';
import type { Visit } from './arvex';
import type { Row, Whole } from './frames';
import { distance, Frames } from './frames';
import { Hands, quickPage } from './hands';
import { difference, restingShot, shot } from './pictures';
import { test } from './shared';

test.describe.configure({ mode: 'serial' });

let arvex: Visit;
let page: Page;
let hands: Hands;
let frames: Frames;
const NEW = 'Camera 10';

test.beforeAll(async ({ browser, served }) => {
  arvex = await served.copy();
  page = await quickPage(browser);
  hands = new Hands(page, arvex);
  frames = new Frames(hands, arvex);
  await page.goto(arvex.address);
  await expect(page.getByTestId('seen')).toContainText('Gallery crane');
  await page.keyboard.press('3');
  await page.keyboard.press('n');
  await expect(page.getByTestId('camera-chip')).toContainText(NEW);
});
test.afterAll(async () => {
  await page.close();
  await arvex.leave();
});

const frameNumber = () => page.getByTestId('frame-number');
const row = (frame: number, name = NEW) => frames.row(name, frame);
const rows = (from: number, to: number, name = NEW) => frames.rows(name, from, to);
const moveOf = () => frames.move(NEW);

test('poses are marked, spaced, given legs, left out, and looking about never edits them', async () => {
  await hands.card('place');
  const places = [
    [1001, '-6', '12'],
    [1025, '-3', '11'],
    [1073, '2', '13'],
  ] as const;
  for (const [frame, east, south] of places) {
    await hands.goTo(frame);
    await hands.type('East', east);
    await hands.type('South', south);
    await hands.type('Height', '2');
    await page.keyboard.press('m');
  }
  expect((await moveOf())?.marks.map(({ name }) => name)).toEqual(['A', 'B', 'C']);
  expect((await row(1025)).x_m).toBeCloseTo(-3, 6);
  await hands.type('East', '9');
  await expect(page.getByText('its marks are untouched')).toBeVisible();
  expect((await row(1073)).x_m).toBeCloseTo(2, 6);
  await hands.button('Let it go').click();
  await hands.button('Space evenly').click();
  expect((await row(1037)).x_m).toBeCloseTo(-3, 6);
  await hands.type('Leg from A', '1');
  expect((await row(1025)).x_m).toBeCloseTo(-3, 6);
  await hands.menu('More for mark B', 'Leave out of the move');
  expect((await row(1025)).x_m).not.toBeCloseTo(-3, 1);
  await hands.menu('More for mark B', 'Take in again');
  expect((await row(1025)).x_m).toBeCloseTo(-3, 6);
});

test('automatic keying keys what is set, and says that it is on', async () => {
  await page.keyboard.press('a');
  await expect(page.getByRole('switch', { name: 'Keying everything that is set' })).toBeVisible();
  await hands.goTo(1013);
  await hands.type('roll', '4');
  expect((await row(1013)).roll_deg).toBeCloseTo(4, 6);
  await page.keyboard.press('a');
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await row(1013)).roll_deg).toBeCloseTo(0, 6);
});

test('every rig takes the camera over where it is; a rail is bent in plan; all bake to keys', async () => {
  const before = await rows(1001, 1061);
  await hands.card('rig');
  for (const kind of ['rail', 'crane', 'orbit', 'sticks']) {
    await page.getByRole('radio', { name: kind, exact: true }).click();
    await expect(page.getByText(`${NEW} on ${kind}: at most`).last()).toBeVisible();
    for (const frame of [1001, 1025, 1061]) {
      expect(distance(await row(frame), before[frame - 1001] as Row), `${kind} at ${frame}`).toBeLessThan(1e-4);
    }
  }
  await page.getByRole('radio', { name: 'rail', exact: true }).click();
  await page.getByRole('tab', { name: 'Plan' }).click();
  await hands.button('Show the whole plan').click();
  await hands.quiet();
  const node = page.getByRole('button', { name: 'Handle: node 2' });
  await expect(node).toBeVisible();
  await hands.drag(node, 0, -40);
  const bent = await row(1025);
  expect(bent.z_m).toBeLessThan((before[24] as Row).z_m - 1);
  await hands.button('Bake to keys').click();
  await expect(page.getByText(/to keys: at most 0\.00 m and 0\.0\d°/)).toBeVisible();
  expect(distance(await row(1025), bent)).toBeLessThan(0.003);
});

test('a hand is laid over the rig, the same each time, and taken away again', async () => {
  const steady = await rows(1001, 1040);
  await hands.card('hand');
  await page.getByRole('radio', { name: 'in the hand' }).click();
  await hands.choose(/^Usual hand/, 'walking');
  const held = await rows(1001, 1040);
  expect(Math.max(...held.map((one, i) => distance(one, steady[i] as Row)))).toBeGreaterThan(0.01);
  expect(await rows(1001, 1040)).toEqual(held);
  await page.getByRole('radio', { name: 'steady' }).click();
  expect(await rows(1001, 1040)).toEqual(steady);
});

test('moves are asked for by name, seen as a ghost, and made with their numbers', async () => {
  await hands.menu('More for the move', /Take the whole move away/);
  await hands.goTo(1001);
  await hands.card('add-move');
  const start = await row(1001);
  const made: readonly [string, string, (end: Row) => void][] = [
    ['Push in', '2', (end) => expect(distance(end, start)).toBeCloseTo(2, 4)],
    ['Pull out', '1', (end) => expect(distance(end, start)).toBeCloseTo(1, 4)],
    [
      'Truck',
      '-1.5',
      (end) =>
        expect([distance(end, start), end.y_m - start.y_m]).toEqual([expect.closeTo(1.5, 4), expect.closeTo(0, 4)]),
    ],
    ['Pedestal', '0.5', (end) => expect(end.y_m - start.y_m).toBeCloseTo(0.5, 4)],
    [
      'Boom',
      '1',
      (end) => expect([end.y_m - start.y_m, end.tilt_deg < start.tilt_deg]).toEqual([expect.closeTo(1, 2), true]),
    ],
    ['Pan', '30', (end) => expect(end.pan_deg - start.pan_deg).toBeCloseTo(30, 4)],
    ['Tilt', '-5', (end) => expect(end.tilt_deg - start.tilt_deg).toBeCloseTo(-5, 4)],
    ['Roll', '3', (end) => expect(end.roll_deg - start.roll_deg).toBeCloseTo(3, 4)],
    ['Zoom', '75', (end) => expect(end.focal_length_mm).toBeCloseTo(75, 4)],
    [
      'Dolly zoom',
      '70',
      (end) => expect([end.focal_length_mm, distance(end, start) > 0.5]).toEqual([expect.closeTo(70, 4), true]),
    ],
    ['Arc', '45', (end) => expect(distance(end, start)).toBeGreaterThan(1)],
  ];
  for (const [name, amount, check] of made) {
    await hands.choose(/^Move: /, new RegExp(`^${name}`));
    await hands.type('How far', amount);
    await hands.type('How long', '2');
    if (!['Pan', 'Tilt', 'Roll', 'Zoom'].includes(name)) await expect(page.getByTestId('ghost')).toBeAttached();
    await hands.button('Make this move here').click();
    await expect(frameNumber()).toHaveText('1061');
    check(await row(1061));
    await page.keyboard.press('Control+z');
    await expect.poll(async () => await moveOf()).toBeUndefined();
    await hands.goTo(1001);
  }
});

test('an orbit goes round at one speed and shows no frame twice', async () => {
  await hands.choose(/^Move: /, /^Orbit/);
  await hands.choose(/^Subject of the move/, 'mooring post');
  await hands.type('How long', '4');
  await hands.button('Make this move here').click();
  const turn = await rows(1001, 1098);
  const steps = turn.slice(1).map((one, i) => distance(one, turn[i] as Row));
  expect(Math.max(...steps) - Math.min(...steps)).toBeLessThan(1e-6);
  expect(distance(turn[96] as Row, turn[0] as Row)).toBeLessThan(1e-6);
  await page.keyboard.press('Control+z');
});

test('a move goes through saved views in the order that is chosen', async () => {
  await hands.goTo(1001);
  await hands.button(/Through views/).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Take in view A of Gallery crane').check();
  await dialog.getByLabel('Take in view B of Gallery crane').check();
  await dialog.getByLabel('Take in view A of Boat, long lens').check();
  await dialog.getByRole('radio', { name: 'even speed' }).click();
  await dialog.getByRole('button', { name: 'Go through 3 views' }).click();
  expect((await frames.camera(NEW)).rig.kind).toBe('rail');
  expect(distance(await row(1001), await row(1001, 'Gallery crane'))).toBeLessThan(1e-3);
  await expect(page.getByRole('button', { name: 'Handle: aim 2' })).toBeVisible();
});

test('keys are chosen, moved, shaped and deleted in the graph and the time table', async () => {
  await page.getByRole('tab', { name: 'Graph' }).click();
  await page.locator('.track').filter({ hasText: 'focal length' }).click();
  const keys = page.locator('[data-track=focalLength] .key');
  await expect(keys).toHaveCount(3);
  await keys.nth(1).click();
  await hands.type('Value of the key', '60');
  await expect.poll(async () => JSON.stringify((await moveOf())?.curves['focalLength']?.[1])).toContain('60');
  await hands.menu('Shape', 'hold');
  await expect.poll(async () => JSON.stringify((await moveOf())?.curves['focalLength']?.[1])).toContain('hold');
  await page.getByRole('tab', { name: 'Time table' }).click();
  await keys.nth(2).click();
  await page.keyboard.press('Delete');
  await expect(keys).toHaveCount(2);
  await page.keyboard.press('Control+z');
  await expect(keys).toHaveCount(3);
  await page.locator('.track').filter({ hasText: 'focal length' }).click();
});

test('a move is stretched and reversed, copied, and another rate keeps seconds or frames as it says', async () => {
  await hands.card('timing');
  const length = Number(await page.getByRole('textbox', { name: 'Length in frames' }).inputValue());
  const end = await row(1001 + length);
  await hands.type('Length in frames', '48');
  expect((await moveOf())?.curves['along']?.length).toBeGreaterThan(1);
  expect(distance(await row(1049), end)).toBeLessThan(0.01);
  await hands.button('Reverse the move').click();
  expect(distance(await row(1001), end)).toBeLessThan(0.01);
  await page.locator('arvex-copy-move summary').click();
  await page.getByLabel('5 Over the keeper').check();
  await page.getByRole('radio', { name: 'same places in the set' }).click();
  await hands.button('Copy to 1 camera').click();
  expect(distance(await row(1030, 'Over the keeper'), await row(1030))).toBeLessThan(0.2);
  const before = await hands.project<Whole>();
  await page.getByText('Frame rate of the project').click();
  await hands.choose(/^Frame rate/, '30 a second');
  await expect(page.getByRole('row', { name: /SL_010 126 f, 5.25 s 158 f, 5.27 s 126 f, 4.20 s/ })).toBeVisible();
  await hands.button('Change the rate to 30').click();
  const shotsOf = ({ shots }: Whole) => Object.values(shots).find(({ name }) => name === 'SL_010')?.durationFlicks ?? 0;
  expect(shotsOf(await hands.project<Whole>()) / shotsOf(before)).toBeCloseTo(1, 2);
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await hands.project<Whole>()).head.rate.frames).toBe(24);
});

test('comfort marks what strobes and stops dead, goes there, and mends it', async () => {
  await hands.menu('More for the move', /Take the whole move away/);
  await hands.goTo(1001);
  await hands.card('place');
  await page.getByRole('radio', { name: 'free', exact: true }).click();
  await hands.card('add-move');
  await hands.choose(/^Move: /, /^Pan/);
  await hands.type('How far', '90');
  await hands.type('How long', '1');
  for (const ease of ['Ease in', 'Ease out', 'Settle']) await hands.type(ease, '0');
  await hands.button('Make this move here').click();
  await hands.card('comfort');
  await expect(page.locator('.apexcharts-area').first()).toBeAttached();
  const events = page.locator('arvex-comfort-card .event');
  await expect(events.filter({ hasText: 'Strobes' })).toBeVisible();
  await events.filter({ hasText: 'Strobes' }).locator('.where').click();
  await expect(frameNumber()).toHaveText('1001');
  await hands.button('Slow to the limit').click();
  await expect(events.filter({ hasText: 'Strobes' })).toHaveCount(0);
});

test('the focus goes from the post to the courier, on the ruler and on the reel', async () => {
  await hands.lookThrough(/^3.*Boat, long lens/);
  await hands.card('rack');
  await expect(page.locator('arvex-rack-card .summary')).toHaveText('mooring post → courier rowing');
  const [near, far] = [await row(1262, 'Boat, long lens'), await row(1300, 'Boat, long lens')];
  expect(far.focus_m).toBeGreaterThan(near.focus_m + 1);
  await expect(page.locator('arvex-reel .rack')).toContainText('courier rowing');
  await hands.goTo(1300);
  await expect(page.getByTestId('focus-driver')).toContainText('courier rowing');
});

test('what moves is blurred by the open shutter in the resting picture, and not when that is off', async () => {
  await hands.lookThrough(/^2.*Pier ride/);
  await hands.goTo(1180);
  const toggle = async (what: RegExp) => {
    await hands.button('How the picture is shown').click();
    await page.getByRole('menuitemcheckbox', { name: what }).click();
    await expect(page.locator('.cdk-overlay-backdrop')).toHaveCount(0);
  };
  const rough = await restingShot(page, 'The picture');
  await toggle(/Made finer at rest/);
  await expect.poll(async () => difference(rough, await shot(page, 'The picture'))).toBeGreaterThan(0);
  const steady = await restingShot(page, 'The picture');
  await toggle(/Motion blur/);
  await expect.poll(async () => difference(steady, await shot(page, 'The picture'))).toBeGreaterThan(0.15);
  await toggle(/Motion blur/);
  await expect.poll(async () => difference(steady, await shot(page, 'The picture'))).toBeLessThan(0.05);
  await toggle(/Made finer at rest/);
});

test('playing keeps the clock by leaving frames out, says so, and every frame can be asked for', async () => {
  await page.keyboard.press('Home');
  await page.keyboard.press(' ');
  await page.waitForTimeout(2500);
  const shown = Number(await frameNumber().textContent());
  await page.keyboard.press(' ');
  expect(Math.abs(shown - 1001 - 60)).toBeLessThan(30);
  await page.keyboard.press('y');
  await expect(page.getByRole('button', { name: 'Every frame' })).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('Home');
  await page.keyboard.press(' ');
  await page.waitForTimeout(2000);
  await expect(page.locator('.rate')).toHaveAccessibleDescription(/ 0 frames left out since playing began/);
  await page.keyboard.press(' ');
  await page.keyboard.press('y');
});
