import { execFile } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { readFile, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { promisify } from 'node:util';
import type { Lease, Render } from '@arvex/core';
import { ORDER_DEFAULTS, SOUND_RATE } from '@arvex/core';
import { tiffOf } from '@arvex/interchange/pictures';
import { QueryTypes, Sequelize } from 'sequelize';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { withoutWork } from '../src/database/connection';
import { migrate } from '../src/database/migrate';
import { deliver } from '../src/features/renders/deliver';
import { wrongFile } from '../src/features/renders/frame-check';
import { mixSound, SOUND_CHANNELS } from '../src/features/renders/mix-sound';
import { decoded, soundFacts } from '../src/media/read-sound';
import { checkedPng } from '../src/files/png-check';
import { Slots } from '../src/turns/slots';
import { png } from './png';
import type { Served } from './serve';
import { change, ordered, orderOf, projectOn, serve } from './serve';

const run = promisify(execFile);
let served: Served;
beforeAll(async () => void (served = await serve()));
afterAll(() => served.close());

const post = (url: string, payload: object = {}) => served.app.inject({ method: 'POST', url, payload });
const read = async <T>(url: string) => (await served.app.inject(url)).json<T>();
const PICTURES = { ...ORDER_DEFAULTS.formats, movies: [] };

/** Sends the frames of a render that are to be had, each of another grey. */
async function drawn(render: Render): Promise<void> {
  for (;;) {
    const lease = (await post(`/api/renders/${render.id}/leases`, { count: 4 })).json<Lease>();
    if (!lease.frames || lease.frames.length === 0) return;
    for (const index of lease.frames) {
      const url = `/api/renders/${render.id}/frames/${index}/png?lease=${lease.leaseId}`;
      const payload = png(render.widthPx, render.heightPx, [40 + index, 0, 0]);
      await served.app.inject({ method: 'PUT', url, payload, headers: { 'content-type': 'image/png' } });
    }
  }
}

async function ended(render: Render, states: readonly string[]): Promise<Render> {
  for (let tries = 0; ; tries++) {
    const now = await read<Render>(`/api/renders/${render.id}`);
    if (states.includes(now.state) || tries > 200) return now;
    await sleep(25);
  }
}

describe('an order', () => {
  it('is given once however often it is sent, and its version never comes again', async () => {
    const { project, sequence } = await projectOn(served.app, 2);
    const id = randomUUID();
    const order = orderOf(sequence, { formats: PICTURES });
    const send = () => post(`/api/projects/${project}/orders?id=${id}`, order);
    const [first, second] = [await send(), await send()].map((one) =>
      one.json<{ orderId: string; renders: Render[] }>(),
    );
    expect([first?.orderId, second?.orderId]).toEqual([id, id]);
    expect((await read<{ total: number }>(`/api/projects/${project}/renders`)).total).toBe(1);
    const [render] = first?.renders ?? [];
    expect(render?.name).toBe('v001');
    await served.app.inject({ method: 'DELETE', url: `/api/renders/${render!.id}` });
    const [next] = await ordered(served.app, project, order);
    expect(next?.name).toBe('v002');
  });

  it('whose frame has lost its file draws that one again, by itself and when it is taken up', async () => {
    const { files } = served.ground;
    const { project, sequence } = await projectOn(served.app, 3);
    const [render] = await ordered(
      served.app,
      project,
      orderOf(sequence, { formats: { ...PICTURES, movies: ORDER_DEFAULTS.formats.movies } }),
    );
    const lease = (await post(`/api/renders/${render!.id}/leases`, { count: 1 })).json<Lease>();
    const payload = png(render!.widthPx, render!.heightPx, [9, 9, 9]);
    const url = `/api/renders/${render!.id}/frames/${lease.frames[0]}/png?lease=${lease.leaseId}`;
    await served.app.inject({ method: 'PUT', url, payload, headers: { 'content-type': 'image/png' } });
    const [row] = await served.ground.sequelize.query<{ hash: string }>(
      'SELECT hash FROM frame_files WHERE render_id = :id',
      { replacements: { id: render!.id }, type: QueryTypes.SELECT },
    );
    await rm(files.path(row?.hash ?? ''));
    await drawn(render!);
    const waits = await ended(render!, ['rendering', 'done', 'failed']);
    expect([waits.state, waits.framesDone]).toEqual(['rendering', 2]);
    await drawn(render!);
    expect((await ended(render!, ['done', 'failed'])).state).toBe('done');
  });
});

describe('files', () => {
  it('that two send are kept where one of them takes his back', async () => {
    const { files } = served.ground;
    const [one, two] = [await files.write([Buffer.from('the same')]), await files.write([Buffer.from('the same')])];
    await files.discard(one);
    expect(await files.has(two.hash)).toBe(true);
    const alone = await files.write([Buffer.from('alone')]);
    await files.discard(alone);
    expect(await files.has(alone.hash)).toBe(false);
  });

  it('that are delivered share nothing with the store', async () => {
    const { files } = served.ground;
    const { hash } = await files.write([Buffer.from('a frame')]);
    const folder = join(files.path(hash), '../../delivered');
    await deliver(folder, [{ path: 'a/frame.png', hash }], files);
    await writeFile(join(folder, 'a/frame.png'), 'painted over');
    expect(await readFile(files.path(hash), 'utf8')).toBe('a frame');
    await expect(deliver(folder, [{ path: '../out.png', hash }], files)).rejects.toThrow('outside the output folder');
    await expect(deliver(folder, [{ path: 'a/frame.png', hash }], files)).rejects.toThrow('another file already');
  });

  it('that a change names have to be here: it is told which one is not', async () => {
    const { post: put } = await projectOn(served.app);
    const hash = 'f'.repeat(64);
    const file = { kind: 'sound', hash, bytes: 4, durationS: 1, mediaType: 'audio/wav' };
    const made = () =>
      change('Bell', [{ op: 'create', kind: 'asset', id: randomUUID(), fields: { name: 'bell', file } }] as never);
    const refused = await put(made());
    expect([refused.statusCode, refused.json()]).toEqual([
      409,
      expect.objectContaining({ type: '/problems/file-missing', file: { kind: 'sound', hash } }),
    ]);
  });

  it('of sound that cannot be decoded fail with a word, and are not kept by a browser', async () => {
    const { files } = served.ground;
    const { hash } = await files.write([Buffer.from('no sound at all')]);
    const part = { from: 0, count: 48_000, rate: 48_000, channels: 1 };
    await expect(decoded(files.path(hash), part, new AbortController().signal)).rejects.toThrow('cannot be decoded');
    const answer = await served.app.inject(`/api/sounds/${hash}/samples?count=48000`);
    expect([answer.statusCode, answer.headers['cache-control']]).toEqual([422, undefined]);
  });

  it('of sound that are cut off do not come in, and what fades in and out is mixed as loud as its times say', async () => {
    const { files } = served.ground;
    const [whole, mp3] = ['steady.wav', 'steady.mp3'].map((name) => join(files.path('0'.repeat(64)), '../..', name));
    const steady = ['-f', 'lavfi', '-i', 'aevalsrc=0.5|0.5:s=48000:d=2'];
    for (const to of [whole, mp3]) await run('ffmpeg', ['-v', 'error', '-y', ...steady, to as string]);
    const bytes = await readFile(mp3 as string);
    const half = await files.write([bytes.subarray(0, bytes.length / 2)]);
    await expect(soundFacts(files.path(half.hash))).rejects.toThrow(/cut off: it says 2\.\d s and holds/);
    const { hash } = await files.write([await readFile(whole as string)]);
    const asset = { id: 'asset', file: { hash } };
    const part = { sound: { assetId: 'asset', name: 'steady' }, at: SOUND_RATE / 4, count: SOUND_RATE, fileFrom: 0 };
    const gains = [
      [0, 0],
      [SOUND_RATE / 2, 1],
      [SOUND_RATE, 0],
    ];
    const target = `${whole}.mixed`;
    await mixSound(
      { assets: { asset } } as never,
      { count: 1.5 * SOUND_RATE, parts: [{ ...part, gains }] } as never,
      files,
      target,
      new AbortController().signal,
    );
    const mixed = await readFile(target);
    const loud = (atS: number) => mixed.readFloatLE(Math.round(atS * SOUND_RATE) * SOUND_CHANNELS * 4);
    expect(mixed.length).toBe(1.5 * SOUND_RATE * SOUND_CHANNELS * 4);
    const heard = [0.1, 0.25, 0.5, 0.75, 1, 1.4].map((atS) => Number(loud(atS).toFixed(3)));
    expect(heard).toEqual([0, 0, 0.25, 0.5, 0.25, 0]);
  });

  it('are measured so many at once and no more, whoever comes as one ends', async () => {
    const slots = new Slots(2, 100);
    let [busy, most] = [0, 0];
    const work = () =>
      slots.within(async () => {
        most = Math.max(most, ++busy);
        await sleep(1);
        busy -= 1;
      });
    const later: Promise<void>[] = [];
    const first = slots.within(async () => {
      busy += 1;
      await sleep(1);
      busy -= 1;
      // Others come in each moment about the one in which this ends.
      for (let ticks = 0; ticks < 8; ticks++) {
        let moment = Promise.resolve();
        for (let i = 0; i < ticks; i++) moment = moment.then(() => undefined);
        later.push(moment.then(work));
      }
    });
    await Promise.all([first, ...Array.from({ length: 6 }, work)]);
    await Promise.all(later);
    expect([busy, most]).toEqual([0, 2]);
  });

  it('that say more than they are take no time and no room', async () => {
    const job = {
      order: orderOf(randomUUID(), { size: { kind: 'typed', widthPx: 96, heightPx: 54 } }),
      part: { runs: [], frameWidthPx: 96, frameHeightPx: 54 },
    };
    const hostile = Buffer.alloc(17_000_000, 1);
    hostile.writeUInt32LE(20_000_630, 0);
    const exr = { format: 'exr' } as const;
    expect(await wrongFile(job as never, exr, hostile)).toContain('not a whole OpenEXR');
    const tiff = Buffer.from(tiffOf({ widthPx: 96, heightPx: 54, channels: 3, data: new Uint16Array(96 * 54 * 3) }));
    expect(await wrongFile(job as never, { format: 'tiff' }, tiff)).toBeUndefined();
    for (const end of [4, 30, tiff.length - 4])
      expect(await wrongFile(job as never, { format: 'tiff' }, tiff.subarray(0, end))).toContain('not a whole TIFF');
    // A header that says twenty thousand pixels each way, and rows that are not there.
    const huge = Buffer.from(png(96, 54));
    huge.writeUInt32BE(20_000, 16);
    expect(await checkedPng(huge)).toBeUndefined();
    expect(await checkedPng(Buffer.from(png(96, 54)))).toEqual({ width: 96, height: 54 });
    expect(await checkedPng(Buffer.from(png(96, 54)).subarray(0, -20))).toBeUndefined();
  });
});

describe('a database', () => {
  it('is never quoted in a log: neither a statement nor what it holds', async () => {
    const { host, port, database, user, password } = served.address;
    const sequelize = new Sequelize(database, user, password, { host, port, dialect: 'mysql', logging: false });
    const failed: unknown = await sequelize
      .query("INSERT INTO nowhere VALUES ('the widow of the lighthouse')")
      .catch((error: unknown) => error);
    await sequelize.close();
    const told = JSON.stringify(withoutWork(failed));
    expect(told).toContain('ER_NO_SUCH_TABLE');
    expect(told).not.toMatch(/widow|INSERT|nowhere/);
  });

  it('that a newer Arvex has written is not opened', async () => {
    const { host, port, database, user, password } = served.address;
    const other = new Sequelize(database, user, password, { dialect: 'mysql', host, port, logging: false });
    try {
      await other.query("INSERT INTO migrations (name) VALUES ('9999-the-future/01')");
      await expect(migrate(other)).rejects.toThrow('written by a newer Arvex (9999-the-future/01)');
    } finally {
      await other.query("DELETE FROM migrations WHERE name LIKE '9999%'");
      await other.close();
    }
  });
});
