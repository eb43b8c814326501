import type { Change, Page, Project, Render } from '@arvex/core';
import { camerasInOrder, FORM, moveOf, newProject, projectFrom, shotsInOrder } from '@arvex/core';
import { createConnection } from 'mysql2/promise';
import { randomUUID } from 'node:crypto';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import { afterEach, describe, expect, inject, it } from 'vitest';
import { MIGRATIONS, stepsOf } from '../src/database/migrate';
import { formTwo } from '../src/database/migrations/0005-form-two';
import { buildApp } from '../src/house/app';
import { openHouse } from '../src/house/open-house';

/** A database, a render's snapshot and a browser's outbox as the first form of Arvex left them, made by running it. */
const kept = (name: string) => readFile(join(import.meta.dirname, 'form-1', name));
const keptJson = async <T>(name: string) => JSON.parse((await kept(name)).toString()) as T;

const closing: (() => Promise<unknown>)[] = [];
afterEach(async () => {
  for (const close of closing.splice(0).reverse()) await close();
});

async function keptDatabase(filled = true) {
  const { host, port, user, password } = inject('address');
  const database = `test_form1_${randomUUID().replaceAll('-', '')}`;
  const connection = await createConnection({ host, port, user, password, multipleStatements: true });
  closing.push(() => connection.end());
  await connection.query(`CREATE DATABASE ${database}; USE ${database}`);
  if (filled) await connection.query(gunzipSync(await kept('database.sql.gz')).toString());
  return { connection, address: { host, port, user, password, database } };
}

async function opened({ address }: Pick<Awaited<ReturnType<typeof keptDatabase>>, 'address'>) {
  const dataDirectory = await mkdtemp(join(tmpdir(), 'arvex-form-1-'));
  closing.push(() => rm(dataDirectory, { recursive: true, force: true }));
  const house = await openHouse({ address, dataDirectory });
  const app = await buildApp(house);
  closing.push(
    () => house.close(),
    () => app.close(),
  );
  const { projects } = house.ground;
  const [summary] = (await projects.list(0, 1)).items;
  return { app, projects, id: summary?.id ?? '' };
}
const bySide = (project: Project) => ({ ...project, seq: 0 });

describe('what the first form left', () => {
  it('is read whole: the database and a snapshot of the same project come to the same', async () => {
    const { projects, id } = await opened(await keptDatabase());
    const snapshot = await keptJson<{ cameras: Record<string, { focus: { auto: { measured: unknown[] } } }> }>(
      'snapshot.json',
    );
    const project = await projects.load(id);
    expect(bySide(project)).toEqual(bySide(projectFrom(snapshot)));
    // Nothing that was measured is lost, and no camera holds it any more.
    const before = Object.entries(snapshot.cameras).filter(([, { focus }]) => focus.auto.measured.length > 0);
    expect(before).not.toEqual([]);
    for (const [cameraId, { focus }] of before) expect(project.measured[cameraId]?.curve).toEqual(focus.auto.measured);
    const names = Object.values(project.sequences).flatMap((one) =>
      shotsInOrder(project, one.id).map(({ name }) => name),
    );
    expect(names.slice(0, 3)).toEqual(['SL_010', 'SL_030', 'SL_020']); // as they had been put in order
    const changes = await projects.history.after(id, 0, 100);
    expect(changes.map(({ change }) => change.form)).toEqual(changes.map(() => FORM));
  });

  it('gives a render that was begun its project in the present form', async () => {
    const { app, id } = await opened(await keptDatabase());
    const [render] = (await app.inject(`/api/projects/${id}/renders`)).json<Page<Render>>().items;
    expect(render?.state).toBe('rendering');
    const answer = await app.inject(`/api/renders/${render?.id}/project`);
    expect(projectFrom(answer.json())).toEqual(projectFrom(await keptJson('snapshot.json')));
    expect(
      (await app.inject({ method: 'POST', url: `/api/renders/${render?.id}/leases`, payload: { count: 1 } }))
        .statusCode,
    ).toBe(200);
  });

  it('in a browser’s outbox is taken, change by change, as it was made', async () => {
    const { app, projects, id } = await opened(await keptDatabase());
    const outbox = await keptJson<{ change: Change }[]>('outbox.json');
    for (const { change } of outbox) {
      const answer = await app.inject({ method: 'POST', url: `/api/projects/${id}/changes`, payload: change });
      expect([change.name, answer.statusCode, answer.body]).toEqual([change.name, 200, expect.any(String)]);
    }
    const project = await projects.load(id);
    const crane = camerasInOrder(project)[0]!;
    expect(
      moveOf(project, crane.id)
        ?.marks.map(({ name }) => name)
        .sort(),
    ).toEqual(['A', 'B', 'C', 'D']);
    const made = camerasInOrder(project).at(-1)!;
    expect([made.name, moveOf(project, made.id)?.marks.length]).toEqual(['Camera 9', 2]);
    const [sequence] = Object.values(project.sequences);
    expect(shotsInOrder(project, sequence!.id).some(({ name }) => name === 'SL_090')).toBe(true);
  });

  it('is upgraded however often the upgrade is killed: each of its steps can be run twice', async () => {
    const [once, twice] = [await keptDatabase(), await keptDatabase()];
    for (const { name, statement } of stepsOf(formTwo)) {
      for (const again of [statement, statement]) await twice.connection.query(again);
      await twice.connection.query('INSERT INTO migrations (name) VALUES (?)', [name]);
    }
    const [a, b] = [await opened(once), await opened(twice)];
    expect(await b.projects.load(b.id)).toEqual(await a.projects.load(a.id));
  });
});

describe('a first start', () => {
  it('goes on from any statement at which it was killed, noted or not', async () => {
    const steps = MIGRATIONS.flatMap(stepsOf);
    const apart = Math.ceil(steps.length / 8);
    for (let killedAt = 2; killedAt < steps.length; killedAt += apart) {
      const { connection, address } = await keptDatabase(false);
      await connection.query('CREATE TABLE migrations (name VARCHAR(255) NOT NULL PRIMARY KEY)');
      for (const { name, statement } of steps.slice(0, killedAt)) {
        await connection.query(statement);
        await connection.query('INSERT INTO migrations (name) VALUES (?)', [name]);
      }
      // This one was run, and the process died before it was noted.
      await connection.query(steps[killedAt]?.statement ?? '');
      const { projects } = await opened({ address });
      const project = newProject(
        { project: randomUUID(), set: randomUUID(), sequence: randomUUID() },
        'Saltmarsh Light',
      );
      await projects.create(project);
      expect((await projects.load(project.head.id)).head.name).toBe('Saltmarsh Light');
    }
  });
});
