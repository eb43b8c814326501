import type { Page } from '@playwright/test';
import { expect } from '@playwright/test';
import type { Visit } from './arvex';
import { Hands, quickPage } from './hands';
import { difference, restingShot, shot } from './pictures';
import { test } from './shared';

interface Camera {
  readonly id: string;
  readonly name: string;
  readonly number: number;
  readonly own: readonly string[];
  readonly pose: { readonly tiltDeg: number; readonly rollDeg: number };
  readonly filmBack: { readonly widthMm: number; readonly heightMm: number };
  readonly lens: Readonly<Record<'focalLengthMm' | 'shiftYMm' | 'distortionPercent', number>>;
  readonly focus: { readonly mode: string; readonly distanceM: number; readonly fStop: number };
  readonly exposure: Readonly<Record<'iso' | 'ndStops' | 'shutterAngleDeg', number>>;
  readonly clip: { readonly nearM: number };
}
interface Whole {
  readonly head: { readonly exposure: { readonly iso: number }; readonly delivery: { readonly widthPx: number } };
  readonly cameras: Record<string, Camera>;
}

test.describe.configure({ mode: 'serial' });

let arvex: Visit;
let page: Page;
let hands: Hands;

test.beforeAll(async ({ browser, served }) => {
  arvex = await served.copy();
  await arvex.keepShots(3);
  page = await quickPage(browser);
  hands = new Hands(page, arvex);
  await page.goto(arvex.address);
  await expect(page.getByTestId('seen')).toContainText('Gallery crane');
});
test.afterAll(async () => {
  await page.close();
  await arvex.leave();
});

const field = (label: string) => page.getByLabel(label, { exact: true });
const chip = () => page.getByTestId('camera-chip');
const project = () => hands.project<Whole>();
async function camera(name = 'Lantern close'): Promise<Camera> {
  const found = Object.values((await project()).cameras).find((one) => one.name === name);
  if (!found) throw new Error(`There is no camera ${name}.`);
  return found;
}
async function aspectOf(selector: string): Promise<number> {
  const { width, height } = (await page.locator(selector).first().boundingBox()) ?? { width: 0, height: 1 };
  return width / height;
}
const notice = (text: string | RegExp) => expect(page.getByText(text).last()).toBeVisible();

test('a camera is built from nothing: back and lens by choice and by typing, and the lens says what it has not', async () => {
  await page.keyboard.press('f');
  await hands.button('Make camera from this view').click();
  await expect(chip()).toContainText('Camera 4');
  await hands.type('Name of the camera', 'Lantern close');
  await expect(chip()).toContainText('Lantern close');
  await hands.choose(/^Film back:/, /Full frame/);
  await hands.button('50 mm').click();
  await hands.type('Film back width', '1in');
  await hands.type('Film back height', '0.75in');
  await expect(field('Angle of view')).toHaveValue('28.50'); // 2 atan(25.4 / 100)
  expect((await camera()).filmBack).toMatchObject({ widthMm: 25.4, heightMm: 19.05 });
  await page.getByRole('radio', { name: 'keep the angle' }).click();
  await hands.type('Film back width', '50.8');
  expect((await camera()).lens.focalLengthMm).toBeCloseTo(100, 6);
  await page.getByRole('radio', { name: 'keep the lens' }).click();
  await hands.choose(/^Film back:/, /Super 35 three/);
  await hands.button('50 mm').click();
  await hands.type('Focal length', '55');
  const excess = page.locator('arvex-lens-card').getByRole('alert');
  await expect(excess).toContainText('50 mm');
  await excess.getByRole('button').click();
  await expect(excess).toHaveCount(0);
  expect((await camera()).lens.focalLengthMm).toBe(50);
});

test('the light strip drags EV, and what is held is taken up in order', async () => {
  await hands.card('light');
  await page.locator('arvex-light-card .dot').click();
  await page.locator('arvex-light-card').getByRole('radio', { name: /ISO$/ }).click();
  await hands.type('Neutral density', '0');
  await hands.type('ISO', '400');
  await hands.type('f-stop', '4');
  await page.locator('arvex-light-strip').getByRole('button', { name: 'Hold EV' }).click();
  await hands.choose('Marked stops', 'ƒ8');
  expect([(await camera()).focus.fStop, (await camera()).exposure.iso]).toEqual([8, 1600]);
  await hands.type('Neutral density', '1');
  expect((await camera()).exposure.iso).toBeCloseTo(3200, 6);
  await hands.type('Shutter time', '1/96');
  expect((await camera()).exposure).toMatchObject({ shutterAngleDeg: 90 });
  // The filter comes out before ISO goes up.
  expect((await camera()).exposure).toMatchObject({ ndStops: 0 });
  expect((await camera()).exposure.iso).toBeCloseTo(3200, 6);
  const before = (await camera()).exposure.iso;
  await hands.drag(await hands.middleOf('arvex-light-strip .scale'), 0, 60); // darker scenes: more ISO
  const after = (await camera()).exposure.iso;
  expect(Math.log2(after / before)).toBeGreaterThan(0.5);
  await page.locator('arvex-light-strip .scale').press('ArrowUp');
  expect(Math.log2((await camera()).exposure.iso / after)).toBeCloseTo(-1 / 3, 6);
  // Its own exposure is nobody else's.
  expect((await project()).head.exposure.iso).not.toBeCloseTo(after, 0);
});

test('the meter reads a clicked spot and exposes for it; false colour and zebra say what they show', async () => {
  await hands.button('A click meters a spot').click();
  const at = await hands.middleOf('canvas[aria-label="The picture"]');
  await page.mouse.click(...at);
  const meter = page.getByTestId('meter');
  await expect(meter).toContainText('cd/m²');
  await page.locator('arvex-light-card').getByRole('button', { name: 'Expose as metered' }).click();
  await expect(meter).toContainText(/as metered|0\.[12] stops/);
  await expect(page.locator('arvex-picture-scopes')).toBeVisible();
  const plain = await shot(page, 'The picture');
  await hands.button('How the picture is shown').click();
  await page.getByRole('menuitemradio', { name: 'False colour by stops' }).click();
  await expect(page.getByLabel('Stops from the mid-tone').locator('li')).not.toHaveCount(0);
  await expect.poll(async () => difference(plain, await shot(page, 'The picture'))).toBeGreaterThan(5);
  await hands.button('How the picture is shown').click();
  await page.getByRole('menuitemradio', { name: 'Zebra where it clips' }).click();
  await expect(field('Level of the zebra')).toBeVisible();
  await hands.button('How the picture is shown').click();
  await page.getByRole('menuitemradio', { name: 'The picture as exposed' }).click();
  await hands.button('A click focuses').click();
});

test('the focus ruler focuses by dragging, solves from its edges, and a typed number takes over from a follower', async () => {
  await hands.card('focus');
  const ruler = (await page.locator('arvex-focus-ruler .scale').boundingBox()) ?? { x: 0, y: 0, width: 1, height: 1 };
  await page.mouse.click(ruler.x + ruler.width / 2, ruler.y + 4); // a click moves nothing
  await hands.drag([ruler.x + ruler.width * 0.4, ruler.y + 12], ruler.width * 0.1, 0);
  expect((await camera()).focus.distanceM).toBeCloseTo(Math.sqrt(0.3 * 100), 0); // the middle of a logarithmic scale
  const edge = page.locator('arvex-focus-ruler [data-edge=near]');
  const { x, y } = (await edge.boundingBox()) ?? { x: 0, y: 0 };
  await hands.drag([x + 4, y + 10], -60, 0);
  await notice(/^ƒ[\d.]+ at .* holds .* to /);
  const held = await camera();
  expect([1, 1.4, 2, 2.8, 4, 5.6, 8, 11, 13, 14, 16, 18, 20, 22, 9, 10, 7.1, 6.3]).toContain(held.focus.fStop);
  await page.getByRole('radio', { name: 'follows' }).click();
  await expect(page.getByTestId('focus-driver')).toContainText('follows');
  await hands.type('Focus distance', '7');
  await notice(/Focus is by hand now/);
  await expect(page.getByTestId('focus-driver')).toContainText('by hand');
  expect((await camera()).focus).toMatchObject({ mode: 'manual', distanceM: 7 });
  await page.keyboard.press('Control+z');
  await expect(page.getByTestId('focus-driver')).toContainText('follows');
  await page.getByRole('radio', { name: 'automatic' }).click();
  await expect(page.getByTestId('focus-driver')).toContainText('automatic');
});

test('a delivery of its own, guides and a mask are drawn where the output cuts', async () => {
  await hands.card('frame');
  await page.locator('arvex-frame-card .dot').click();
  await hands.button('Turn upright').click();
  await expect.poll(() => aspectOf('arvex-frame-overlay rect.frame')).toBeCloseTo(9 / 16, 2);
  expect((await project()).head.delivery.widthPx).toBe(1920);
  await page.locator('arvex-frame-card .dot').click();
  await hands.card('guides');
  await hands.button('2.39').click();
  await hands.button('thirds').click();
  await expect.poll(() => aspectOf('arvex-frame-overlay rect.guide')).toBeCloseTo(2.39, 1);
  await expect(page.getByTestId('guide-lines')).toHaveAttribute('d', /M/);
});

test('the tilt becomes shift, a lens bends, sight can be parallel, and what the clip cuts is said', async () => {
  await hands.card('place');
  await hands.type('tilt', '-12');
  await hands.card('glass');
  await hands.button('Keep verticals').click();
  const upright = await camera();
  expect(upright.pose.tiltDeg).toBe(0);
  expect(upright.lens.shiftYMm).toBeCloseTo(-50 * Math.tan((12 * Math.PI) / 180), 6);
  // Taken back with the tilt: the ground alone has no edge that could bend.
  for (let i = 0; i < 2; i++) await page.keyboard.press('Control+z');
  await expect.poll(async () => (await camera()).pose.tiltDeg).not.toBe(-12);
  const straight = await restingShot(page, 'The picture');
  await hands.type('Distortion', '20');
  await expect.poll(async () => difference(straight, await shot(page, 'The picture'))).toBeGreaterThan(1);
  await hands.type('Distortion', '0');
  await page.getByRole('radio', { name: 'parallel' }).click();
  await hands.type('Width of parallel sight', '20');
  await expect(chip()).toContainText('parallel');
  await page.getByRole('radio', { name: 'perspective' }).click();
  await hands.card('place');
  await hands.type('Near clip', '60');
  await expect(page.locator('div.band')).toContainText('inside the frame');
  await page.keyboard.press('Control+z');
  await expect(page.locator('div.band')).toHaveCount(0);
});

test('settings are packed, matched to other cameras with a preview, and compared line by line', async () => {
  await hands.card('package');
  await hands.type('Name of the package', 'Long night');
  await hands.button('Save as package').click();
  await expect(page.locator('arvex-package-card').getByText('Long night')).toBeVisible();
  await hands.button('Match other cameras to this one').click();
  await page.getByRole('checkbox', { name: 'Pier ride' }).check();
  await expect(page.getByRole('row', { name: /Pier ride.*→ 50 mm/ })).toBeVisible();
  await hands.button('Match 1 camera').click();
  expect((await camera('Pier ride')).lens.focalLengthMm).toBe(50);
  await page.getByRole('button', { name: /^Undo: Match/ }).click();
  expect((await camera('Pier ride')).lens.focalLengthMm).toBe(35);
  await page.keyboard.press('Alt+c');
  const cards = page.locator('arvex-camera-card');
  await expect(cards).toHaveCount(5);
  await field('Compare Lantern close').check();
  await field('Compare Pier ride').check();
  await hands.button('Compare these two').click();
  await expect(page.getByRole('row', { name: /Focal length 50.* 35/ })).toBeVisible();
  await hands.button('Done').click();
  await field('Find a camera').fill('pier');
  await expect(cards).toHaveCount(1);
  await cards.getByRole('button').click();
  await expect(chip()).toContainText('Pier ride');
  await field('Find a camera').press('Escape');
  await expect(cards).toHaveCount(5);
  await hands.button('Long night').click();
  expect((await camera('Pier ride')).lens.focalLengthMm).toBe(50);
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await camera('Pier ride')).lens.focalLengthMm).toBe(35);
});

test('what is not ready is listed with its mend, and everything outlives a reload', async () => {
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox', { name: 'Find an action' }).fill('look thr lantern');
  await page.keyboard.press('Enter');
  await expect(chip()).toContainText('Lantern close');
  await hands.card('lens');
  await hands.type('Focal length', '64');
  const finding = page.locator('arvex-findings .finding').filter({ hasText: '50 mm' });
  await expect(finding).toBeVisible();
  await finding.getByRole('button').click();
  await expect(finding).toHaveCount(0);
  const before = await camera();
  expect(before.lens.focalLengthMm).toBe(50);
  await page.reload();
  await expect(page.getByTestId('seen')).toBeAttached();
  expect(await camera()).toEqual(before);
});
