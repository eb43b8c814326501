import type { Locator, Page } from '@playwright/test';
import { expect } from '@playwright/test';
import type { Project } from '@arvex/core';
import { cameraAt, cutOf, flicksPerFrame, sequencesInOrder, variationsOf } from '@arvex/core';
import { Visit } from './arvex';
import type { Row } from './frames';
import { Frames } from './frames';
import { Hands, quickPage } from './hands';
import { test } from './shared';

// The jobs of a layout artist as a person does them, with no more clicks than they are worth.
test.describe.configure({ mode: 'serial' });
let arvex: Visit;
let page: Page;
let hands: Hands;
let frames: Frames;
let clicks = 0;
test.beforeAll(async ({ browser, served }) => {
  arvex = await served.copy();
  page = await quickPage(browser);
  hands = new Hands(page, arvex);
  frames = new Frames(hands, arvex);
  await page.goto(arvex.address);
  await expect(page.getByTestId('seen')).toContainText('Gallery crane');
});
test.afterAll(async () => {
  await page.close();
  await arvex.leave();
});
test.beforeEach(() => {
  clicks = 0;
});
// eslint-disable-next-line no-empty-pattern
test.afterEach(({}, { annotations }) => {
  annotations.push({ type: 'clicks', description: String(clicks) });
});

async function click(what: Locator): Promise<void> {
  clicks += 1;
  await what.click();
}
const button = (name: string | RegExp) => page.getByRole('button', { name, exact: true });
async function choose(label: RegExp, item: string | RegExp): Promise<void> {
  await click(page.getByRole('button', { name: label }));
  await click(page.getByRole('menuitemradio', { name: item }));
  await expect(page.locator('.cdk-overlay-backdrop')).toHaveCount(0);
}
/** A click into a field, and its text. */
async function type(label: string, text: string): Promise<void> {
  clicks += 1;
  await hands.type(label, text);
}
/** A card of the bench, where it is not open. */
async function open(card: string): Promise<void> {
  const head = page.locator(`arvex-${card}-card .open`);
  if ((await head.getAttribute('aria-expanded')) === 'false') await click(head);
}
/** An action by its words: keys alone. */
async function find(words: string): Promise<void> {
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox', { name: 'Find an action' }).fill(words);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('combobox', { name: 'Find an action' })).toHaveCount(0);
}
/** A camera of one's own, from where another stands; looked through alone at the first frame. */
async function cameraOf(model: string, name: string): Promise<void> {
  await find(`look through ${model}`);
  await find('duplicate this camera');
  await expect(page.getByTestId('camera-chip')).toContainText('copy');
  await page.keyboard.press('2');
  await hands.type('Name of the camera', name);
  await expect(page.getByTestId('camera-chip')).toContainText(name);
  await page.keyboard.press('3');
  await page.keyboard.press('Home');
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox', { name: 'Find an action' }).fill('take the whole move away');
  const offered = await page.getByRole('option').count();
  await page.keyboard.press(offered > 0 ? 'Enter' : 'Escape');
  await expect(page.getByRole('combobox', { name: 'Find an action' })).toHaveCount(0);
}
const content = () => expect(page.locator('arvex-comfort-card')).toContainText('Nothing that an audience would mind');

/** Where the camera looks off a point, degrees. */
function offDeg({ x_m, y_m, z_m, pan_deg, tilt_deg }: Row, [x, y, z]: readonly [number, number, number]): number {
  const [dx, dy, dz] = [x - x_m, y - y_m, z - z_m];
  const pan = (Math.atan2(dx, -dz) * 180) / Math.PI;
  const tilt = (Math.atan2(dy, Math.hypot(dx, dz)) * 180) / Math.PI;
  const across = ((((pan - pan_deg) % 360) + 540) % 360) - 180;
  return Math.hypot(across * Math.cos((tilt * Math.PI) / 180), tilt - tilt_deg);
}

interface Placed {
  readonly placements: Record<string, { name: string; positionM: [number, number, number]; assetId: string | null }>;
  readonly assets: Record<string, { file: { minM: [number, number, number]; maxM: [number, number, number] } }>;
}

test('a turntable of the lens, five seconds at 25, clockwise and in the middle: at most 12 clicks', async () => {
  await cameraOf('6', 'Lens turning');
  await find('card: timing');
  await click(page.getByText('Frame rate of the project'));
  await choose(/^Frame rate:/, '25 a second');
  await click(button('Change the rate to 25'));
  await find('turntable');
  await choose(/^Subject of the move:/, 'glass lens');
  await type('How long', '5s');
  await click(button('Make this move here'));
  expect(clicks).toBeLessThanOrEqual(12);
  const rows = await frames.rows('Lens turning', 1001, 1126);
  expect(rows).toHaveLength(126);
  const project = await hands.project<Placed>();
  const lens = Object.values(project.placements).find(({ name }) => name === 'glass lens');
  const { minM, maxM } = project.assets[lens?.assetId ?? '']?.file ?? { minM: [0, 0, 0], maxM: [0, 0, 0] };
  const middle = [0, 1, 2].map((i) => (lens?.positionM[i] ?? 0) + ((minM[i] ?? 0) + (maxM[i] ?? 0)) / 2) as unknown as [
    number,
    number,
    number,
  ];
  // A hundredth of the frame's width of a 32 mm lens is half a degree.
  for (const row of rows) expect(offDeg(row, middle)).toBeLessThan(0.4);
  const [first, second, last] = [rows[0], rows[1], rows.at(-1)] as [Row, Row, Row];
  expect(last.x_m).toBeCloseTo(first.x_m, 4);
  // Clockwise from above: from north to east, pan grows.
  expect(second.pan_deg).toBeGreaterThan(first.pan_deg);
});

test('a start, an end and a settle that an audience bears: at most 10 clicks', async () => {
  await cameraOf('4', 'Start and end');
  await click(button('Mark this pose'));
  for (let i = 0; i < 3; i++) await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('s');
  clicks += 1;
  await hands.drag(await hands.middleOf('canvas[aria-label="The picture"]'), 60, 10, () =>
    expect(page.getByTestId('steered')).toContainText('pan +'),
  );
  await click(button('Mark this pose').first());
  await page.keyboard.press('s');
  await type('Comes to rest over', '1.2s');
  await find('card: comfort');
  await content();
  expect(clicks).toBeLessThanOrEqual(10);
  const move = await frames.move('Start and end');
  expect(move?.marks.map(({ name }) => name)).toEqual(['A', 'B']);
  // The mark goes with its keys when it is dragged on the reel.
  await hands.drag(page.locator('arvex-camera-track [data-mark=B]'), 40, 0);
  const moved = await frames.move('Start and end');
  const at = moved?.marks[1]?.atFlicks ?? 0;
  expect(at).toBeGreaterThan(move?.marks[1]?.atFlicks ?? 0);
  expect(moved?.curves['pan']?.at(-1)?.atFlicks).toBe(at);
  // So it does when the leg before it is pulled, and the later marks go along.
  await hands.drag(page.getByRole('button', { name: /^Leg A–B/ }), -20, 0);
  const pulled = await frames.move('Start and end');
  expect(pulled?.marks[1]?.atFlicks).toBeLessThan(at);
  expect(pulled?.curves['pan']?.at(-1)?.atFlicks).toBe(pulled?.marks[1]?.atFlicks);
});

test('the same by keyboard alone', async () => {
  await cameraOf('3', 'By keys');
  await page.keyboard.press('m');
  for (let i = 0; i < 3; i++) await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('s');
  for (let i = 0; i < 2; i++) await page.keyboard.press('ArrowRight');
  await page.keyboard.press('PageUp');
  await expect(page.getByText('Trying a pose')).toBeVisible();
  await page.keyboard.press('s');
  await page.keyboard.press('m');
  await find('come to rest');
  await find('card: comfort');
  await content();
  const [first, last] = [await frames.row('By keys', 1001), await frames.row('By keys', 1076)];
  expect(last.pan_deg - first.pan_deg).toBeCloseTo(2, 6);
  expect(Math.hypot(last.x_m - first.x_m, last.z_m - first.z_m)).toBeGreaterThan(0.1);
});

test('half a circle past the mooring post in 20 s, widened in plan, the camera left alone: at most 14 clicks', async () => {
  await cameraOf('3', 'Past the post');
  await find('ask for: arc');
  await choose(/^Subject of the move:/, 'mooring post');
  await type('How far', '180');
  await type('How long', '0:20');
  await click(button('Make this move here'));
  const before = await frames.rows('Past the post', 1001, 1501);
  await find('put the camera on: rail');
  await expect.poll(async () => (await frames.camera('Past the post')).rig.kind).toBe('rail');
  const nodes = (await frames.camera('Past the post')).rig.nodesM?.length ?? 0;
  expect(nodes).toBeGreaterThanOrEqual(5);
  expect(nodes).toBeLessThanOrEqual(8);
  const after = await frames.rows('Past the post', 1001, 1501);
  const apart = after.map((row, i) => Math.hypot(row.x_m - (before[i]?.x_m ?? 0), row.z_m - (before[i]?.z_m ?? 0)));
  expect(Math.max(...apart)).toBeLessThan(0.05);
  await hands.quiet();
  await click(button('Show the whole plan'));
  clicks += 1;
  const node = page.locator('arvex-plan').getByRole('button', { name: /^Handle: node 4/ });
  await hands.drag(node, -30, -14);
  await expect.poll(async () => (await frames.row('Past the post', 1251)).x_m).not.toBeCloseTo(after[250]?.x_m ?? 0, 1);
  // It still looks at what it goes round.
  const wide = await frames.row('Past the post', 1501);
  expect(wide.pan_deg).toBeCloseTo(after[500]?.pan_deg ?? 0, 1);
  expect(clicks).toBeLessThanOrEqual(14);
});

test('slow motion with the walking keeper: at most 6 clicks', async () => {
  await find('look through 2');
  await page.keyboard.press('3');
  const lasts = async () => {
    const marks = (await frames.move('Pier ride'))?.marks.map(({ atFlicks }) => atFlicks) ?? [];
    return Math.max(...marks) - Math.min(...marks);
  };
  const before = await lasts();
  await find('retime');
  await expect(button('half speed')).toBeVisible();
  await click(page.getByRole('radio', { name: 'both' }));
  await click(button('half speed'));
  expect(clicks).toBeLessThanOrEqual(6);
  expect((await lasts()) / before).toBeCloseTo(2, 1);
  const project = await hands.project<{
    placements: Record<string, { name: string; motion: { speedMps?: number } }>;
  }>();
  const keeper = Object.values(project.placements).find(({ name }) => name === 'keeper');
  expect(keeper?.motion.speedMps).toBeCloseTo(1.25 / 2, 2);
});

test('a thing goes round once, evenly, in 100 frames: at most 12 clicks', async () => {
  await page.keyboard.press('1');
  await page.keyboard.press('Home');
  await click(page.getByRole('treeitem', { name: /^crate 1/ }));
  await open('movement');
  await click(button('Turn it round …'));
  await type('How long it turns', '100');
  await click(button('Turn it from here'));
  expect(clicks).toBeLessThanOrEqual(12);
  await expect
    .poll(async () => {
      const made = await hands.project<Project>();
      const crate = Object.values(made.placements).find(({ name }) => name === 'crate 1');
      const pan = crate?.motion.kind === 'keys' ? (crate.motion.curves.pan ?? []) : [];
      const [first, last] = [pan[0], pan.at(-1)];
      return [
        (last?.value ?? 0) - (first?.value ?? 0),
        ((last?.atFlicks ?? 0) - (first?.atFlicks ?? 0)) / flicksPerFrame(made.head.rate),
      ];
    })
    .toEqual([360, 100]);
});

test('a cut of four cameras made live: at most 12 clicks and strokes', async () => {
  await page.keyboard.press('4');
  await click(page.getByTestId('sequence'));
  await click(page.getByRole('menuitem', { name: 'New sequence' }));
  await expect(page.locator('.cdk-overlay-backdrop')).toHaveCount(0);
  const strokes = ['Shift+1', 'Home', 'Space', 'Shift+2', 'Shift+4', 'Shift+5', 'Space'];
  for (const stroke of strokes) {
    await page.keyboard.press(stroke);
    await page.waitForTimeout(700);
  }
  clicks += 1 + strokes.length;
  expect(clicks).toBeLessThanOrEqual(12);
  await expect
    .poll(async () => {
      const made = await hands.project<Project>();
      const newest = sequencesInOrder(made).find(({ name }) => name !== 'The Relight')?.id ?? '';
      return cutOf(made, newest).shots.map(({ shot }) => made.cameras[shot.cameraId ?? '']?.number);
    })
    .toEqual([1, 2, 4, 5]);
});

test('day, sunset and night of a room, from a new project: at most 20 clicks', async () => {
  await click(page.getByTestId('project'));
  await click(button('New project'));
  await click(page.locator('[data-place=room]'));
  await click(button('Make camera from this view').last());
  await expect(page.getByTestId('camera-chip')).toContainText('Camera 1');
  await page.keyboard.press('2');
  for (const [name, stops] of [
    ['day', '0'],
    ['sunset', '-3'],
    ['night', '-9'],
  ] as const) {
    await open('light-mix');
    if (stops !== '0') await type('Stops of outside, typed', stops);
    await open('variations');
    await type('Name of a new variation', name);
  }
  expect(clicks).toBeLessThanOrEqual(20);
  await expect
    .poll(async () => {
      await expect(page.getByTestId('save-state')).toContainText('saved');
      const made = await new Visit(arvex.server).project<Project>(); // the newest: the one just made
      const camera = Object.values(made.cameras)[0]!;
      return variationsOf(camera).map(({ id, name }) => {
        const { lightMix } = cameraAt(made, camera.id, 0, undefined, id);
        const outside = Object.values(made.lightGroups).find((group) => group.name === 'outside')?.id ?? '';
        return [name, lightMix[outside]?.stops ?? 0];
      });
    })
    .toEqual([
      ['day', 0],
      ['sunset', -3],
      ['night', -9],
    ]);
});

test('the first good shot from an empty project: at most 40 clicks', async () => {
  await click(page.getByTestId('project'));
  await click(button('New project'));
  await click(page.locator('[data-place=room]'));
  await expect(
    page.getByRole('img', { name: 'Plan of the set, north up' }).locator('[data-thing=figure]'),
  ).toBeVisible();
  await click(button('Put in the set'));
  await click(page.getByRole('menuitem', { name: 'Figure, sitting' }));
  clicks += 1;
  const plan = (await page.locator('arvex-plan').boundingBox()) ?? { x: 0, y: 0, width: 1, height: 1 };
  await page.mouse.click(plan.x + plan.width * 0.47, plan.y + plan.height * 0.62);
  await click(button('Make camera from this view').last());
  await expect(page.getByTestId('camera-chip')).toContainText('Camera 1');
  await page.keyboard.press('2');
  await type('Name of the camera', 'First look');
  const lens = page.locator('arvex-lens-card .open');
  if ((await lens.getAttribute('aria-expanded')) === 'false') await click(lens);
  await click(button('50 mm'));
  await click(page.locator('arvex-light-card .open'));
  await click(button('Expose as metered'));
  await expect(page.getByTestId('meter')).toContainText(/as metered|0\.[12] stops/);
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox', { name: 'Find an action' }).fill('frame: medium wide, the camera');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('composition')).toContainText('medium wide');
  clicks += 1;
  const picture = (await page.getByTestId('frame').boundingBox()) ?? { x: 0, y: 0, width: 1, height: 1 };
  await page.mouse.click(picture.x + picture.width * 0.5, picture.y + picture.height * 0.3);
  await page.keyboard.press('3');
  await find('ask for: push in');
  await type('How far', '0.5');
  await type('Settle', '1s');
  await click(button('Make this move here'));
  await find('card: comfort');
  await content();
  expect(clicks).toBeLessThanOrEqual(40);
  await page.reload();
  await expect(page.getByTestId('camera-chip')).toContainText('First look');
  await expect(page.getByRole('button', { name: /^Undo: Push in/ })).toBeEnabled();
});
