import type { Change, GivenOrder, Operation, Project, Render, RenderOrder } from '@arvex/core';
import { addShot, changeOf, makeCamera, newProject, ORDER_DEFAULTS } from '@arvex/core';
import type { FastifyInstance } from 'fastify';
import { createConnection } from 'mysql2/promise';
import { randomUUID } from 'node:crypto';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { inject } from 'vitest';
import { buildApp } from '../src/house/app';
import type { Ground } from '../src/ground/ground';
import type { HouseOptions } from '../src/house/open-house';
import { openHouse } from '../src/house/open-house';

export interface Served {
  readonly app: FastifyInstance;
  readonly ground: Ground;
  /** Of its database. */
  readonly address: HouseOptions['address'];
  readonly close: () => Promise<void>;
}

/** A database, and a data directory, that nobody else has. */
export async function ownPlaces() {
  const { host, port, user, password } = inject('address');
  const database = `test_${randomUUID().replaceAll('-', '')}`;
  const connection = await createConnection({ host, port, user, password });
  await connection.query(`CREATE DATABASE ${database}`);
  await connection.end();
  const dataDirectory = await mkdtemp(join(tmpdir(), 'arvex-test-'));
  return {
    address: { host, port, user, password, database },
    dataDirectory,
    leave: () => rm(dataDirectory, { recursive: true, force: true }),
  };
}

/** The whole server on a database of its own. */
export async function serve(options: Partial<HouseOptions> = {}): Promise<Served> {
  const { leave, ...own } = await ownPlaces();
  const places = { ...own, ...options };
  const house = await openHouse(places);
  const app = await buildApp(house);
  return {
    app,
    ground: house.ground,
    address: places.address,
    close: async () => {
      await app.close();
      await house.close();
      await leave();
    },
  };
}

export const change = (name: string, operations: readonly Operation[], id = randomUUID()): Change =>
  changeOf({ name, operations }, id);

/** A project on the server with one camera and, when asked for, a shot of so many frames. */
export async function projectOn(app: FastifyInstance, frames = 0) {
  const ids = { project: randomUUID(), set: randomUUID(), sequence: randomUUID() };
  await app.inject({ method: 'POST', url: '/api/projects', payload: { ids, name: 'Saltmarsh Light' } });
  const cameraId = randomUUID();
  const pose = { positionM: [1, 2, 3] as [number, number, number], panDeg: 0, tiltDeg: 0, rollDeg: 0 };
  let project: Project = newProject(ids, 'Saltmarsh Light');
  const post = (body: Change) =>
    app.inject({ method: 'POST', url: `/api/projects/${ids.project}/changes`, payload: body });
  const read = async () => (await app.inject(`/api/projects/${ids.project}`)).json<Project>();
  await post(change('Make camera', makeCamera(project, cameraId, pose, { name: 'Pier ride' }).operations));
  if (frames > 0) {
    project = await read();
    const shot = { id: randomUUID(), cameraId, sceneStartFlicks: 0, durationFlicks: frames * 29_400_000 };
    await post(change('Add shot', addShot(project, ids.sequence, shot).operations));
  }
  return { ...ids, cameraId, post, read };
}

/** A small order of a cut, with what is asked otherwise. */
export const orderOf = (sequenceId: string, change: Partial<RenderOrder> = {}): RenderOrder => ({
  ...ORDER_DEFAULTS,
  size: { kind: 'share', share: 0.1 },
  what: { kind: 'cut', sequenceId },
  ...change,
});

/** Gives an order. @returns its parts. */
export async function ordered(app: FastifyInstance, projectId: string, order: RenderOrder): Promise<readonly Render[]> {
  const answer = await app.inject({ method: 'POST', url: `/api/projects/${projectId}/orders`, payload: order });
  if (answer.statusCode !== 201) throw new Error(answer.body);
  return answer.json<GivenOrder>().renders;
}
