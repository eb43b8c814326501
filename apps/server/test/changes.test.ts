import type { AppliedChange, Operation, Project } from '@arvex/core';
import { CAMERA_DEFAULTS, deleteCamera, packageOf, setCamera } from '@arvex/core';
import fc from 'fast-check';
import { randomUUID } from 'node:crypto';
import { get } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { jsonInTurns } from '../src/turns/in-turns';
import type { Served } from './serve';
import { change, projectOn, serve } from './serve';

let served: Served;
beforeAll(async () => void (served = await serve()));
afterAll(() => served.close());

describe('projects', () => {
  it('are copied as they are, each going its own way from then on', async () => {
    const { read, post, cameraId } = await projectOn(served.app);
    const before = await read();
    const id = randomUUID();
    const copied = await served.app.inject({
      method: 'POST',
      url: `/api/projects/${before.head.id}/copy`,
      payload: { id, name: 'Second' },
    });
    expect(copied.statusCode).toBe(201);
    const copy = (await served.app.inject({ url: `/api/projects/${id}` })).json<Project>();
    expect(copy).toEqual({ ...before, seq: 0, head: { ...before.head, id, name: 'Second' } });
    await post(change('Name', setCamera(before, cameraId, 'Name', { name: 'Only here' }).operations));
    const still = (await served.app.inject({ url: `/api/projects/${id}` })).json<Project>();
    expect(still.cameras[cameraId]?.name).toBe(before.cameras[cameraId]?.name);
  });

  it('are deleted with everything of theirs, and others stay', async () => {
    const [gone, kept] = [await projectOn(served.app), await projectOn(served.app)];
    const [project, other] = [await gone.read(), await kept.read()];
    await gone.post(change('Name', setCamera(project, gone.cameraId, 'Name', { name: 'Once' }).operations));
    const url = `/api/projects/${project.head.id}`;
    expect((await served.app.inject({ method: 'DELETE', url })).json()).toEqual({ deleted: true });
    expect((await served.app.inject({ url })).statusCode).toBe(404);
    expect((await served.app.inject({ method: 'DELETE', url })).statusCode).toBe(404);
    const late = change('Late', setCamera(project, gone.cameraId, 'Name', { name: 'Late' }).operations);
    expect((await gone.post(late)).statusCode).toBe(404);
    expect(await kept.read()).toEqual(other);
  });
});

describe('changes', () => {
  it('are applied once, however often they are sent', async () => {
    const { post, read, cameraId } = await projectOn(served.app);
    const before = await read();
    const edit = change('Name', setCamera(before, cameraId, 'Name', { name: 'Pier, closer' }).operations);
    const [first, second] = [await post(edit), await post(edit)];
    expect(first.json()).toEqual({ seq: before.seq + 1 });
    expect(second.json()).toEqual({ seq: before.seq + 1, change: edit });
    expect((await read()).cameras[cameraId]).toMatchObject({ name: 'Pier, closer', revision: edit.id });
  });

  it('from an old revision are told with the version that is there, and nothing is overwritten', async () => {
    const { post, read, cameraId } = await projectOn(served.app);
    const before = await read();
    await post(change('Theirs', setCamera(before, cameraId, 'Name', { name: 'Theirs' }).operations));
    const answer = await post(change('Mine', setCamera(before, cameraId, 'Name', { name: 'Mine' }).operations));
    expect(answer.statusCode).toBe(409);
    expect(answer.headers['content-type']).toContain('application/problem+json');
    expect(answer.json()).toMatchObject({ type: '/problems/stale-revision', theirs: { name: 'Theirs' } });
    expect((await read()).cameras[cameraId]?.name).toBe('Theirs');
  });

  it('apply whole or not at all', async () => {
    const { post, read, cameraId } = await projectOn(served.app);
    const before = await read();
    const good = setCamera(before, cameraId, 'Name', { name: 'Half' }).operations;
    const lens = { ...CAMERA_DEFAULTS.lens, focalLengthMm: -1 };
    const bad = setCamera(before, cameraId, 'Lens', { lens }).operations;
    const answer = await post(change('Half a change', [...good, ...bad]));
    expect(answer.statusCode).toBe(422);
    expect(answer.json()).toMatchObject({ field: 'camera.lens.focalLengthMm' });
    expect(await read()).toEqual(before);
  });

  it('made at the same time from one revision: exactly one wins', async () => {
    const { post, read, cameraId } = await projectOn(served.app);
    const before = await read();
    const edits = Array.from({ length: 8 }, (_, i) =>
      change(`Edit ${i}`, setCamera(before, cameraId, 'Name', { name: `Name ${i}` }).operations),
    );
    const codes = (await Promise.all(edits.map(post))).map((answer) => answer.statusCode).sort();
    expect(codes).toEqual([200, 409, 409, 409, 409, 409, 409, 409]);
    expect((await read()).seq).toBe(before.seq + 1);
  });

  it('that leave a shot without its camera by deletion alone are refused; the whole edit passes', async () => {
    const { post, read, cameraId } = await projectOn(served.app, 10);
    const project: Project = await read();
    const whole = deleteCamera(project, cameraId).operations;
    const alone = await post(
      change(
        'Only delete',
        whole.filter((operation) => operation.op === 'delete'),
      ),
    );
    expect(alone.statusCode).toBe(409);
    expect((await post(change('Delete', whole))).statusCode).toBe(200);
    expect(Object.values((await read()).shots)[0]?.cameraId).toBeNull();
  });

  it('are listed after a place in the history', async () => {
    const { post, read, cameraId, project } = await projectOn(served.app);
    const { seq } = await read();
    const edit = change('Name', setCamera(await read(), cameraId, 'Name', { name: 'Later' }).operations);
    await post(edit);
    const answer = await served.app.inject(`/api/projects/${project}/changes?after=${seq}`);
    expect(answer.json()).toEqual({ items: [{ seq: seq + 1, ...stamped, change: edit }] });
  });
});

/** A move with so many keys in each of some curves: large to send. */
const baked = (cameraId: string, keys: number) => {
  const curve = Array.from({ length: keys }, (_, i) => ({
    atFlicks: i * 29_400_000,
    value: Math.sin(i),
    shape: 'smooth',
  }));
  const curves = { pan: curve, tilt: curve, roll: curve, positionX: curve };
  return [
    { op: 'create', kind: 'move', id: cameraId, fields: { cameraId, curves, after: {}, marks: [] } },
  ] as Operation[];
};

/** By whoever works alone, at some time. */
const stamped = { author: 'you', at: expect.any(String) as string };

describe('the events of a project', () => {
  it('say how far it is, then each change to all who listen; of a large one that it is there', async () => {
    const { post, read, cameraId, project } = await projectOn(served.app);
    if (!served.app.server.listening) await served.app.listen({ host: '127.0.0.1', port: 0 });
    const { port } = served.app.server.address() as AddressInfo;
    const { seq } = await read();
    const rename = change('Name', setCamera(await read(), cameraId, 'Name', { name: 'Told' }).operations);
    const listeners = await Promise.all([0, 1].map(() => listen(port, project)));
    await post(rename);
    await post(change('Bake', baked(cameraId, 5000)));
    for (const { events, end } of listeners) {
      await vi.waitFor(() => expect(events).toHaveLength(3));
      expect(events).toEqual([
        ['hello', { seq }],
        ['change', { seq: seq + 1, ...stamped, change: rename }],
        ['hello', { seq: seq + 2 }],
      ]);
      end();
    }
  });
});

describe('large changes', () => {
  it('are read back as they were made, and a page of history ends where it would be too large', async () => {
    const { post, read, cameraId, project } = await projectOn(served.app);
    const [{ seq }, began] = [await read(), Date.now()];
    const made = change('Bake', baked(cameraId, 12_000));
    expect((await post(made)).statusCode).toBe(200);
    const again: Operation = { op: 'delete', kind: 'move', id: cameraId, baseRevision: made.id };
    const gone = change('Take out', [again]);
    await post(gone);
    const more = Array.from({ length: 3 }, () => change('Bake', baked(cameraId, 12_000)));
    for (const one of more) {
      await post(one);
      await post(change('Take out', [{ ...again, baseRevision: one.id }]));
    }
    const page = async (after: number) =>
      (await served.app.inject(`/api/projects/${project}/changes?after=${after}`)).json<{ items: AppliedChange[] }>()
        .items;
    const first = await page(seq);
    expect(first[0]).toEqual({ seq: seq + 1, ...stamped, change: made });
    const times = first.map(({ at }) => Date.parse(at));
    expect(Math.min(...times)).toBeGreaterThanOrEqual(began);
    expect(Math.max(...times)).toBeLessThanOrEqual(Date.now());
    expect(first.length).toBeLessThan(8);
    const rest = await page(first.at(-1)?.seq ?? 0);
    expect([...first, ...rest].map((one) => one.seq)).toEqual(Array.from({ length: 8 }, (_, i) => seq + 1 + i));
  });

  it('with more values than are read at once are refused, and say so', async () => {
    const { post, cameraId } = await projectOn(served.app);
    const answer = await post(change('Bake', baked(cameraId, 20_000)));
    expect(answer.statusCode).toBe(413);
    expect(answer.json<{ detail: string }>().detail).toContain('250000 values');
  });
});

describe('JSON that is made in turns', () => {
  it('is the JSON of the value', async () => {
    await fc.assert(
      fc.asyncProperty(fc.jsonValue({ maxDepth: 4 }), fc.integer({ min: 0, max: 3000 }), async (value, length) => {
        const large = { list: Array.from({ length }, () => value), value, left: undefined };
        expect(await jsonInTurns(large)).toBe(JSON.stringify(large));
      }),
      { numRuns: 50 },
    );
  });
});

describe('bad input', () => {
  it.each([
    ['a malformed body', 'POST', '/changes', '{', 400],
    ['a change without operations', 'POST', '/changes', { id: randomUUID(), name: 'x', operations: [] }, 400],
    [
      'an unknown kind',
      'POST',
      '/changes',
      { id: randomUUID(), name: 'x', operations: [{ op: 'create', kind: 'ghost' }] },
      400,
    ],
  ] as const)('%s is a problem that names the field', async (_what, method, path, payload, status) => {
    const { project, read } = await projectOn(served.app);
    const before = await read();
    const headers = { 'content-type': 'application/json' };
    const answer = await served.app.inject({ method, url: `/api/projects/${project}${path}`, payload, headers });
    expect(answer.statusCode).toBe(status);
    expect(answer.json<{ detail: string }>().detail).not.toBe('');
    expect(await read()).toEqual(before);
  });

  it('an unknown project, camera, or a path out of the house is not found', async () => {
    const { project } = await projectOn(served.app);
    for (const url of [
      `/api/projects/${randomUUID()}`,
      `/api/projects/${project}/cameras/${randomUUID()}/frames`,
      '/api/geometry/..%2f..%2fetc%2fpasswd',
      '/api/../../etc/passwd',
      '/api/nothing',
    ]) {
      const answer = await served.app.inject(url);
      expect([400, 404]).toContain(answer.statusCode);
      expect(answer.json<{ type: string }>().type).toMatch(/^\/problems\//);
    }
  });
});

describe('the evaluated camera', () => {
  it('comes as CSV and as JSON with the same values', async () => {
    const { project, cameraId, sequence } = await projectOn(served.app, 10);
    const base = `/api/projects/${project}/cameras/${cameraId}/frames?from=1001&to=1010`;
    const rows = (await served.app.inject(base)).json<Record<string, unknown>[]>();
    expect(rows).toHaveLength(10);
    expect(rows[0]).toMatchObject({ frame: 1001, x_m: 1, y_m: 2, z_m: 3, focal_length_mm: 35 });
    const lines = (await served.app.inject(`${base}&format=csv`)).body.split('\r\n');
    expect(lines).toHaveLength(12);
    expect(lines[0]?.split(',')).toEqual(Object.keys(rows[0] ?? {}));
    expect(lines[10]?.split(',').map((cell) => (cell === '' ? null : cell))).toEqual(
      Object.values(rows[9] ?? {}).map((cell) => (cell === null ? null : JSON.stringify(cell).replaceAll('"', ''))),
    );
    const cut = await served.app.inject(`/api/projects/${project}/sequences/${sequence}/frames`);
    expect(cut.json<unknown[]>()).toHaveLength(10);
    expect((await served.app.inject(`${base.replace('to=1010', 'to=5')}`)).statusCode).toBe(400);
  });
});

describe('packages', () => {
  it('are saved, listed for every project, and deleted', async () => {
    const { read, cameraId } = await projectOn(served.app);
    const settings = packageOf(await read(), cameraId);
    const id = randomUUID();
    const put = await served.app.inject({
      method: 'PUT',
      url: `/api/packages/${id}`,
      payload: { name: 'Dusk', settings },
    });
    expect(put.statusCode).toBe(200);
    const list = async () =>
      (await served.app.inject('/api/packages')).json<{ items: { id: string; name: string }[] }>();
    expect((await list()).items).toContainEqual({ id, name: 'Dusk', settings });
    const wrong = { name: 'Dusk', settings: { ...settings, fStop: 0 } };
    const refused = await served.app.inject({ method: 'PUT', url: `/api/packages/${id}`, payload: wrong });
    expect(refused.json()).toMatchObject({ status: 400, field: 'body.settings.fStop' });
    expect((await served.app.inject({ method: 'DELETE', url: `/api/packages/${id}` })).statusCode).toBe(200);
    expect((await list()).items).toEqual([]);
    expect((await served.app.inject({ method: 'DELETE', url: `/api/packages/${id}` })).statusCode).toBe(404);
  });
});

/** Listens to the events of a project until `end`. */
function listen(port: number, project: string): Promise<{ events: [string, unknown][]; end: () => void }> {
  return new Promise((resolve) => {
    const events: [string, unknown][] = [];
    let text = '';
    const request = get(
      { port, path: `/api/projects/${project}/events`, headers: { accept: 'text/event-stream' } },
      (answer) => {
        answer.setEncoding('utf8').on('data', (chunk: string) => {
          text += chunk;
          const whole = text.split('\n\n');
          text = whole.pop() ?? '';
          for (const one of whole) {
            const [, name, data] = /event: (\w+)\ndata: (.*)/.exec(one) ?? [];
            if (name && data) events.push([name, JSON.parse(data)]);
          }
          if (events.length === 1) resolve({ events, end: () => request.destroy() });
        });
      },
    );
    request.on('error', () => undefined);
  });
}
