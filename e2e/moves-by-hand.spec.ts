import type { Page } from '@playwright/test';
import { expect } from '@playwright/test';
import type { Visit } from './arvex';
import { distance, Frames } from './frames';
import { Hands, quickPage } from './hands';
import { test } from './shared';

test.describe.configure({ mode: 'serial' });

let arvex: Visit;
let page: Page;
let hands: Hands;
let frames: Frames;
const NEW = 'Camera 4';
/** A frame at 24 a second. */
const FRAME_FLICKS = 705_600_000 / 24;

test.beforeAll(async ({ browser, served }) => {
  arvex = await served.copy();
  await arvex.keepShots(3);
  page = await quickPage(browser);
  hands = new Hands(page, arvex);
  frames = new Frames(hands, arvex);
  await page.goto(arvex.address);
  await expect(page.getByTestId('seen')).toContainText('Gallery crane');
  await page.keyboard.press('3');
  await page.keyboard.press('n');
  await expect(page.getByTestId('camera-chip')).toContainText(NEW);
  await hands.card('place');
  for (const [frame, east, south] of [
    [1001, '-6', '12'],
    [1025, '-3', '11'],
    [1049, '2', '13'],
  ] as const) {
    await hands.goTo(frame);
    await hands.type('East', east);
    await hands.type('South', south);
    await hands.type('Height', '2');
    await page.keyboard.press('m');
  }
});
test.afterAll(async () => {
  await page.close();
  await arvex.leave();
});

const row = (frame: number, name = NEW) => frames.row(name, frame);
const track = (name: string) => page.locator('.track').filter({ hasText: name });
const keysOf = (channel: string) => page.locator(`[data-track="${channel}"] .key`);

test('a mark dragged to another place in the row is gone through at that time', async () => {
  const poses = page.locator('arvex-marks-section figure');
  const [first, last] = [await hands.middleOf(poses.nth(0)), await hands.middleOf(poses.nth(2))];
  await page.mouse.move(...last);
  await page.mouse.down();
  await page.mouse.move(last[0] - 20, last[1], { steps: 4 });
  await page.mouse.move(first[0] - 10, first[1], { steps: 12 });
  await page.mouse.up();
  await expect.poll(async () => (await row(1001)).x_m).toBeCloseTo(2, 6);
  expect([(await row(1025)).x_m, (await row(1049)).x_m]).toEqual([expect.closeTo(-6, 6), expect.closeTo(-3, 6)]);
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await row(1001)).x_m).toBeCloseTo(-6, 6);
});

test('a track gets a node by a double click, and loses it by another', async () => {
  await hands.card('rig');
  await page.getByRole('radio', { name: 'rail', exact: true }).click();
  await page.getByRole('tab', { name: 'Plan' }).click();
  await hands.button('Show the whole plan').click();
  await hands.quiet();
  const nodes = page.getByRole('button', { name: /^Handle: node / });
  await expect(nodes).toHaveCount(3);
  const before = await row(1013);
  const [x, y] = await page
    .locator('polyline.catch')
    .first()
    .evaluate((line: SVGPolylineElement) => {
      const place = line.getPointAtLength(line.getTotalLength() * 0.8).matrixTransform(line.getScreenCTM()!);
      return [place.x, place.y] as const;
    });
  await page.mouse.dblclick(x, y);
  await expect(nodes).toHaveCount(4);
  expect(distance(await row(1013), before)).toBeLessThan(0.3);
  await hands.quiet();
  await nodes.nth(2).dblclick();
  await expect(nodes).toHaveCount(3);
});

test('a rig is moved by its handles in the free view: over the floor, and up with Shift', async () => {
  await page.getByRole('tab', { name: 'Free view' }).click();
  const handle = page.locator('arvex-rig-overlay').getByRole('button', { name: 'Handle: node 2' });
  await expect(handle).toBeVisible();
  await hands.quiet();
  const nodeOf = async () => (await frames.camera(NEW)).rig.nodesM?.[1] ?? [];
  const before = await nodeOf();
  await hands.drag(handle, 30, 0);
  const moved = await nodeOf();
  expect(Math.hypot((moved[0] ?? 0) - (before[0] ?? 0), (moved[2] ?? 0) - (before[2] ?? 0))).toBeGreaterThan(0.1);
  expect(moved[1]).toBeCloseTo(before[1] ?? NaN, 9);
  await page.keyboard.down('Shift');
  await hands.drag(handle, 0, -25);
  await page.keyboard.up('Shift');
  const lifted = await nodeOf();
  expect(lifted[1]).toBeGreaterThan((moved[1] ?? 0) + 0.1);
  expect([lifted[0], lifted[2]]).toEqual([expect.closeTo(moved[0] ?? NaN, 9), expect.closeTo(moved[2] ?? NaN, 9)]);
});

test('a camera that follows goes where its subject goes, later by its lag', async () => {
  await page.getByRole('radio', { name: 'follow', exact: true }).click();
  await hands.choose(/^Subject that is followed/, 'courier rowing');
  await page.getByRole('radio', { name: 'world', exact: true }).click();
  await hands.menu('More for the move', /Take the whole move away/);
  await hands.type('Lag', '0');
  const close = await frames.rows(NEW, 1100, 1200);
  expect(distance(close[0]!, close[100]!)).toBeGreaterThan(1);
  await hands.type('Lag', '0.5');
  const late = await frames.rows(NEW, 1100, 1200);
  // Half a second behind: about where it would have been twelve frames before.
  const behind = distance(late[80]!, close[80]!);
  expect(behind).toBeGreaterThan(0.1);
  expect(distance(late[80]!, close[68]!)).toBeLessThan(behind / 3);
  await hands.type('Offset up', '3');
  const { y_m: height } = await row(1150);
  await hands.type('Offset up', '4');
  expect((await row(1150)).y_m - height).toBeCloseTo(1, 6);
});

test('EV and a light group are keyed from the graph as they are, and then change', async () => {
  await page.getByRole('radio', { name: 'sticks', exact: true }).click();
  await hands.goTo(1001);
  await page.getByRole('tab', { name: 'Graph' }).click();
  const before = await row(1001);
  await hands.menu(/Key a channel/, 'EV');
  await hands.goTo(1049);
  await track('EV').click();
  await expect(keysOf('ev')).toHaveCount(1);
  const same = await row(1049);
  expect([same.ev, same.nd_stops]).toEqual([expect.closeTo(before.ev, 6), expect.closeTo(before.nd_stops, 6)]);
  await page.locator('[data-track="ev"] .catch').first().dblclick({ force: true });
  await expect(keysOf('ev')).toHaveCount(2);
  await keysOf('ev').nth(1).click();
  await hands.type('Value of the key', String(before.ev + 2));
  const after = await frames.rows(NEW, 1001, 1120);
  expect(after.at(-1)!.ev).toBeCloseTo(before.ev + 2, 4);
  expect(after[0]!.ev).toBeCloseTo(before.ev, 4);

  const lamp = Object.values(
    (await hands.project<{ lightGroups: Record<string, { id: string; name: string }> }>()).lightGroups,
  )[0]!;
  await hands.menu(/Key a channel/, `light: ${lamp.name}`);
  await expect.poll(async () => (await frames.move(NEW))?.curves[`light:${lamp.id}`]?.[0]?.value).toBeDefined();
});

test('keys are chosen with a box, get free handles that are dragged, and are pasted on another camera', async () => {
  await hands.menu('More for the move', /Take the whole move away/);
  await hands.goTo(1001);
  await hands.card('add-move');
  await hands.choose(/^Move: /, /^Pan/);
  await hands.type('How far', '40');
  await hands.type('How long', '2');
  await hands.button('Make this move here').click();
  await expect(page.getByTestId('frame-number')).toHaveText('1061');
  await track('pan').click();
  await hands.button('Show all of the move').click();
  const graph = page.getByRole('application', { name: 'Graph of the curves' });
  const box = (await graph.boundingBox())!;
  await hands.drag([box.x + 4, box.y + 26], box.width - 8, box.height - 30);
  await expect(page.locator('arvex-key-bar').getByText(/^\d+ keys$/)).toBeVisible();
  const count = await keysOf('pan').count();
  await expect(page.locator('arvex-key-bar').getByText(`${count} keys`)).toBeVisible();
  await page.keyboard.press('Control+c');

  await keysOf('pan').first().click();
  await hands.menu('Shape', 'free handles');
  const straight = await row(1013);
  await hands.drag(page.getByRole('button', { name: 'Handle out' }), 0, -30);
  expect((await row(1013)).pan_deg).not.toBeCloseTo(straight.pan_deg, 0);
  // A key is dragged by whole frames, and taken back.
  const framesOf = async () => (await frames.move(NEW))?.curves['pan']?.map((key) => key.atFlicks / FRAME_FLICKS) ?? [];
  const before = await framesOf();
  await hands.drag(keysOf('pan').last(), -60, 0);
  const after = await framesOf();
  expect(after.at(-1)).toBeLessThan((before.at(-1) ?? 0) - 1);
  expect(after.at(-1)).toBe(Math.round(after.at(-1) ?? 0));
  await page.keyboard.press('Control+z');

  await hands.lookThrough(/^2.*Pier ride/);
  await hands.goTo(1101);
  const other = await frames.move('Pier ride');
  await graph.focus();
  await page.keyboard.press('Control+v');
  await expect
    .poll(async () => (await frames.move('Pier ride'))?.curves['pan']?.length ?? 0)
    .toBeGreaterThan(other?.curves['pan']?.length ?? 0);
  await page.keyboard.press('Control+z');
  await hands.lookThrough(new RegExp(`^4.*${NEW}`));
});

test('a speed ramp keeps both ends and changes what is between them', async () => {
  await hands.card('timing');
  const before = await frames.rows(NEW, 1001, 1061);
  await hands.type('Speed at the start', '0');
  await hands.type('Speed at the end', '200');
  await hands.button('Ramp').click();
  await expect(track('time of the move')).toBeVisible();
  const after = await frames.rows(NEW, 1001, 1061);
  const at = (rows: typeof after, i: number) => rows[i]?.pan_deg ?? NaN;
  expect([at(after, 0), at(after, 60)]).toEqual([expect.closeTo(at(before, 0), 6), expect.closeTo(at(before, 60), 6)]);
  // Evenly from none to twice the speed: halfway in time a quarter of the move is gone.
  expect(at(after, 30)).toBeCloseTo(at(before, 15), 2);
  await page.keyboard.press('Control+z');
});

test('a copy from where each stands goes as far from there', async () => {
  const [from, to] = [await row(1001), await row(1061)];
  const there = await row(1001, 'Pier ride');
  await page.locator('arvex-copy-move summary').click();
  await page.getByLabel('2 Pier ride').check();
  await page.getByRole('radio', { name: 'from where each stands' }).click();
  await hands.button('Copy to 1 camera').click();
  const [first, last] = [await row(1001, 'Pier ride'), await row(1061, 'Pier ride')];
  expect(distance(first, there)).toBeLessThan(1e-6);
  expect(first.pan_deg).toBeCloseTo(there.pan_deg, 6);
  // The other camera is held in the hand, which strays a little by itself.
  expect(Math.abs(last.pan_deg - first.pan_deg - (to.pan_deg - from.pan_deg))).toBeLessThan(0.1);
  await page.keyboard.press('Control+z');
});

test('a sudden stop is settled by its button', async () => {
  await hands.menu('More for the move', /Take the whole move away/);
  await hands.goTo(1001);
  await hands.card('add-move');
  await hands.choose(/^Move: /, /^Truck/);
  await hands.type('How far', '3');
  await hands.type('How long', '2');
  for (const ease of ['Ease in', 'Ease out', 'Settle']) await hands.type(ease, '0');
  await hands.button('Make this move here').click();
  await hands.card('comfort');
  const stop = page.locator('arvex-comfort-card .event').filter({ hasText: 'Stops suddenly' });
  await expect(stop).toBeVisible();
  const end = await row(1061);
  await stop.getByRole('button', { name: 'Settle this stop' }).click();
  await expect(stop).toHaveCount(0);
  expect(distance(await row(1100), end)).toBeLessThan(0.5);
});

test('the aim of a move through views is edited in plan, with the camera left alone', async () => {
  await hands.card('add-move');
  await hands.button(/Through views/).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Take in view A of Gallery crane').check();
  await dialog.getByLabel('Take in view B of Gallery crane').check();
  await dialog.getByLabel('Take in view A of Boat, long lens').check();
  await dialog.getByRole('button', { name: 'Go through 3 views' }).click();
  await page.getByRole('tab', { name: 'Plan' }).click();
  await hands.button('Show the whole plan').click();
  await hands.quiet();
  const before = await frames.rows(NEW, 1001, 1120);
  await hands.drag(page.getByRole('button', { name: 'Handle: aim 2' }), -40, 25);
  const after = await frames.rows(NEW, 1001, 1120);
  expect(Math.max(...after.map((one, i) => distance(one, before[i]!)))).toBeLessThan(1e-9);
  expect(Math.max(...after.map((one, i) => Math.abs(one.pan_deg - before[i]!.pan_deg)))).toBeGreaterThan(0.5);
});
