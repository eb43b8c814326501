import type { Edit, Project, Vector } from '@arvex/core';
import { changeOf, makeCamera, newProject, setCamera } from '@arvex/core';
import { randomUUID } from 'node:crypto';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buildApp } from '../apps/server/src/http/app';
import { MariadbProcess } from '../apps/server/src/database/mariadb-process';
import { openServices } from '../apps/server/src/open-services';
import type { Line } from './measure';
import { median } from './measure';

const CHANGES = 60;
const WARM_UP = 5;

/** Times a change over HTTP against one bare, equally durable insert. */
export async function benchServer(): Promise<Line[]> {
  const directory = await mkdtemp(join(tmpdir(), 'arvex-bench-'));
  const database = await MariadbProcess.start(join(directory, 'database'));
  const services = await openServices({ address: database.address, dataDirectory: directory });
  const app = await buildApp(services);
  const address = await app.listen({ host: '127.0.0.1', port: 0 });
  try {
    const ids = { project: randomUUID(), set: randomUUID(), sequence: randomUUID() };
    await services.projects.create(newProject(ids, 'Bench'));
    const path = `${address}/api/projects/${ids.project}`;
    const send = async (edit: Edit) => {
      const body = JSON.stringify(changeOf(edit, randomUUID()));
      const answer = await fetch(`${path}/changes`, {
        method: 'POST',
        body,
        headers: { 'content-type': 'application/json' },
      });
      if (!answer.ok) throw new Error(await answer.text());
    };
    const cameraId = randomUUID();
    const pose = { positionM: [0, 1, 2] as Vector, panDeg: 0, tiltDeg: 0, rollDeg: 0 };
    let project = await services.projects.load(ids.project);
    await send(makeCamera(project, cameraId, pose));
    await services.sequelize.query('CREATE TABLE bare (id CHAR(36) PRIMARY KEY, body JSON NOT NULL)');
    const [changes, inserts]: [number[], number[]] = [[], []];
    for (let i = 0; i < CHANGES; i++) {
      project = (await (await fetch(path)).json()) as Project;
      changes.push(await timed(() => send(setCamera(project, cameraId, 'Name', { name: `Name ${i}` }))));
      const replacements = { id: randomUUID(), body: JSON.stringify(pose) };
      const insert = () => services.sequelize.query('INSERT INTO bare VALUES (:id, :body)', { replacements });
      inserts.push(await timed(insert));
    }
    return [
      {
        what: 'a change, from request to acknowledged',
        unit: 'ms',
        value: median(changes.slice(WARM_UP)),
        baseline: 'one bare SQL insert, as durable',
        baselineValue: median(inserts.slice(WARM_UP)),
        budget: 'under 50',
      },
    ];
  } finally {
    await app.close();
    await services.close();
    await database.stop();
    await rm(directory, { recursive: true, force: true });
  }
}

async function timed(run: () => Promise<unknown>): Promise<number> {
  const begin = performance.now();
  await run();
  return performance.now() - begin;
}
