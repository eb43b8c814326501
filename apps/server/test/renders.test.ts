import { execFile } from 'node:child_process';
import { mkdtemp, rm, utimes, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { promisify } from 'node:util';
import { deleteCamera } from '@arvex/core';
import { QueryTypes } from 'sequelize';
import { afterAll, beforeAll, describe, expect, it, onTestFinished } from 'vitest';
import type { Render } from '@arvex/core';

import { png } from './png';
import type { Served } from './serve';
import { change, ordered, orderOf, projectOn, serve } from './serve';

const run = promisify(execFile);
let served: Served;
beforeAll(async () => void (served = await serve()));
afterAll(() => served.close());

const post = (url: string, payload: object) => served.app.inject({ method: 'POST', url, payload });

function send(render: Render, index: number, leaseId: string, payload: Buffer) {
  const url = `/api/renders/${render.id}/frames/${index}/png?lease=${leaseId}`;
  return served.app.inject({ method: 'PUT', url, payload, headers: { 'content-type': 'image/png' } });
}

async function startedRender(frames: number): Promise<Render> {
  const { project, sequence } = await projectOn(served.app, frames);
  const [render] = await ordered(served.app, project, orderOf(sequence));
  return render!;
}

describe('a render', () => {
  it('becomes a movie and a zip of its frames once all of them are there', async () => {
    const render = await startedRender(5);
    expect(render).toMatchObject({ name: 'v001', widthPx: 192, heightPx: 108, frameCount: 5, framesDone: 0 });
    const frame = png(192, 108);
    for (let done = 0; done < 5;) {
      const lease = (await post(`/api/renders/${render.id}/leases`, { count: 2 })).json<{
        leaseId: string;
        frames: number[];
      }>();
      for (const index of lease.frames) expect((await send(render, index, lease.leaseId, frame)).statusCode).toBe(200);
      done += lease.frames.length;
    }
    let now = render;
    while (now.state !== 'done' && now.state !== 'failed') {
      await sleep(50);
      now = (await served.app.inject(`/api/renders/${render.id}`)).json<Render>();
    }
    const directory = await mkdtemp(join(tmpdir(), 'arvex-test-'));
    onTestFinished(() => rm(directory, { recursive: true }));
    const movieAt = `/api/renders/${render.id}/files/v001/Sequence/Saltmarsh-Light_Sequence_v001.mp4`;
    const movie = await served.app.inject(movieAt);
    await writeFile(join(directory, 'movie.mp4'), movie.rawPayload);
    const probe = await run('ffprobe', [
      '-v',
      'error',
      '-count_frames',
      '-select_streams',
      'v',
      '-of',
      'json',
      '-show_entries',
      'stream=codec_name,width,height,r_frame_rate,nb_read_frames',
      join(directory, 'movie.mp4'),
    ]);
    const facts = { codec_name: 'h264', width: 192, height: 108, r_frame_rate: '24/1', nb_read_frames: '5' };
    expect(JSON.parse(probe.stdout).streams[0]).toMatchObject(facts);
    const zip = await served.app.inject(`/api/renders/${render.id}/files.zip`);
    await writeFile(join(directory, 'frames.zip'), zip.rawPayload);
    const list = await run('python3', ['-m', 'zipfile', '-l', join(directory, 'frames.zip')]);
    for (const name of ['Sequence.json', 'Sequence.txt', 'Sequence.1005.png'])
      expect(list.stdout).toContain(`v001/Sequence/${name}`);
    const range = await served.app.inject({
      url: movieAt,
      headers: { range: 'bytes=0-99' },
    });
    expect([range.statusCode, range.rawPayload.length]).toEqual([206, 100]);
  });

  it('gives different frames to renderers that ask at the same time', async () => {
    const render = await startedRender(40);
    const leases = await Promise.all(
      Array.from({ length: 10 }, () => post(`/api/renders/${render.id}/leases`, { count: 4 })),
    );
    const frames = leases.flatMap((answer) => answer.json<{ frames: number[] }>().frames);
    expect(new Set(frames).size).toBe(frames.length);
  });

  it('gives a lost renderer’s frames to others, and refuses what the lost one still sends', async () => {
    const render = await startedRender(1);
    const lost = (await post(`/api/renders/${render.id}/leases`, { count: 1 })).json<{ leaseId: string }>();
    // Its time is over, however fast or slow this machine is.
    await served.ground.sequelize.query(
      'UPDATE frames SET leased_until = NOW(3) - INTERVAL 1 SECOND WHERE render_id = :id',
      { replacements: { id: render.id } },
    );
    const next = (await post(`/api/renders/${render.id}/leases`, { count: 1 })).json<{
      leaseId: string;
      frames: number[];
    }>();
    expect(next.frames).toEqual([0]);
    const late = await send(render, 0, lost.leaseId, png(192, 108));
    expect(late.statusCode).toBe(409);
    expect(late.json()).toMatchObject({ type: '/problems/lease-lost', field: 'lease' });
  });

  it('gives others at once what a renderer held that begins anew', async () => {
    const render = await startedRender(2);
    const lease = async (renderer: string) =>
      (await post(`/api/renders/${render.id}/leases`, { count: 2, renderer })).json<{ frames: number[] }>().frames;
    const held = [await lease('tab'), await lease('other')];
    expect((await post('/api/renderers/other/begin', {})).json()).toEqual({ freed: 0 });
    expect((await post('/api/renderers/tab/begin', {})).json()).toEqual({ freed: 2 });
    expect([...held, await lease('other')]).toEqual([[0, 1], [], [0, 1]]);
  });

  it('refuses pictures of another size, half pictures, and anything after it is cancelled', async () => {
    const render = await startedRender(2);
    const { leaseId } = (await post(`/api/renders/${render.id}/leases`, { count: 2 })).json<{ leaseId: string }>();
    expect((await send(render, 0, leaseId, png(96, 54))).json()).toMatchObject({
      type: '/problems/invalid-picture',
    });
    const half = png(192, 108).subarray(0, 60);
    expect((await send(render, 0, leaseId, half)).statusCode).toBe(422);
    expect((await post(`/api/renders/${render.id}/cancel`, {})).json()).toMatchObject({
      state: 'cancelled',
      framesDone: 0,
    });
    expect((await send(render, 0, leaseId, png(192, 108))).json()).toMatchObject({
      type: '/problems/render-over',
    });
    expect((await post(`/api/renders/${render.id}/leases`, { count: 1 })).statusCode).toBe(409);
    expect((await served.app.inject(`/api/renders/${render.id}/files.zip`)).statusCode).toBe(404);
  });

  it('takes no frame that is not whole: bytes, chunks or rows that are wrong, and two pictures in one', async () => {
    const render = await startedRender(1);
    const { leaseId } = (await post(`/api/renders/${render.id}/leases`, { count: 1 })).json<{ leaseId: string }>();
    const whole = png(192, 108);
    for (const at of [20, whole.length >> 1, whole.length - 20, whole.length - 2]) {
      const flipped = Buffer.from(whole);
      flipped[at] = (flipped[at] ?? 0) ^ 0x10;
      expect((await send(render, 0, leaseId, flipped)).statusCode, `byte ${at}`).toBe(422);
    }
    // A header that is right over rows that are not there.
    const other = png(96, 54);
    const header = whole.subarray(0, 33);
    for (const wrong of [Buffer.concat([header, other.subarray(33)]), Buffer.concat([whole, whole])]) {
      expect((await send(render, 0, leaseId, wrong)).json()).toMatchObject({ type: '/problems/invalid-picture' });
    }
    expect((await send(render, 0, leaseId, whole)).statusCode).toBe(200);
  });

  it('is told of frames that cannot be made: the third time ends it with the reason, and it can be taken up again', async () => {
    const render = await startedRender(1);
    for (let tries = 1; tries <= 3; tries++) {
      const { leaseId } = (await post(`/api/renders/${render.id}/leases`, { count: 1 })).json<{ leaseId: string }>();
      const url = `/api/renders/${render.id}/frames/0/failure?lease=${leaseId}`;
      const now = (await post(url, { why: 'The file of "hut" is missing.' })).json<Render>();
      expect(now.state).toBe(tries < 3 ? 'rendering' : 'failed');
      if (tries === 3) expect(now.error).toBe('Frame Sequence.1001 could not be made: The file of "hut" is missing.');
    }
    expect((await post(`/api/renders/${render.id}/leases`, { count: 1 })).json()).toMatchObject({ status: 409 });
    expect((await post(`/api/renders/${render.id}/again`, {})).json()).toMatchObject({
      state: 'rendering',
      error: null,
    });
    expect((await post(`/api/renders/${render.id}/leases`, { count: 1 })).json()).toMatchObject({ frames: [0] });
  });

  it('lets a lease go on while its renderer lives, takes back what is given back, and minds no clock that was set back', async () => {
    const render = await startedRender(3);
    const lease = () => post(`/api/renders/${render.id}/leases`, { count: 3 });
    const { leaseId } = (await lease()).json<{ leaseId: string }>();
    const until = (sign: string) =>
      served.ground.sequelize.query(
        `UPDATE frames SET leased_until = NOW(3) ${sign} INTERVAL 3 DAY WHERE render_id = :id AND state = 'leased'`,
        { replacements: { id: render.id } },
      );
    await until('-');
    expect((await post(`/api/renders/${render.id}/leases/${leaseId}`, {})).statusCode).toBe(200);
    expect((await send(render, 0, leaseId, png(192, 108))).statusCode).toBe(200);
    const given = await served.app.inject({ method: 'DELETE', url: `/api/renders/${render.id}/leases/${leaseId}` });
    expect([given.statusCode, (await lease()).json<{ frames: number[] }>().frames]).toEqual([200, [1, 2]]);
    // As if it had been given three days from now, before the clock was set back.
    await until('+');
    expect((await lease()).json()).toMatchObject({ frames: [1, 2] });
  });

  it('is deleted with its frames, whose files are collected; what projects and their history name stays', async () => {
    const { files, room, sequelize } = served.ground;
    const render = await startedRender(1);
    const { leaseId } = (await post(`/api/renders/${render.id}/leases`, { count: 1 })).json<{ leaseId: string }>();
    await send(render, 0, leaseId, png(192, 108));
    const [row] = await sequelize.query<{ hash: string }>('SELECT hash FROM frame_files WHERE render_id = :id', {
      replacements: { id: render.id },
      type: QueryTypes.SELECT,
    });
    const hash = row?.hash ?? '';
    const old = new Date(Date.now() - 7_200_000);
    const makeOld = () => utimes(files.path(hash), old, old);
    await makeOld();
    await room.collect();
    expect(await files.has(hash)).toBe(true);
    expect((await room.taken(render.projectId)).projectBytes).toBeGreaterThan(0);
    expect((await served.app.inject({ method: 'DELETE', url: `/api/renders/${render.id}` })).statusCode).toBe(200);
    await sequelize.query('DELETE FROM renders');
    expect(await room.collect()).toBeGreaterThan(0);
    expect(await files.has(hash)).toBe(false);
    expect((await served.app.inject(`/api/renders/${render.id}`)).statusCode).toBe(404);
  });

  it('has the next number even when several are asked for at once, and no more frames than one render takes', async () => {
    const { project, sequence, post: put, read } = await projectOn(served.app, 2);
    const asked = await Promise.all(Array.from({ length: 4 }, () => ordered(served.app, project, orderOf(sequence))));
    expect(asked.map(([first]) => first?.name).sort()).toEqual(['v001', 'v002', 'v003', 'v004']);
    const [shot] = Object.values((await read()).shots);
    const operation = { op: 'patch' as const, kind: 'shot' as const, id: shot!.id, baseRevision: shot!.revision };
    await put(change('Long', [{ ...operation, fields: { durationFlicks: 96_000_000 * 29_400_000 } }]));
    const refused = await post(`/api/projects/${project}/orders`, orderOf(sequence));
    expect(refused.json()).toMatchObject({ status: 422, field: 'frames' });
  });

  it('is not begun for an empty cut or a shot without a camera', async () => {
    const empty = await projectOn(served.app);
    const answer = await post(`/api/projects/${empty.project}/orders`, orderOf(empty.sequence));
    expect(answer.json()).toMatchObject({ status: 422, type: '/problems/not-ready' });
    const blind = await projectOn(served.app, 3);
    await blind.post(change('Delete', deleteCamera(await blind.read(), blind.cameraId).operations));
    const refused = await post(`/api/projects/${blind.project}/orders`, orderOf(blind.sequence));
    expect(refused.json<{ detail: string }>().detail).toContain('SH_010 has no camera');
  });
});
