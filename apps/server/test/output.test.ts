import { execFile } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { promisify } from 'node:util';
import type { Lease, LightMix, Project, Render, RenderJob, RenderOrder } from '@arvex/core';
import { frameFiles, NO_PICTURES, ORDER_DEFAULTS, STEREO_DEFAULTS } from '@arvex/core';
import { exrOf } from '@arvex/interchange/pictures';
import { afterAll, beforeAll, describe, expect, it, onTestFinished } from 'vitest';
import { decode } from 'fast-png';
import { png } from './png';
import type { Served } from './serve';
import { change, ordered, orderOf, projectOn, serve } from './serve';

const run = promisify(execFile);
let served: Served;
beforeAll(async () => void (served = await serve()));
afterAll(() => served.close());

const post = (url: string, payload: object = {}) => served.app.inject({ method: 'POST', url, payload });
const read = async <T>(url: string) => (await served.app.inject(url)).json<T>();
const FORMATS = ORDER_DEFAULTS.formats;

/** Makes the files of all frames that are to be had, each frame another grey, and waits for what is made of them. */
async function drawn(render: Render, most = Infinity): Promise<Render> {
  const job = await read<RenderJob>(`/api/renders/${render.id}/job`);
  const project = await read<Project>(`/api/renders/${render.id}/project`);
  const pixels = new Float32Array(render.widthPx * render.heightPx * 4).fill(0.25);
  const exr = Buffer.from(exrOf({ widthPx: render.widthPx, heightPx: render.heightPx, pixels }, 'half'));
  for (let made = 0; made < most;) {
    const lease = (await post(`/api/renders/${render.id}/leases`, { count: 4 })).json<Lease>();
    if (!lease.frames || lease.frames.length === 0) break;
    for (const index of lease.frames) {
      for (const { role, ending } of frameFiles(project, job.order)) {
        const shade = 40 + index * 4;
        const payload = ending === 'exr' ? exr : png(render.widthPx, render.heightPx, [shade, shade, shade]);
        const headers = { 'content-type': ending === 'exr' ? 'image/x-exr' : 'image/png' };
        const url = `/api/renders/${render.id}/frames/${index}/${role}?lease=${lease.leaseId}`;
        const sent = await served.app.inject({ method: 'PUT', url, payload, headers });
        expect(sent.statusCode, sent.body).toBe(200);
      }
      made += 1;
    }
  }
  let now = await read<Render>(`/api/renders/${render.id}`);
  while (now.state === 'encoding') {
    await sleep(50);
    now = await read<Render>(`/api/renders/${render.id}`);
  }
  return now;
}

/** What ffprobe says of a movie of a render. */
async function probed(render: Render, ending: string): Promise<Record<string, string>[]> {
  const directory = await mkdtemp(join(tmpdir(), 'arvex-test-'));
  onTestFinished(() => rm(directory, { recursive: true }));
  const file = render.files.find(({ path }) => path.endsWith(ending));
  const movie = await served.app.inject(`/api/renders/${render.id}/files/${file?.path}`);
  await writeFile(join(directory, 'movie'), movie.rawPayload);
  const shown = 'codec_name,width,height,r_frame_rate,nb_read_frames,color_space,color_range,duration,pix_fmt';
  const options = ['-v', 'error', '-count_frames', '-of', 'json', '-show_entries', `stream=${shown}:format=duration`];
  const { stdout } = await run('ffprobe', [...options, join(directory, 'movie')]);
  const { streams, format } = JSON.parse(stdout) as { streams: Record<string, string>[]; format: { duration: string } };
  return streams.map((stream) => ({ whole: format.duration, ...stream }));
}

/** A second of a tone at 440 Hz, 48 000 samples a second, 16 bits. */
function tone(): Buffer {
  const samples = 48_000;
  const bytes = Buffer.alloc(44 + samples * 2);
  bytes.write('RIFF', 0);
  bytes.writeUInt32LE(36 + samples * 2, 4);
  bytes.write('WAVEfmt ', 8);
  bytes.writeUInt32LE(16, 16);
  [1, 1].forEach((value, i) => bytes.writeUInt16LE(value, 20 + i * 2));
  bytes.writeUInt32LE(48_000, 24);
  bytes.writeUInt32LE(96_000, 28);
  [2, 16].forEach((value, i) => bytes.writeUInt16LE(value, 32 + i * 2));
  bytes.write('data', 36);
  bytes.writeUInt32LE(samples * 2, 40);
  for (let i = 0; i < samples; i++)
    bytes.writeInt16LE(Math.round(8000 * Math.sin((i * 2 * Math.PI * 440) / 48_000)), 44 + i * 2);
  return bytes;
}

/** A project with a cut of so many frames at a rate, and a sound under it. */
async function cutWithSound(frames: number, rate: Project['head']['rate']) {
  const made = await projectOn(served.app, frames);
  const { files } = served.ground;
  const bytes = tone();
  const { hash } = await files.write([bytes]);
  const assetId = '00000000-0000-4000-8000-0000000000aa';
  const [head] = [(await made.read()).head];
  const file = { kind: 'sound' as const, hash, bytes: bytes.length, durationS: 1, mediaType: 'audio/wav' as const };
  const sound = {
    sequenceId: made.sequence,
    assetId,
    name: 'bell',
    lane: 0,
    startFlicks: 0,
    trimS: 0,
    lengthS: 0.5,
    fadeInS: 0,
    fadeOutS: 0,
    gainDb: 0,
    muted: false,
  };
  const taken = await made.post(
    change('Sound', [
      { op: 'patch', kind: 'project', id: head.id, baseRevision: head.revision, fields: { rate } },
      { op: 'create', kind: 'asset', id: assetId, fields: { name: 'bell', file } },
      { op: 'create', kind: 'sound', id: '00000000-0000-4000-8000-0000000000ab', fields: sound },
    ] as never),
  );
  expect(taken.statusCode, taken.body).toBe(200);
  return made;
}

const movies = (...codecs: readonly ('h264' | 'vp9')[]): RenderOrder['formats'] => ({
  ...FORMATS,
  pictures: NO_PICTURES,
  movies: codecs.map((codec) => ({ codec, by: { kind: 'quality', quality: 50 }, shortGroups: true })),
});

describe('frames that were made before', () => {
  it('are taken by a renderer that would make the same, as long as their files are there', async () => {
    const { project, sequence } = await projectOn(served.app, 3);
    const order = orderOf(sequence, { takesKept: true, formats: { ...FORMATS, movies: [] } });
    const keyed = (index: number) => String(index).repeat(16);
    const lease = async (render: Render) =>
      (await post(`/api/renders/${render.id}/leases`, { count: 3 })).json<Lease>().leaseId;
    const send = async ({ id, widthPx, heightPx }: Render, leaseId: string, index: number) => {
      const url = `/api/renders/${id}/frames/${index}/png?lease=${leaseId}&key=${keyed(index)}`;
      const [payload, headers] = [png(widthPx, heightPx, [9, index, 9]), { 'content-type': 'image/png' }];
      expect((await served.app.inject({ method: 'PUT', url, payload, headers })).statusCode).toBe(200);
    };
    const take = async ({ id }: Render, leaseId: string) => {
      const frames = [0, 1, 2].map((index) => ({ index, key: keyed(index) }));
      const answer = await post(`/api/renders/${id}/leases/${leaseId}/kept`, { frames });
      return answer.json<{ taken?: number[]; type: string }>();
    };
    const [first] = await ordered(served.app, project, order);
    const held = await lease(first!);
    await send(first!, held, 0);
    await send(first!, held, 1);
    const [second] = await ordered(served.app, project, order);
    const own = await lease(second!);
    expect(await take(second!, own)).toEqual({ taken: [0, 1] });
    await send(second!, own, 2);
    await expect.poll(async () => (await read<Render>(`/api/renders/${second?.id}`)).state).toBe('done');
    // Of the first one nothing is left, and what was taken from it stays.
    await served.app.inject({ method: 'DELETE', url: `/api/renders/${first?.id}` });
    await served.ground.room.collect();
    const zip = await served.app.inject(`/api/renders/${second?.id}/files.zip`);
    expect([zip.statusCode, zip.rawPayload.length > 500]).toEqual([200, true]);
    const [third] = await ordered(served.app, project, order);
    await rm(served.ground.files.path(await hashOf(second!.id, 0)));
    expect(await take(third!, await lease(third!))).toEqual({ taken: [1, 2] });
    expect((await take(third!, randomUUID())).type).toContain('lease-lost');
  });
});

async function hashOf(renderId: string, index: number): Promise<string> {
  return (await served.ground.queue.files(renderId, 'png', index))[0]?.hash ?? '';
}

describe('a movie', () => {
  it('has its codec, exact rate, every frame, colour tags, and sound as long as its pictures', async () => {
    const { project, sequence } = await cutWithSound(37, { frames: 24_000, seconds: 1001 });
    const [render] = await ordered(served.app, project, orderOf(sequence, { formats: movies('h264', 'vp9') }));
    const done = await drawn(render!);
    expect(done).toMatchObject({ state: 'done', error: null, hasFrames: false });
    const frames = String(done.frameCount);
    const colour = { color_space: 'bt709', color_range: 'tv' };
    const [h264, aac] = await probed(done, 'mp4');
    expect(h264).toMatchObject({ codec_name: 'h264', r_frame_rate: '24000/1001', nb_read_frames: frames, ...colour });
    const [vp9, opus] = await probed(done, 'webm');
    expect(vp9).toMatchObject({ codec_name: 'vp9', nb_read_frames: frames, ...colour });
    const seconds = (done.frameCount * 1001) / 24_000;
    const halfFrame = 1001 / 48_000;
    expect([aac?.['codec_name'], opus?.['codec_name']]).toEqual(['aac', 'opus']);
    expect(Math.abs(Number(aac?.['duration']) - seconds)).toBeLessThan(halfFrame);
    expect(Math.abs(Number(opus?.['whole']) - seconds)).toBeLessThan(halfFrame * 2);
    expect(await audible(done)).toEqual([true, false]);
  });

  it('of an odd size gets a row and a column, and every third frame plays at its true speed', async () => {
    const { project, sequence } = await projectOn(served.app, 24);
    const size = { kind: 'typed', widthPx: 101, heightPx: 57 } as const;
    const order = orderOf(sequence, {
      size,
      frames: { range: null, step: 3, handles: false },
      formats: movies('h264'),
    });
    const done = await drawn((await ordered(served.app, project, order))[0]!);
    const [video, sound] = await probed(done, 'mp4');
    expect(video).toMatchObject({ width: 102, height: 58, r_frame_rate: '8/1', nb_read_frames: '8' });
    expect(sound?.['codec_name']).toBeUndefined(); // nothing lies under the cut: there is its timecode alone
  });

  it('of transparent pictures keeps their transparency in WebM', async () => {
    const { project, sequence } = await projectOn(served.app, 2);
    const background = { kind: 'transparent', alpha: 'straight', shadow: false } as const;
    const done = await drawn(
      (await ordered(served.app, project, orderOf(sequence, { background, formats: movies('vp9') })))[0]!,
    );
    const file = done.files.find(({ path }) => path.endsWith('webm'));
    const bytes = (await served.app.inject(`/api/renders/${done.id}/files/${file?.path}`)).rawPayload;
    // Matroska says so by its tag (WebM, "AlphaMode"); ffprobe tells of it by the same name.
    expect(bytes.includes(Buffer.from([0x53, 0xc0, 0x81, 0x01]))).toBe(true);
  });

  it('that cannot be encoded says why, and what was made is kept', async () => {
    const { project, sequence } = await projectOn(served.app, 2);
    const [render] = await ordered(
      served.app,
      project,
      orderOf(sequence, { formats: { ...movies('vp9'), pictures: { ...NO_PICTURES, png: { bits: 8 } } } }),
    );
    const path = process.env['PATH'];
    const directory = await mkdtemp(join(tmpdir(), 'arvex-test-'));
    onTestFinished(() => rm(directory, { recursive: true }));
    // An ffmpeg that knows no VP9.
    const script = '#!/bin/sh\necho "Unknown encoder \'libvpx-vp9\'" >&2\ncat > /dev/null\nexit 1\n';
    await writeFile(join(directory, 'ffmpeg'), script, { mode: 0o755 });
    process.env['PATH'] = `${directory}:${path}`;
    const failed = await drawn(render!).finally(() => (process.env['PATH'] = path));
    expect(failed.state).toBe('failed');
    expect(failed.error).toContain('no encoder libvpx-vp9');
    expect(failed.framesDone).toBe(2);
    await post(`/api/renders/${render!.id}/again`);
    expect((await drawn(render!)).state).toBe('done');
  });
});

/** Whether the first and the second half second of a movie are heard. */
async function audible(render: Render): Promise<boolean[]> {
  const file = render.files.find(({ path }) => path.endsWith('mp4'));
  const directory = await mkdtemp(join(tmpdir(), 'arvex-test-'));
  onTestFinished(() => rm(directory, { recursive: true }));
  await writeFile(
    join(directory, 'm.mp4'),
    (await served.app.inject(`/api/renders/${render.id}/files/${file?.path}`)).rawPayload,
  );
  const options = ['-v', 'error', '-i', join(directory, 'm.mp4'), '-f', 's16le', '-ac', '1', '-ar', '48000', 'pipe:1'];
  const { stdout } = await run('ffmpeg', options, { encoding: 'buffer', maxBuffer: 1e9 });
  const loudest = (fromS: number, toS: number) => {
    let most = 0;
    for (let i = Math.round(fromS * 48_000); i < toS * 48_000; i++)
      most = Math.max(most, Math.abs(stdout.readInt16LE(i * 2)));
    return most;
  };
  return [loudest(0.05, 0.45) > 4000, loudest(0.6, 1) > 200];
}

describe('an order', () => {
  it('of several shots makes each its own files in its own folder, which lie where they were asked for', async () => {
    const made = await projectOn(served.app, 3);
    const order = orderOf(made.sequence, {
      what: { kind: 'shots', sequenceId: made.sequence, shotIds: null },
      formats: {
        ...movies('h264'),
        pictures: { ...NO_PICTURES, png: { bits: 8 }, exr: { depth: 'half' } },
        layers: { ...FORMATS.layers, depth: true },
      },
      places: { zip: true, folder: true },
    });
    const [render, ...others] = await ordered(served.app, made.project, order);
    expect([render?.title, others.length]).toEqual(['SH_010', 0]);
    const done = await drawn(render!);
    expect(done.state, done.error ?? '').toBe('done');
    const folder = done.folder ?? '';
    expect((await readdir(folder)).sort()).toEqual(
      ['SH_010.1001.exr', 'SH_010.1001.png', 'SH_010.1002.exr', 'SH_010.1002.png', 'SH_010.1003.exr', 'SH_010.1003.png']
        .concat('SH_010.json', 'SH_010.txt', 'Saltmarsh-Light_SH_010_v001.mp4', 'depth')
        .sort(),
    );
    const facts = JSON.parse(await readFile(join(folder, 'SH_010.json'), 'utf8')) as Record<string, unknown>;
    expect(facts).toMatchObject({
      frameRate: { frames: 24, seconds: 1 },
      firstFrame: 1001,
      widthPx: 192,
      cameras: ['Pier ride'],
    });
    expect(await readFile(join(folder, 'SH_010.txt'), 'utf8')).toContain('24 frames a second, frames 1001 to 1003: 3.');
    const { items, total } = await read<{ items: { path: string }[]; total: number }>(
      `/api/renders/${done.id}/files?limit=3`,
    );
    expect([items.length, total]).toEqual([3, 12]);
    const picture = await served.app.inject(`/api/renders/${done.id}/files/v001/SH_010/depth/SH_010.1002.exr`);
    expect([picture.statusCode, picture.headers['content-type']]).toEqual([200, 'image/x-exr']);
  });

  it('is not given where its names would overwrite what lies there, and never overwrites', async () => {
    const { project, sequence } = await projectOn(served.app, 1);
    const names = { folder: 'always', frames: '{shot}.{frame}', movie: '{part}' };
    const order = orderOf(sequence, {
      formats: { ...FORMATS, movies: [] },
      names,
      places: { zip: true, folder: true },
    });
    const [first] = await ordered(served.app, project, order);
    // Given before the first one is there: both want one place.
    const [second] = await ordered(served.app, project, order);
    const done = await drawn(first!);
    expect(done.state, done.error ?? '').toBe('done');
    const refused = await post(`/api/projects/${project}/orders`, order);
    expect(refused.json<{ detail: string }>().detail).toContain('lies in the output folder already');
    const own = await readFile(join(done.folder ?? '', 'Sequence.txt'), 'utf8');
    expect(await drawn(second!)).toMatchObject({ state: 'failed', framesDone: 1 });
    expect((await read<Render>(`/api/renders/${second!.id}`)).error).toContain('is another file already');
    expect(await readFile(join(done.folder ?? '', 'Sequence.txt'), 'utf8')).toBe(own);
  });

  it('waits and goes on, may be put first in line, and is cancelled as one', async () => {
    const { project, sequence } = await projectOn(served.app, 4);
    const [first] = await ordered(served.app, project, orderOf(sequence));
    const [second] = await ordered(served.app, project, orderOf(sequence));
    const next = async () => (await post('/api/leases', { count: 1 })).json<Lease>();
    await served.ground.sequelize.query(`UPDATE renders SET state = 'cancelled' WHERE id NOT IN (:ids)`, {
      replacements: { ids: [first!.id, second!.id] },
    });
    expect((await next()).renderId).toBe(first!.id);
    await post(`/api/renders/${second!.id}/first`);
    const lease = await next();
    expect(lease.renderId).toBe(second!.id);
    // What is in hand when it is paused is still taken.
    expect((await post(`/api/orders/${second!.orderId}/pause`)).statusCode).toBe(200);
    const url = `/api/renders/${second!.id}/frames/${lease.frames[0]}/png?lease=${lease.leaseId}`;
    const headers = { 'content-type': 'image/png' };
    expect((await served.app.inject({ method: 'PUT', url, payload: png(192, 108), headers })).statusCode).toBe(200);
    expect(await read(`/api/renders/${second!.id}`)).toMatchObject({ state: 'paused', framesDone: 1 });
    expect((await next()).renderId).toBe(first!.id);
    await post(`/api/renders/${second!.id}/go-on`);
    expect((await next()).renderId).toBe(second!.id);
    for (const one of [first, second]) await post(`/api/orders/${one!.orderId}/cancel`);
    expect((await next()).renderId).toBeNull();
    expect((await post(`/api/orders/${second!.orderId}/pause`)).statusCode).toBe(409);
  });

  it('goes on where one frame fails three times, and says which', async () => {
    const { project, sequence } = await projectOn(served.app, 3);
    const [render] = await ordered(served.app, project, orderOf(sequence));
    for (let tries = 0; tries < 3; tries++) {
      const lease = (await post(`/api/renders/${render!.id}/leases`, { count: 1 })).json<Lease>();
      await post(`/api/renders/${render!.id}/frames/${lease.frames[0]}/failure?lease=${lease.leaseId}`, {
        why: 'Too dark.',
      });
    }
    expect(await read(`/api/renders/${render!.id}`)).toMatchObject({ state: 'rendering', framesFailed: 1 });
    const failed = await drawn(render!);
    expect(failed).toMatchObject({ state: 'failed', framesDone: 2, framesFailed: 1 });
    expect(failed.error).toContain('Sequence.1001 could not be made: Too dark.');
    await post(`/api/renders/${render!.id}/again`);
    expect(await drawn(render!)).toMatchObject({ state: 'done', framesDone: 3, framesFailed: 0, error: null });
  });
});

describe('light that was kept apart', () => {
  it.each([null, STEREO_DEFAULTS] as const)(
    'is mixed anew on the finished frames, for each eye by itself (%s)',
    async (eyes) => {
      const { project, sequence, cameraId, post: put, read: now } = await projectOn(served.app, 2);
      const group = '00000000-0000-4000-8000-0000000000ad';
      const level = { stops: 0, tint: '#ffffff', on: true };
      await put(
        change('Group', [{ op: 'create', kind: 'lightGroup', id: group, fields: { name: 'lantern', level } }] as never),
      );
      expect(Object.keys((await now()).lightGroups)).toContain(group);
      const formats = {
        ...FORMATS,
        movies: [],
        pictures: { ...NO_PICTURES, exr: { depth: 'half' as const } },
        layers: { ...FORMATS.layers, lightGroups: true },
      };
      const what = { kind: 'camera-still', cameraId, frame: 0 } as const;
      const stereo = eyes && { ...eyes, layout: 'two-files' as const };
      const [render] = await ordered(served.app, project, orderOf(sequence, { formats, what, stereo }));
      const refused = await post(`/api/renders/${render!.id}/mixes`, { mix: {} });
      expect(refused.json<{ detail: string }>().detail).toContain('not done yet');
      await drawn(render!);
      // Each of four layers holds a quarter of what clips: with the lantern a stop down, two off and the rest as it is, three eighths.
      const others = Object.keys((await now()).lightGroups).filter((id) => id !== group);
      const mix = Object.fromEntries([
        [group, { ...level, stops: -1 }],
        ...others.map((id) => [id, { ...level, on: false }]),
      ]) as LightMix;
      // It is seen before it is made, and nothing is kept of that.
      const look = await post(`/api/renders/${render!.id}/mixed-frame`, { mix, index: 0 });
      expect([look.headers['content-type'], decode(look.rawPayload).data[0]]).toEqual(['image/png', 165]);
      const beyond = await post(`/api/renders/${render!.id}/mixed-frame`, { mix, index: 1 });
      expect(beyond.json<{ detail: string }>().detail).toContain('cannot be mixed');
      const mixed = (await post(`/api/renders/${render!.id}/mixes`, { mix })).json<Render>();
      expect(mixed).toMatchObject({ mixOf: render!.id, frameCount: 1 });
      let done = mixed;
      while (done.state !== 'done' && done.state !== 'failed') {
        await sleep(50);
        done = await read<Render>(`/api/renders/${mixed.id}`);
      }
      expect(done.state, done.error ?? '').toBe('done');
      const picture = decode((await served.app.inject(`/api/renders/${mixed.id}/picture`)).rawPayload);
      expect([picture.width, picture.height, picture.data[0]]).toEqual([192, 108, 165]); // sRGB of 0.375
    },
  );
});

describe('a recipe', () => {
  it('is kept by its name for every project, and deleted', async () => {
    const id = '00000000-0000-4000-8000-0000000000ac';
    const { what: _what, ...order } = orderOf(id);
    const recipe = { name: 'dailies', what: 'cut', order };
    const kept = await served.app.inject({ method: 'PUT', url: `/api/recipes/${id}`, payload: recipe });
    expect([kept.statusCode, kept.json()]).toEqual([200, { ...recipe, id }]);
    expect((await read<{ items: unknown[] }>('/api/recipes')).items).toEqual([{ ...recipe, id }]);
    expect((await served.app.inject({ method: 'DELETE', url: `/api/recipes/${id}` })).statusCode).toBe(200);
    expect(await read('/api/recipes')).toEqual({ items: [], total: 0 });
  });
});
