import { execFile } from 'node:child_process';
import { mkdtemp, readFile, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { promisify } from 'node:util';
import { deleteCamera } from '@arvex/core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Render } from '@arvex/core';

import type { Served } from './serve';
import { change, projectOn, serve } from './serve';

const run = promisify(execFile);
let served: Served;
beforeAll(async () => void (served = await serve()));
afterAll(() => served.close());

const post = (url: string, payload: object) => served.app.inject({ method: 'POST', url, payload });

/** A real PNG of one colour, made by the same tool that reads it later. */
async function png(width: number, height: number): Promise<Buffer> {
  const path = join(await mkdtemp(join(tmpdir(), 'arvex-test-')), 'frame.png');
  await run('ffmpeg', [
    '-loglevel',
    'error',
    '-f',
    'lavfi',
    '-i',
    `color=teal:s=${width}x${height}`,
    '-frames:v',
    '1',
    path,
  ]);
  return readFile(path);
}

function send(render: Render, index: number, leaseId: string, payload: Buffer) {
  const url = `/api/renders/${render.id}/frames/${index}?lease=${leaseId}`;
  return served.app.inject({ method: 'PUT', url, payload, headers: { 'content-type': 'image/png' } });
}

async function startedRender(frames: number): Promise<Render> {
  const { project, sequence } = await projectOn(served.app, frames);
  const answer = await post(`/api/projects/${project}/renders`, { sequenceId: sequence, share: 0.1 });
  expect(answer.statusCode).toBe(201);
  return answer.json<Render>();
}

describe('a render', () => {
  it('becomes a movie and a zip of its frames once all of them are there', async () => {
    const render = await startedRender(5);
    expect(render).toMatchObject({ name: 'v001', widthPx: 192, heightPx: 108, frameCount: 5, framesDone: 0 });
    const frame = await png(192, 108);
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
    const movie = await served.app.inject(`/api/renders/${render.id}/movie.mp4`);
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
    const zip = await served.app.inject(`/api/renders/${render.id}/frames.zip`);
    await writeFile(join(directory, 'frames.zip'), zip.rawPayload);
    const list = await run('python3', ['-m', 'zipfile', '-l', join(directory, 'frames.zip')]);
    expect(list.stdout).toContain('frames.json');
    expect(list.stdout).toContain('SH_010.1005.png');
    const range = await served.app.inject({
      url: `/api/renders/${render.id}/movie.mp4`,
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
    await served.services.sequelize.query(
      'UPDATE frames SET leased_until = NOW(3) - INTERVAL 1 SECOND WHERE render_id = :id',
      { replacements: { id: render.id } },
    );
    const next = (await post(`/api/renders/${render.id}/leases`, { count: 1 })).json<{
      leaseId: string;
      frames: number[];
    }>();
    expect(next.frames).toEqual([0]);
    const late = await send(render, 0, lost.leaseId, await png(192, 108));
    expect(late.statusCode).toBe(409);
    expect(late.json()).toMatchObject({ type: '/problems/lease-lost', field: 'lease' });
  });

  it('refuses pictures of another size, half pictures, and anything after it is cancelled', async () => {
    const render = await startedRender(2);
    const { leaseId } = (await post(`/api/renders/${render.id}/leases`, { count: 2 })).json<{ leaseId: string }>();
    expect((await send(render, 0, leaseId, await png(96, 54))).json()).toMatchObject({
      type: '/problems/invalid-picture',
    });
    const half = (await png(192, 108)).subarray(0, 60);
    expect((await send(render, 0, leaseId, half)).statusCode).toBe(422);
    expect((await post(`/api/renders/${render.id}/cancel`, {})).json()).toMatchObject({
      state: 'cancelled',
      framesDone: 0,
    });
    expect((await send(render, 0, leaseId, await png(192, 108))).json()).toMatchObject({
      type: '/problems/render-over',
    });
    expect((await post(`/api/renders/${render.id}/leases`, { count: 1 })).statusCode).toBe(409);
    expect((await served.app.inject(`/api/renders/${render.id}/movie.mp4`)).statusCode).toBe(404);
  });

  it('is not begun for an empty cut or a shot without a camera', async () => {
    const empty = await projectOn(served.app);
    const answer = await post(`/api/projects/${empty.project}/renders`, { sequenceId: empty.sequence });
    expect(answer.json()).toMatchObject({ status: 422, type: '/problems/not-ready' });
    const blind = await projectOn(served.app, 3);
    await blind.post(change('Delete', deleteCamera(await blind.read(), blind.cameraId).operations));
    const refused = await post(`/api/projects/${blind.project}/renders`, { sequenceId: blind.sequence });
    expect(refused.json<{ detail: string }>().detail).toContain('SH_010 has no camera');
  });
});
