import type { Browser, Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { execFileSync } from 'node:child_process';
import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Arvex } from './arvex';
import { quickPage, refuseWorkerGraphics } from './hands';
import { contrast, difference, greyOf, restingShot, shot } from './pictures';

interface Row {
  readonly frame: number;
  readonly x_m: number;
  readonly aov_h_deg: number;
  readonly focal_length_mm: number;
  readonly camera: string;
  readonly shot: string;
}

test.describe.configure({ mode: 'serial' });

let arvex: Arvex;
let page: Page;

test.beforeAll(async ({ browser }) => {
  arvex = await Arvex.start();
  await arvex.keepShots(3);
  page = await quickPage(browser);
});
test.afterAll(async () => {
  await page.close();
  await arvex.down();
});

const seen = () => page.getByTestId('seen');
const saved = () => expect(page.getByTestId('save-state')).toContainText('saved');
const field = (label: string) => page.getByLabel(label, { exact: true });
async function type(label: string, text: string): Promise<void> {
  await field(label).fill(text);
  await field(label).press('Enter');
}
async function cameraFrames(name: string): Promise<Row[]> {
  const project = await arvex.project<{
    head: { id: string };
    cameras: Record<string, { id: string; name: string }>;
  }>();
  const camera = Object.values(project.cameras).find((one) => one.name === name);
  return arvex.json(`/projects/${project.head.id}/cameras/${camera?.id ?? ''}/frames`);
}

test('the demo opens on the Cameras step with the picture filled', async () => {
  await page.addInitScript(() => {
    const refused: string[] = [];
    Object.assign(globalThis, { refused });
    document.addEventListener('securitypolicyviolation', ({ violatedDirective }) => refused.push(violatedDirective));
  });
  await page.goto(arvex.address);
  await expect(page.getByText('Saltmarsh Light /')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Cameras', exact: true })).toHaveAttribute('aria-current', 'step');
  await expect(seen()).toHaveText('SL_010 · the cut · Gallery crane · 1001');
  await expect.poll(async () => contrast(await shot(page, 'The picture'))).toBeGreaterThan(20);
  expect(
    await page.evaluate(() => Reflect.get(globalThis, 'refused') as unknown),
    'what the page asks for is allowed',
  ).toEqual([]);
});

/** The same project in a browser whose workers have no graphics: it is drawn in the window. */
async function withoutStageWorker(browser: Browser): Promise<Page> {
  const other = await quickPage(browser);
  await other.addInitScript(refuseWorkerGraphics);
  await other.goto(arvex.address);
  return other;
}

test('where workers have no graphics the same picture is drawn in the window', async ({ browser }) => {
  const inWorker = await restingShot(page, 'The picture');
  const inWindow = await withoutStageWorker(browser);
  await expect.poll(async () => difference(await shot(inWindow, 'The picture'), inWorker)).toBeLessThan(0.5);
  await inWindow.close();
});

test('a camera made from the free view sees exactly what was seen', async () => {
  await page.keyboard.press('f');
  const view = page.getByLabel('Free view of the set');
  await expect(view).toBeVisible();
  const box = (await view.boundingBox()) ?? { x: 0, y: 0, width: 0, height: 0 };
  const middle = [box.x + box.width / 2, box.y + box.height / 2] as const;
  const before = await shot(page, 'Free view of the set');
  await page.mouse.move(...middle);
  await page.waitForTimeout(300);
  await page.mouse.down();
  await page.waitForTimeout(300);
  await page.mouse.move(middle[0] + 120, middle[1] + 10, { steps: 6 });
  await page.mouse.up();
  await page.keyboard.down('Shift');
  await page.mouse.move(...middle);
  await page.mouse.down();
  await page.waitForTimeout(300);
  await page.mouse.move(middle[0] - 60, middle[1] + 20, { steps: 4 });
  await page.mouse.up();
  await page.keyboard.up('Shift');
  await page.mouse.wheel(0, -300);
  await page.waitForTimeout(2500);
  const looked = await shot(page, 'Free view of the set');
  expect(difference(before, looked)).toBeGreaterThan(3);
  const stored = await page.evaluate(() => localStorage.getItem('arvex.free-pose'));
  await page.getByRole('button', { name: 'Make camera from this view' }).click();
  await expect(page.getByTestId('camera-chip')).toContainText('Camera 4');
  await saved();
  const project = await arvex.project<{ cameras: Record<string, { name: string; pose: unknown }> }>();
  const made = Object.values(project.cameras).find((camera) => camera.name === 'Camera 4');
  expect(made?.pose).toEqual(JSON.parse(stored ?? 'null'));
  // Picture and free view show the frame at different sizes: what lies inside it is compared.
  await page.waitForTimeout(3000);
  const inFrame = async (frame: string) => {
    const place = (await page.locator(frame).boundingBox()) ?? { x: 0, y: 0, width: 1, height: 1 };
    const clip = { x: place.x + 6, y: place.y + 6, width: place.width - 12, height: place.height - 12 };
    const mask = [page.locator('.lines span, .seen, .actions, .tabs, .notices, .steer')];
    return scaled(await page.screenshot({ clip, mask }));
  };
  const picture = await inFrame('arvex-frame-overlay rect.frame');
  const free = await inFrame('arvex-free-view i.frame');
  expect(meanOf(picture)).toBeGreaterThan(5);
  expect(blurredDifference(picture, free)).toBeLessThan(9);
  await page.keyboard.press('p');
  await expect(page.getByRole('img', { name: 'Plan of the set, north up' }).locator('g.camera')).toHaveCount(5);
});

/** A screenshot as 32 × 18 grey values. */
function scaled(png: Buffer): number[] {
  const scale = ['-v', 'error', '-i', '-', '-vf', 'scale=32:18:flags=area', '-f', 'rawvideo', '-pix_fmt', 'gray', '-'];
  return [...execFileSync('ffmpeg', scale, { input: png })];
}
const meanOf = (values: number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;
/** Middle of the sorted differences: what covers a part of one picture (buttons, read-outs) does not count. */
function blurredDifference(a: number[], b: number[]): number {
  const sorted = a.map((value, i) => Math.abs(value - (b[i] ?? 0))).sort((x, y) => x - y);
  return sorted[Math.floor(sorted.length / 2)] ?? Infinity;
}

test('film back, lens and angle follow each other, everywhere at once', async () => {
  await page.getByRole('button', { name: /^Film back:/ }).click();
  await page.getByRole('menuitemradio', { name: /Full frame/ }).click();
  await page.getByRole('button', { name: '50 mm', exact: true }).click();
  await expect(field('Angle of view')).toHaveValue('39.60'); // 36 × 24 with 50 mm
  await type('Angle of view', '54.4322');
  await expect(field('Focal length')).toHaveValue('35.0');
  await expect(page.getByTestId('camera-chip')).toContainText('35 mm · Full frame');
  const wedge = page.locator('g.camera.current path.view-field');
  const before = await wedge.getAttribute('d');
  const picture = await shot(page, 'The picture');
  await type('Focal length', '35*2');
  await expect(field('Angle of view')).toHaveValue('28.84');
  await expect(wedge).not.toHaveAttribute('d', before ?? '');
  await expect.poll(async () => difference(picture, await shot(page, 'The picture'))).toBeGreaterThan(2);
  const mask = page.locator('arvex-frame-overlay rect.frame');
  const wide = (await mask.boundingBox()) ?? { width: 1, height: 1 };
  expect(wide.width / wide.height).toBeCloseTo(16 / 9, 2);
  await saved();
  const rows = await cameraFrames('Camera 4');
  expect(rows[0]?.aov_h_deg).toBeCloseTo(28.8415, 3);
});

test('a number that cannot be is refused with the reason, and nothing changes', async () => {
  await type('Focal length', '9000');
  await expect(page.getByRole('alert').filter({ hasText: 'Focal length goes from 1 to 2000 mm' })).toBeAttached();
  await type('Focal length', '40 furlongs');
  await expect(page.getByRole('alert').filter({ hasText: 'is not a unit here' })).toBeAttached();
  await field('Focal length').press('Escape');
  await expect(field('Focal length')).toHaveValue('70.0');
});

test('two marks make the camera travel and ease at the ends', async () => {
  await page.keyboard.press('3');
  await page.keyboard.press('Home');
  await page.getByRole('button', { name: 'Mark this pose' }).click();
  for (let second = 0; second < 2; second++) await page.keyboard.press('Shift+ArrowRight');
  await expect(page.getByTestId('frame-number')).toHaveText('1049');
  await page.getByRole('button', { name: /^Place and aim/ }).click();
  const start = Number(await field('East').inputValue());
  await type('East', `${start}+4`);
  await expect(page.getByText('its marks are untouched')).toBeVisible();
  await page.locator('.band').getByRole('button', { name: 'Mark this pose' }).click();
  await expect(page.getByText('2 in 2.00 s')).toBeVisible();
  await saved();
  const rows = await cameraFrames('Camera 4');
  const travelled = (frame: number) => (rows[frame]?.x_m ?? 0) - (rows[0]?.x_m ?? 0);
  expect(travelled(48)).toBeCloseTo(4, 1);
  expect(travelled(24) / travelled(48)).toBeCloseTo(0.5, 6);
  const steps = Array.from({ length: 48 }, (_, i) => travelled(i + 1) - travelled(i));
  expect(steps[0]).toBeLessThan((steps[23] ?? 0) / 10);
  expect(steps[47]).toBeLessThan((steps[23] ?? 0) / 10);
  await page.keyboard.press('Home');
  await expect(seen()).toHaveAttribute('data-frame', '1001');
  const still = await shot(page, 'The picture');
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Stop' })).toBeVisible();
  await expect.poll(async () => Number(await seen().getAttribute('data-frame'))).toBeGreaterThan(1020);
  // The picture goes with it.
  await expect.poll(async () => difference(still, await shot(page, 'The picture'))).toBeGreaterThan(0.5);
  await page.keyboard.press('Space');
});

test('looking about never changes a camera that has marks', async () => {
  const before = await cameraFrames('Camera 4');
  await page.keyboard.press('s');
  const box = (await page.getByLabel('The picture', { exact: true }).boundingBox()) ?? {
    x: 0,
    y: 0,
    width: 0,
    height: 0,
  };
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.waitForTimeout(300);
  await page.mouse.move(box.x + box.width / 2 + 90, box.y + box.height / 2, { steps: 4 });
  await page.mouse.up();
  await expect(page.getByText('its marks are untouched')).toBeVisible();
  await page.getByRole('button', { name: 'Let it go' }).click();
  await page.keyboard.press('s');
  expect(await cameraFrames('Camera 4')).toEqual(before);
});

async function setLength(shotName: string, frames: string): Promise<void> {
  await page.locator(`[data-shot=${shotName}]`).click();
  await expect(field('Name of the shot')).toHaveValue(shotName);
  await type('Length of the shot', frames);
}

test('the cut changes camera on the exact frame, and the screen says so', async () => {
  await page.keyboard.press('4');
  await page.getByRole('radio', { name: 'the cut' }).click();
  await setLength('SL_020', '12');
  await setLength('SL_030', '10');
  await setLength('SL_010', '12');
  await saved();
  await page.keyboard.press('Home');
  const expected = [
    ['SL_010', 'Gallery crane', 12],
    ['SL_020', 'Pier ride', 12],
    ['SL_030', 'Boat, long lens', 10],
  ] as const;
  let frame = 1001;
  for (const [shotName, camera, length] of expected) {
    await expect(seen()).toHaveText(`${shotName} · the cut · ${camera} · ${frame}`);
    for (let i = 0; i < length - 1; i++) await page.keyboard.press('ArrowRight');
    frame += length - 1;
    await expect(seen()).toHaveText(`${shotName} · the cut · ${camera} · ${frame}`);
    await page.keyboard.press('ArrowRight');
    frame += 1;
  }
  const project = await arvex.project<{ head: { id: string }; sequences: Record<string, { id: string }> }>();
  const sequence = Object.keys(project.sequences)[0] ?? '';
  const rows = await arvex.json<Row[]>(`/projects/${project.head.id}/sequences/${sequence}/frames`);
  expect([rows[11]?.camera, rows[12]?.camera, rows.length]).toEqual(['Gallery crane', 'Pier ride', 34]);
  await page.keyboard.press('Home');
  await page.getByRole('button', { name: 'Loop' }).click();
  await page.keyboard.press('Space');
  await expect(seen()).toHaveText('SL_030 · the cut · Boat, long lens · 1034');
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
});

test('a shot is added, moved and taken out again by undo', async () => {
  await page.getByRole('button', { name: 'Add a shot of Boat, long lens' }).click();
  await expect(page.locator('[data-shot]')).toHaveCount(4);
  await page.getByRole('button', { name: 'Earlier in the cut' }).click();
  await expect(page.locator('[data-shot]').nth(2)).toHaveAttribute('data-shot', 'SL_040');
  await page.getByRole('button', { name: 'Undo: Move SL_040' }).click();
  await page.getByRole('button', { name: 'Undo: Add shot SL_040' }).click();
  await expect(page.locator('[data-shot]')).toHaveCount(3);
  await page.getByRole('button', { name: 'Redo: Add shot SL_040' }).click();
  await expect(page.locator('[data-shot]')).toHaveCount(4);
  await page.keyboard.press('Control+z');
  await expect(page.locator('[data-shot]')).toHaveCount(3);
  await saved();
});

test('what is typed belongs to what was shown, also when the next press is elsewhere', async () => {
  await page.keyboard.press('4');
  await page.locator('[data-shot=SL_020]').click();
  await field('Name of the shot').fill('SL_021');
  await page.locator('[data-shot=SL_010]').click();
  await expect(page.locator('[data-shot=SL_021]')).toBeVisible();
  await expect(page.locator('[data-shot=SL_010]')).toBeVisible();
  await page.locator('[data-shot=SL_021]').click();
  await expect(field('Name of the shot')).toHaveValue('SL_021');
  await field('Length of the shot').fill('20');
  await page.locator('[data-shot=SL_010]').click();
  await expect(page.locator('[data-shot=SL_021]')).toContainText('SL_021 20 f');
  await expect(page.locator('[data-shot=SL_010]')).toContainText('SL_010 12 f');
  await page.keyboard.press('Control+z');
  await expect(page.locator('[data-shot=SL_021]')).toContainText('SL_021 12 f');
  await page.keyboard.press('Control+z');
  await expect(page.locator('[data-shot=SL_020]')).toBeVisible();
});

test('the rendered cut is a movie of the right size, rate and length, and the same frames as PNG', async () => {
  await page.keyboard.press('5');
  await quarterWithFrames(page);
  await page.locator('[data-shot=SL_020]').click({ position: { x: 2, y: 40 } });
  await expect(seen()).toHaveText(/SL_020 · the cut/);
  await page.getByRole('button', { name: 'One frame first' }).click();
  await expect(page.getByText('As it will leave:')).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText(/s a frame: about/)).toBeVisible();
  const frameNumber = await page.getByTestId('frame-number').textContent();
  const keeping = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Keep' }).click();
  const download = await keeping;
  expect(download.suggestedFilename()).toBe(`The-Relight.${frameNumber}.png`);
  const alone = readFileSync(await download.path());

  await page.getByRole('button', { name: 'Render the cut' }).click();
  const render = page.locator('.render').first();
  await expect(render).toHaveAttribute('data-state', 'done', { timeout: 120_000 });
  await render.getByRole('button', { name: 'Watch' }).click();
  const video = page.locator('video');
  await expect.poll(() => video.evaluate((movie: HTMLVideoElement) => movie.currentTime)).toBeGreaterThan(0.3);
  expect(await video.evaluate((movie: HTMLVideoElement) => [movie.videoWidth, movie.videoHeight])).toEqual([480, 270]);

  const directory = test.info().outputDir;
  mkdirSync(directory, { recursive: true });
  const address = async (name: string) => (await render.getByRole('link', { name }).getAttribute('href')) ?? '';
  const fetched = async (path: string) => Buffer.from(await (await fetch(arvex.address + path)).arrayBuffer());
  writeFileSync(join(directory, 'movie.mp4'), await fetched(await address('Download the movie')));
  const probe = ['-v', 'error', '-count_frames', '-select_streams', 'v', '-of', 'json', '-show_entries'];
  const entries = 'stream=codec_name,width,height,r_frame_rate,nb_read_frames';
  const facts = execFileSync('ffprobe', [...probe, entries, join(directory, 'movie.mp4')], { encoding: 'utf8' });
  const stream = { codec_name: 'h264', width: 480, height: 270, r_frame_rate: '24/1', nb_read_frames: '34' };
  expect((JSON.parse(facts) as { streams: unknown[] }).streams[0]).toMatchObject(stream);

  writeFileSync(join(directory, 'frames.zip'), await fetched(await address('Download the files')));
  execFileSync('python3', ['-m', 'zipfile', '-e', join(directory, 'frames.zip'), directory]);
  const folder = join(directory, 'v001', 'The-Relight');
  const beside: unknown = JSON.parse(readFileSync(join(folder, 'The-Relight.json'), 'utf8'));
  expect(beside).toMatchObject({
    frameRate: { frames: 24, seconds: 1 },
    firstFrame: 1001,
    widthPx: 480,
    heightPx: 270,
  });
  const pictures = readdirSync(folder)
    .filter((name) => name.endsWith('.png'))
    .sort();
  expect([pictures.length, pictures[0], pictures[33]]).toEqual([34, 'The-Relight.1001.png', 'The-Relight.1034.png']);

  // The same project drawn for one frame and for all of them gives the same file.
  const inTurn = readFileSync(join(folder, `The-Relight.${frameNumber}.png`));
  expect(contrast(greyOf(inTurn))).toBeGreaterThan(20);
  expect(inTurn.equals(alone)).toBe(true);
  await page.getByRole('button', { name: 'Back to the set' }).click();
});

/** Orders the cut at a quarter of the size, as a movie and as PNG. */
async function quarterWithFrames(on: Page): Promise<void> {
  await on.locator('.sentence').getByRole('button', { name: 'Size:' }).click();
  await on.getByRole('radio', { name: 'quarter' }).click();
  await on.locator('.sentence').getByRole('button', { name: 'Samples, lens and shutter:' }).click();
  await on.getByLabel('Samples of each pixel').fill('2');
  await on.locator('.sentence').getByRole('button', { name: 'Formats:' }).click();
  await on.getByRole('checkbox', { name: 'PNG' }).check();
  await on.locator('.sentence').getByRole('button', { name: 'Slate and burn-ins:' }).click();
  await on.getByRole('button', { name: 'None', exact: true }).click();
}

test('a render is cancelled, and says where it stopped', async () => {
  await page.locator('.sentence').getByRole('button', { name: 'Size:' }).click();
  await page.getByRole('radio', { name: 'full' }).click();
  await page.getByRole('button', { name: 'Render the cut' }).click();
  const render = page.locator('.render').first();
  await expect(render).toContainText(/of 34/);
  await render.getByRole('button', { name: 'Cancel' }).click();
  await expect(render).toHaveAttribute('data-state', 'cancelled');
  await expect(render).toContainText(/cancelled at \d+ of 34/);
});

test('a second tab sees the edits of the first, and a reload and a restart keep them', async ({ browser }) => {
  const second = await quickPage(browser);
  await second.goto(arvex.address);
  await second.keyboard.press('4');
  await expect(second.locator('[data-shot=SL_010]')).toBeVisible();
  await page.keyboard.press('4');
  await page.locator('[data-shot=SL_010]').click();
  await type('Name of the shot', 'SL_015');
  await expect(second.locator('[data-shot=SL_015]')).toBeVisible();
  await saved();
  await second.reload();
  await expect(second.locator('[data-shot=SL_015]')).toBeVisible();
  expect(await arvex.interrupt()).toBe(0);
  await arvex.up();
  await page.reload();
  await expect(page.locator('[data-shot=SL_015]')).toBeVisible();
  await expect(page.locator('[data-shot]')).toHaveCount(3);
  await second.close();
});

test('the search finds every action, and the help lists the keys of the step', async () => {
  await page.keyboard.press('Control+k');
  // A pointer that lies where the list comes up chooses nothing by that; one that moves does.
  await page.getByRole('combobox', { name: 'Find an action' }).fill('look thr');
  const second = page.getByRole('option').nth(1);
  const box = (await second.boundingBox()) ?? { x: 0, y: 0, height: 0 };
  const [x, y] = [box.x + 60, box.y + box.height / 2];
  await page.keyboard.press('Escape');
  await page.mouse.move(x, y);
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox', { name: 'Find an action' }).fill('look thr');
  await page.waitForTimeout(300);
  await expect(page.getByRole('option').first()).toHaveAttribute('aria-selected', 'true');
  await page.mouse.move(x + 3, y + 1);
  await expect(second).toHaveAttribute('aria-selected', 'true');
  await page.getByRole('combobox', { name: 'Find an action' }).fill('look thr pier');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('camera-chip')).toContainText('Pier ride');
  await page.keyboard.press('?');
  await expect(page.getByRole('heading', { name: 'Keys in Sequence' })).toBeVisible();
  await page.keyboard.press('Escape');
});
