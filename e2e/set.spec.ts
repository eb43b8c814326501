import { writeFile } from 'node:fs/promises';
import type { Locator, Page } from '@playwright/test';
import { expect } from '@playwright/test';
import type { Visit } from './arvex';
import { quickPage } from './hands';
import { difference, restingShot, shot } from './pictures';
import { block, largeFloor, slidingBlock } from './set-geometry';
import { test } from './shared';

interface Placed {
  readonly id: string;
  readonly name: string;
  readonly positionM: [number, number, number];
  readonly parentId: string | null;
  readonly piece: { kind: string };
}
interface Whole {
  readonly head: { id: string };
  readonly placements: Record<string, Placed>;
  readonly cameras: Record<string, { id: string; name: string; pose: { positionM: number[]; panDeg: number } }>;
}

test.describe.configure({ mode: 'serial' });

let arvex: Visit;
let page: Page;

test.beforeAll(async ({ browser, served }) => {
  arvex = await served.empty();
  page = await quickPage(browser);
  await page.goto(arvex.address);
  await page.keyboard.press('f');
  await page.getByRole('button', { name: 'Make camera from this view' }).click();
  await page.keyboard.press('1');
});
test.afterAll(async () => {
  await page.close();
  await arvex.leave();
});

const field = (label: string) => page.getByLabel(label, { exact: true });
const things = () => page.getByRole('treeitem');
const thing = (name: string) => things().filter({ has: page.getByText(name, { exact: true }) });
const dismiss = () => page.getByRole('alert').getByRole('button', { name: 'Dismiss' }).click();
async function saved(): Promise<void> {
  // What was just done is on the screen two frames later.
  await page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))));
  await expect(page.getByTestId('save-state')).toContainText('saved');
}
async function type(label: string, text: string): Promise<void> {
  await field(label).fill(text);
  await field(label).press('Enter');
}
async function bringIn(...files: { name: string; buffer: Buffer }[]): Promise<void> {
  await page
    .getByLabel('Files for the set')
    .setInputFiles(files.map((file) => ({ ...file, mimeType: 'application/octet-stream' })));
}
async function placements(): Promise<Placed[]> {
  await saved();

  return Object.values((await arvex.project<Whole>()).placements);
}
const named = async (name: string) => (await placements()).find((one) => one.name === name);
/** Chooses from a menu, and waits until it has closed. */
async function choose(button: RegExp | string, item: string): Promise<void> {
  await page.getByRole('button', { name: button }).click();
  await page.getByRole('menuitemradio', { name: item, exact: true }).click();
  await expect(page.locator('.cdk-overlay-backdrop')).toHaveCount(0);
}
/** Puts a piece at a place of the plan, given as share of its width and height. */
async function put(name: string, x: number, y: number): Promise<void> {
  await page.getByRole('button', { name: 'Put in the set' }).click();
  await page.getByRole('menuitem', { name, exact: true }).click();
  await expect(page.locator('.cdk-overlay-backdrop')).toHaveCount(0);
  const [px, py] = await inPlan(x, y);
  await page.mouse.click(px, py);
  await expect(page.getByText(/^Click where the/)).toHaveCount(0);
}
const plan = (): Locator => page.locator('arvex-plan');
async function inPlan(x: number, y: number): Promise<[number, number]> {
  const box = (await plan().boundingBox()) ?? { x: 0, y: 0, width: 0, height: 0 };
  return [box.x + box.width * x, box.y + box.height * y];
}

test('a file that is not geometry is refused in words, and the set stays', async () => {
  await bringIn({ name: 'boat.glb', buffer: Buffer.from('not a boat') });
  await expect(
    page.getByRole('alert').filter({ hasText: 'boat.glb was not brought in: This is not a GLB file' }),
  ).toBeVisible();
  await dismiss();
  await bringIn({ name: 'notes.txt', buffer: Buffer.from('not a boat') });
  await expect(page.getByRole('alert').filter({ hasText: 'bring in GLB, glTF, OBJ' })).toBeVisible();
  await dismiss();
  await expect(things()).toHaveCount(0);
});

test('a file made in centimetres is seen to be too large, and mended with one click', async () => {
  await bringIn({ name: 'statue.glb', buffer: (await block(60, 182, 40)).glb });
  await expect(page.getByText('60.00 m × 182.00 m × 40.00 m · 12 triangles')).toBeVisible();
  await expect(page.getByText('Taken in cm it is 1.82 m at its longest')).toBeVisible();
  await expect(page.getByText('statue has an unlikely size')).toBeVisible();
  await page.getByRole('group', { name: 'Unit in which the file was made' }).getByText('cm').click();
  await expect(page.getByText('0.60 m × 1.82 m × 0.40 m')).toBeVisible();
  await expect(page.getByText('statue has an unlikely size')).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo: Take in cm: statue' }).click();
  await expect(page.getByText('60.00 m × 182.00 m')).toBeVisible();
  await page.getByRole('button', { name: 'Redo: Take in cm: statue' }).click();
});

test('glTF comes with its files or not at all; OBJ comes with its MTL, and a wrong line is named', async () => {
  const { json, resources } = await block(2, 1, 2);
  const gltf = { name: 'stage.gltf', buffer: Buffer.from(JSON.stringify(json)) };
  const parts = Object.entries(resources).map(([name, bytes]) => ({ name, buffer: Buffer.from(bytes) }));
  await bringIn(gltf);
  await expect(
    page.getByRole('alert').filter({ hasText: /stage.gltf needs \S+ \(at \/buffers\/0\/uri\)/ }),
  ).toBeVisible();
  await dismiss();
  await bringIn(gltf, ...parts);
  await expect(thing('stage')).toBeVisible();

  const corners = 'v 0 0 0\nv 1 0 0\nv 0 2 0\n';
  const mtl = { name: 'sail.mtl', buffer: Buffer.from('newmtl cloth\nKd 0.8 0.2 0.1\n') };
  await bringIn({ name: 'sail.obj', buffer: Buffer.from(`${corners}f 1 2 9\n`) });
  await expect(page.getByRole('alert').filter({ hasText: 'Line 4: a face asks for corner 9 of 3' })).toBeVisible();
  await dismiss();
  await bringIn({ name: 'sail.obj', buffer: Buffer.from(`mtllib sail.mtl\n${corners}usemtl cloth\nf 1 2 3\n`) }, mtl);
  await expect(thing('sail')).toBeVisible();
  await expect(page.getByText('1.00 m × 2.00 m × 0.00 m · 1 triangle')).toBeVisible();
  await expect(things()).toHaveCount(3);
});

test('a room with a doorway and two figures is blocked from pieces', async () => {
  await page.keyboard.press('p');
  await put('Ground', 0.5, 0.5);
  await put('Wall with a doorway', 0.5, 0.35);
  await type('Length', '18ft');
  await expect(field('Length')).toHaveValue('5.49');
  await put('Wall', 0.4, 0.5);
  await type('Turn', '90');
  await put('Figure, standing', 0.5, 0.6);
  await type('Stature', '1.82');
  await expect(page.getByText('eyes 1.70 m')).toBeVisible();
  await put('Figure, sitting', 0.6, 0.6);
  const all = await placements();
  expect(all.filter(({ piece }) => piece.kind === 'figure')).toHaveLength(2);
  expect(all.find(({ name }) => name === 'figure')?.positionM[1]).toBeCloseTo(0, 6);
  // Both figures are flagged on the focus ruler when the free view looks at them.
  await thing('figure').locator('.thing').click();
  await thing('figure 2')
    .locator('.thing')
    .click({ modifiers: ['Control'] });
  await page.keyboard.press('t');
  await expect(page.locator('arvex-focus-ruler').getByText(/figure/)).toHaveCount(2);
});

test('pieces are moved by their handles, aligned, grouped, copied in a line and taken out again', async () => {
  await thing('figure').locator('.thing').click();
  await page.keyboard.press('t'); // free view to it
  const before = (await named('figure'))?.positionM ?? [0, 0, 0];
  const east = page.locator('arvex-free-view [data-handle=east] circle');
  const grip = (await east.boundingBox()) ?? { x: 0, y: 0, width: 0, height: 0 };
  await page.mouse.move(grip.x + grip.width / 2, grip.y + grip.height / 2);
  await page.mouse.down();
  await page.mouse.move(grip.x + 60, grip.y, { steps: 5 });
  await page.mouse.up();
  await expect(page.getByRole('button', { name: 'Undo: Move figure' })).toBeVisible();
  const moved = (await named('figure'))?.positionM ?? [0, 0, 0];
  expect(Math.abs(moved[0] - before[0])).toBeGreaterThan(0.09);
  expect([moved[1], moved[2]]).toEqual([before[1], before[2]]);
  expect(Math.abs(((moved[0] - before[0]) / 0.1) % 1)).toBeCloseTo(Math.abs((moved[0] - before[0]) / 0.1) % 1, 6);

  await thing('figure 2')
    .locator('.thing')
    .click({ modifiers: ['Control'] });
  await page.getByRole('button', { name: 'Align middle along south' }).click();
  await page.keyboard.press('Control+g');
  await expect(thing('group')).toBeVisible();
  const group = await named('group');
  expect((await placements()).filter(({ parentId }) => parentId === group?.id)).toHaveLength(2);
  await page.getByRole('button', { name: 'Copies along a line' }).click();
  await type('Number of copies', '3');
  await type('Step east', '2.5');
  await page.getByRole('button', { name: 'Make 3' }).click();
  expect((await placements()).filter(({ piece }) => piece.kind === 'figure')).toHaveLength(8);
  await page.keyboard.press('Control+z');
  expect((await placements()).filter(({ piece }) => piece.kind === 'figure')).toHaveLength(2);
  await page.getByRole('button', { name: 'Ungroup' }).click();
  expect((await placements()).filter(({ parentId }) => parentId !== null)).toHaveLength(0);
});

test('a low sun changes the picture, and so does the light mix of one camera', async () => {
  await page.keyboard.press('p');
  const noon = await shot(page, 'The picture');
  await page.getByRole('button', { name: /^Sun and sky/ }).click();
  await type('Elevation of the sun', '2');
  await expect(field('Sunlight')).toHaveValue('3000');
  await expect.poll(async () => difference(noon, await shot(page, 'The picture'))).toBeGreaterThan(15);
  await page.getByRole('radio', { name: 'place and time' }).click();
  await type('Latitude', '54');
  await field('Local time').fill('2026-06-21T13:25');
  await expect(page.getByText(/5\d\.\d° up/)).toBeVisible();
  await page.getByRole('button', { name: /^Light groups/ }).click();
  await page.getByRole('button', { name: 'Add a light group' }).click();
  await page.getByRole('button', { name: /^Sun and sky/ }).click();
  await choose('Light group of sun and sky: outside', 'group 1');
  await page.keyboard.press('2');
  const before = await shot(page, 'The picture');
  await page.getByRole('button', { name: /^Light mix/ }).click();
  await type('Stops of group 1, typed', '-9');
  await expect(page.getByRole('switch', { name: 'Light mix: this camera’s own' })).toBeVisible();
  await expect.poll(async () => difference(before, await shot(page, 'The picture'))).toBeGreaterThan(15);
  await page.keyboard.press('1');
});

test('a walk drawn in plan is walked at its speed, on the ground', async () => {
  await thing('figure').locator('.thing').click();
  await page.getByRole('button', { name: 'Let it walk …' }).click();
  for (const x of [0.42, 0.5, 0.58]) await page.mouse.click(...(await inPlan(x, 0.7)));
  await page.keyboard.press('Enter');
  await expect(field('Walking speed')).toHaveValue('1.30');
  await type('Walking speed', '2');
  const figure = await named('figure');
  const { head } = await arvex.project<Whole>();
  interface Row {
    readonly x_m: number;
    readonly y_m: number;
    readonly z_m: number;
    readonly pan_deg: number;
  }
  const rows = await arvex.json<Row[]>(`/projects/${head.id}/placements/${figure?.id ?? ''}/frames?from=1001&to=1049`);
  const [from, to] = [rows[0], rows[48]];
  if (!from || !to) throw new Error('no rows');
  expect(Math.hypot(to.x_m - from.x_m, to.z_m - from.z_m)).toBeCloseTo(4, 1); // two seconds at 2 m/s
  expect(to.y_m).toBeCloseTo(0, 2);
  expect(to.pan_deg).toBeCloseTo(90, 0); // eastward
  await page.getByRole('button', { name: 'Undo: Walk of figure' }).click();
});

test('a camera is placed and aimed in one gesture in plan', async () => {
  await page.getByRole('button', { name: 'Place a camera' }).click();
  await page.mouse.move(...(await inPlan(0.3, 0.8)));
  await page.mouse.down();
  await page.mouse.move(...(await inPlan(0.6, 0.8)), { steps: 5 });
  await page.mouse.up();
  await expect(page.getByTestId('camera-chip')).toContainText('Camera 2');
  await saved();
  const camera = Object.values((await arvex.project<Whole>()).cameras).find((one) => one.name === 'Camera 2');
  expect(camera?.pose.panDeg).toBeCloseTo(90, 0);
  expect(camera?.pose.positionM[1]).toBeCloseTo(1.6, 1);
});

test('a clip of an imported file plays over scene time, later, slower or backward', async () => {
  await bringIn({ name: 'trolley.glb', buffer: await slidingBlock() });
  await expect(page.getByRole('button', { name: 'Clip: slides' })).toBeVisible();
  await page.keyboard.press('t');
  await page.keyboard.press('Home');
  await expect(page.locator('arvex-free-view canvas')).toBeVisible();
  await page.waitForTimeout(1500);
  const first = await restingShot(page, 'Free view of the set');
  for (let frame = 0; frame < 12; frame++) await page.keyboard.press('ArrowRight');
  await page.waitForTimeout(1500);
  const half = await restingShot(page, 'Free view of the set');
  const slid = difference(first, half);
  expect(slid).toBeGreaterThan(0.1);
  await type('Rate of the clip', '0.5');
  for (let frame = 0; frame < 12; frame++) await page.keyboard.press('ArrowRight');
  await page.waitForTimeout(1500);
  // Half as fast, it is after a second where it was after half a second.
  expect(difference(half, await restingShot(page, 'Free view of the set'))).toBeLessThan(slid / 5);
  await page.keyboard.press('Home');
  await page.keyboard.press('Delete');
  await expect(thing('trolley')).toHaveCount(0);
});

test('walking in the free view stays at eye height over the ground', async () => {
  await page.keyboard.press('w');
  await expect(page.getByText('at eye height')).toBeVisible();
  const pose = () =>
    page.evaluate(
      () => JSON.parse(localStorage.getItem('arvex.free-pose') ?? '{}') as { positionM: number[]; tiltDeg: number },
    );
  await expect.poll(async () => (await pose()).positionM[1]).toBeCloseTo(1.62, 2);
  const before = (await pose()).positionM;
  await page.keyboard.down('w');
  const gone = async () => {
    const { positionM } = await pose();
    return Math.hypot((positionM[0] ?? 0) - (before[0] ?? 0), (positionM[2] ?? 0) - (before[2] ?? 0));
  };
  await expect.poll(gone).toBeGreaterThan(0.3);
  await page.keyboard.up('w');
  let there: number[] = [];
  const standing = async () => {
    const last = there;
    there = (await pose()).positionM;
    return there.join() === last.join();
  };
  await expect.poll(standing, { intervals: [200] }).toBe(true);
  expect(there[1]).toBeCloseTo(1.62, 2);
  // Looking about turns the head; the feet stay.
  const box = (await page.locator('arvex-free-view').boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2 - 40, { steps: 4 });
  await page.mouse.up();
  await expect.poll(async () => (await pose()).tiltDeg).toBeCloseTo(11.2, 6);
  expect((await pose()).positionM).toEqual(there);
  await page.keyboard.press('Escape');
  await page.keyboard.press('p');
});

test('a reference picture is laid over one camera, and as difference', async () => {
  await page.keyboard.press('2');
  const plain = await shot(page, 'The picture');
  const png = await page.getByLabel('The picture', { exact: true }).screenshot();
  await page.getByRole('button', { name: /^Reference/ }).click();
  await page.getByLabel('Reference picture').setInputFiles({ name: 'plate.png', mimeType: 'image/png', buffer: png });
  await expect(page.locator('arvex-reference-layer img')).toHaveCount(1);
  await page.getByRole('radio', { name: 'difference' }).click();
  await expect.poll(async () => difference(plain, await shot(page, 'The picture'))).toBeGreaterThan(1);
  await page.getByRole('button', { name: 'Take plate off' }).click();
  await expect(page.locator('arvex-reference-layer img')).toHaveCount(0);
  await page.keyboard.press('1');
});

test('lengths are shown in feet and inches, and the set survives a reload', async () => {
  await page.getByRole('button', { name: /^Units and snapping/ }).click();
  await choose(/^Unit of lengths/, 'feet and inches');
  await thing('figure').locator('.thing').click();
  await expect(field('Stature')).toHaveValue(`5' 11.7"`);
  await type('Stature', `5' 6"`);
  await saved();
  await page.reload();
  await thing('figure').locator('.thing').click();
  await expect(field('Stature')).toHaveValue(`5' 6.0"`);
});

test('a large file is brought in whole, or given up and the set is as it was', async () => {
  // From a file, as a person would: not through the driver's own encoding of it.
  const path = test.info().outputPath('floor.glb');
  await writeFile(path, await largeFloor(401));
  const measured = page.waitForResponse(/\/api\/geometry/);
  await page.getByLabel('Files for the set').setInputFiles(path);
  await measured;
  await expect(thing('floor')).toBeVisible();
  await expect(page.getByText('320000 triangles')).toBeVisible();
  const count = await things().count();
  await page.getByLabel('Files for the set').setInputFiles(path);
  await page.getByRole('button', { name: 'Cancel' }).click();
  await expect(page.getByText('floor.glb was not brought in; the set is as it was')).toBeVisible();
  expect(await things().count()).toBe(count);
});
