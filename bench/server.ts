import type { Edit, Project, Vector } from '@arvex/core';
import { applyChange, changeOf, makeCamera, setCamera } from '@arvex/core';
import { randomUUID } from 'node:crypto';
import { mkdtemp, rm } from 'node:fs/promises';
import { Agent, request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { connect } from '../apps/server/src/database/connection';
import { MariadbProcess } from '../apps/server/src/database/mariadb-process';
import { Arvex } from '../e2e/arvex';
import type { Line } from './measure';
import { median } from './measure';

const CHANGES = 300;
const WARM_UP = 100;
/** Projects that are written at the same time, and for how long. */
const WRITERS = 12;
const SECONDS = 5;

/** Times changes over HTTP, as the built server takes them, against bare, equally durable inserts. */
export async function benchServer(): Promise<Line[]> {
  const arvex = await Arvex.start();
  const directory = await mkdtemp(join(tmpdir(), 'arvex-bench-'));
  const database = await MariadbProcess.start(join(directory, 'database'));
  const sequelize = connect(database.address);
  try {
    await sequelize.query('CREATE TABLE bare (id CHAR(36) PRIMARY KEY, body JSON NOT NULL)');
    const writer = await Writer.begin(arvex);
    const [changes, inserts]: [number[], number[]] = [[], []];
    for (let i = 0; i < CHANGES; i++) {
      changes.push(await timed(() => writer.rename(i)));
      const replacements = { id: randomUUID(), body: JSON.stringify({ name: `Name ${i}` }) };
      const insert = () => sequelize.query('INSERT INTO bare VALUES (:id, :body)', { replacements });
      inserts.push(await timed(insert));
    }
    const writers = await Promise.all(Array.from({ length: WRITERS }, () => Writer.begin(arvex)));
    const count = await perSecond(writers.map((one) => (i: number) => one.rename(i)));
    const bare = await perSecond(
      writers.map(() => (i: number) => {
        const replacements = { id: randomUUID(), body: JSON.stringify({ name: `Name ${i}` }) };
        return sequelize.query('INSERT INTO bare VALUES (:id, :body)', { replacements });
      }),
    );
    return [
      {
        what: 'a change, from request to acknowledged',
        unit: 'ms',
        value: median(changes.slice(WARM_UP)),
        baseline: 'one bare SQL insert, as durable',
        baselineValue: median(inserts.slice(WARM_UP)),
        budget: 'ratio under 4',
      },
      {
        what: `changes of ${WRITERS} projects at the same time`,
        unit: 'a second',
        value: count,
        baseline: 'bare SQL inserts, as many at the same time',
        baselineValue: bare,
        budget: 'over 1 000',
      },
    ];
  } finally {
    await sequelize.close();
    await database.stop();
    await arvex.down();
    await rm(directory, { recursive: true, force: true });
  }
}

/** Somebody who renames a camera of a project of their own, again and again. */
class Writer {
  private constructor(
    private readonly path: string,
    private project: Project,
    private readonly cameraId: string,
    private readonly agent = new Agent({ keepAlive: true, maxSockets: 1 }),
  ) {}

  static async begin(arvex: Arvex): Promise<Writer> {
    const ids = { project: randomUUID(), set: randomUUID(), sequence: randomUUID() };
    const headers = { 'content-type': 'application/json' };
    const body = JSON.stringify({ ids, name: 'Bench' });
    await fetch(`${arvex.address}/api/projects`, { method: 'POST', headers, body });
    const path = `${arvex.address}/api/projects/${ids.project}`;
    const cameraId = randomUUID();
    const writer = new Writer(`${path}/changes`, (await (await fetch(path)).json()) as Project, cameraId);
    const pose = { positionM: [0, 1, 2] as Vector, panDeg: 0, tiltDeg: 0, rollDeg: 0 };
    await writer.send(makeCamera(writer.project, cameraId, pose));
    return writer;
  }

  rename(i: number): Promise<void> {
    return this.send(setCamera(this.project, this.cameraId, 'Name', { name: `Name ${i}` }));
  }

  private async send(edit: Edit): Promise<void> {
    const change = changeOf(edit, randomUUID());
    const status = await posted(this.path, JSON.stringify(change), this.agent);
    if (status !== 200) throw new Error(`A change was answered with ${status}.`);
    this.project = applyChange(this.project, change);
  }
}

function posted(url: string, body: string, agent: Agent): Promise<number> {
  return new Promise((resolve, reject) => {
    const headers = { 'content-type': 'application/json', 'content-length': Buffer.byteLength(body) };
    const sent = request(url, { method: 'POST', agent, headers }, (answer) => {
      answer.resume();
      answer.on('end', () => resolve(answer.statusCode ?? 0));
    });
    sent.on('error', reject);
    sent.end(body);
  });
}

/** How often all of these are done in a second, each one time after another. */
async function perSecond(work: readonly ((i: number) => Promise<unknown>)[]): Promise<number> {
  const [begin, end] = [performance.now(), performance.now() + SECONDS * 1000];
  let done = 0;
  const keepOn = async (one: (i: number) => Promise<unknown>) => {
    for (let i = 0; performance.now() < end; i++, done++) await one(i);
  };
  await Promise.all(work.map(keepOn));
  return (done / (performance.now() - begin)) * 1000;
}

async function timed(run: () => Promise<unknown>): Promise<number> {
  const begin = performance.now();
  await run();
  return performance.now() - begin;
}
