import { addShot, applyChange, changeOf, makeCamera } from '@arvex/core';
import type { Change, GivenOrder, Lease, Project, Render, RenderOrder } from '@arvex/core';
import type { ChildProcess } from 'node:child_process';
import { spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { once } from 'node:events';
import { existsSync } from 'node:fs';
import { mkdtemp, readdir, readFile, rm } from 'node:fs/promises';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { afterEach, describe, expect, it } from 'vitest';
import { png } from './png';
import { orderOf } from './serve';

/** How often something is killed: `ARVEX_KILLS=200` for a long look. */
const KILLS = Number(process.env['ARVEX_KILLS'] ?? 8);
const DATABASE_KILLS = Math.max(2, Number(process.env['ARVEX_KILLS'] ?? 0));
const SERVER = join(import.meta.dirname, '../dist/main.js');
const UP_WITHIN_MS = 60_000;

const cleaning: (() => Promise<unknown>)[] = [];
afterEach(async () => {
  for (const clean of cleaning.splice(0).reverse()) await clean();
});

function freePort(): Promise<number> {
  return new Promise((resolve) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address() as { port: number };
      server.close(() => resolve(port));
    });
  });
}

/** The server as it is delivered, on a data directory of its own. */
class Delivered {
  private child: ChildProcess | undefined;
  said = '';

  constructor(
    readonly directory: string,
    readonly port: number,
  ) {}

  get address(): string {
    return `http://127.0.0.1:${this.port}/api`;
  }

  spawn(): ChildProcess {
    this.child = spawn(process.execPath, [SERVER, '--port', String(this.port), '--data', this.directory, '--no-demo'], {
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    for (const stream of [this.child.stdout, this.child.stderr]) {
      stream?.on('data', (chunk: Buffer) => (this.said = `${this.said}${chunk.toString()}`.slice(-4000)));
    }
    return this.child;
  }

  /** Starts it, and waits until it answers. */
  async up(): Promise<void> {
    const child = this.spawn();
    const until = Date.now() + UP_WITHIN_MS;
    while (Date.now() < until) {
      const answer = await fetch(`${this.address}/health`).catch(() => undefined);
      if (answer?.ok) return;
      if (child.exitCode !== null) break;
      await sleep(50);
    }
    throw new Error(`It did not come up (${child.exitCode ?? 'still starting'}): ${this.said}`);
  }

  async kill(signal: NodeJS.Signals): Promise<void> {
    const { child } = this;
    if (child?.exitCode !== null || child.signalCode !== null) return;
    const exit = once(child, 'exit');
    child.kill(signal);
    await exit;
  }

  /** Processes of its database, wherever they came from. */
  async databases(): Promise<number[]> {
    const found: number[] = [];
    for (const name of await readdir('/proc')) {
      if (!/^\d+$/.test(name)) continue;
      const command = await readFile(`/proc/${name}/cmdline`, 'utf8').catch(() => '');
      if (command.includes(`--datadir=${join(this.directory, 'database', 'data')}\0`)) found.push(Number(name));
    }
    return found;
  }

  async killDatabase(signal: NodeJS.Signals): Promise<void> {
    for (const pid of await this.databases()) process.kill(pid, signal);
  }
}

/** A browser's outbox: what the server has not acknowledged outlives the tab, and is sent again, in order. */
class Sender {
  readonly waiting: Change[] = [];
  readonly acknowledged = new Map<string, number>();
  private ended = false;

  constructor(
    private readonly server: Delivered,
    private readonly projectId: string,
  ) {}

  async run(): Promise<void> {
    while (!this.ended) {
      const [first] = this.waiting;
      if (!first) {
        await sleep(1);
        continue;
      }
      const headers = { 'content-type': 'application/json' };
      const signal = AbortSignal.timeout(8000);
      const answer = await fetch(`${this.server.address}/projects/${this.projectId}/changes`, {
        method: 'POST',
        headers,
        signal,
        body: JSON.stringify(first),
      }).catch(() => undefined);
      const said = (await answer?.json().catch(() => undefined)) as { seq?: number; detail?: string } | undefined;
      if (answer?.ok && said?.seq !== undefined) {
        this.acknowledged.set(first.id, said.seq);
        this.waiting.shift();
      } else if (answer && answer.status < 500 && answer.status !== 408) {
        throw new Error(`${first.name} was refused: ${answer.status} ${said?.detail}`);
      } else await sleep(20);
    }
  }

  end(): void {
    this.ended = true;
  }
}

/** A renderer that outlives the server: what it made is sent until it is taken, and the next render begins. */
class Renderer {
  /** Renders that it was told were begun. */
  readonly begun: string[] = [];
  /** Frames that the server took. */
  taken = 0;
  /** How long it waits for an answer before it asks again, ms. */
  patienceMs = 8000;
  private ended = false;

  constructor(
    private readonly server: Delivered,
    private readonly projectId: string,
    private readonly sequenceId: string,
    private readonly change: Partial<RenderOrder> = {},
  ) {}

  async run(): Promise<void> {
    while (!this.ended) {
      const given = await this.asked<GivenOrder>(
        'POST',
        `/projects/${this.projectId}/orders`,
        orderOf(this.sequenceId, this.change),
      );
      const [render] = given.renders as [Render];
      this.begun.push(render.id);
      while (!this.ended && (await this.asked<Render>('GET', `/renders/${render.id}`)).state === 'rendering') {
        await this.draw(render);
      }
    }
  }

  /** Sends the frames that it gets, or waits for those that others have. */
  async draw(render: Render): Promise<void> {
    const lease = await this.asked<Lease>('POST', `/renders/${render.id}/leases`, { count: 2 });
    if (lease.frames.length === 0) await sleep(200);
    for (const index of lease.frames) {
      const frame = png(render.widthPx, render.heightPx, [index, 80, 120]);
      await this.asked('PUT', `/renders/${render.id}/frames/${index}/png?lease=${lease.leaseId}`, frame, [409]);
      this.taken += 1;
    }
  }

  /** What the server answers, however often it has to be asked. A frame that is sent again was taken, or went to others. */
  async asked<T>(method: string, path: string, body?: object, also: readonly number[] = []): Promise<T> {
    for (;;) {
      const type = body instanceof Buffer ? 'image/png' : 'application/json';
      const sent = body instanceof Buffer ? new Uint8Array(body) : body && JSON.stringify(body);
      const answer = await fetch(`${this.server.address}${path}`, {
        method,
        ...(sent && { headers: { 'content-type': type }, body: sent }),
        signal: AbortSignal.timeout(this.patienceMs),
      }).catch(() => undefined);
      const said = (await answer?.json().catch(() => undefined)) as T | undefined;
      if (answer && said && (answer.ok || also.includes(answer.status))) return said;
      if (answer && answer.status < 500) throw new Error(`${method} ${path}: ${answer.status} ${JSON.stringify(said)}`);
      await sleep(20);
    }
  }

  /** Draws what is left of all that was begun. */
  async finish(untilMs: number): Promise<void> {
    for (const id of this.begun) {
      for (;;) {
        const render = await this.asked<Render>('GET', `/renders/${id}`);
        if (render.state === 'done') break;
        expect(['rendering', 'encoding'], render.error ?? '').toContain(render.state);
        expect(Date.now()).toBeLessThan(untilMs);
        if (render.state === 'rendering') await this.draw(render);
        else await sleep(100);
      }
    }
  }

  end(): void {
    this.ended = true;
  }
}

const soon = (most: number) => sleep(Math.random() * most);

async function comesTrue(holds: () => boolean): Promise<void> {
  while (!holds()) await sleep(10);
}

/** Ways to die, each at a moment that nobody chose. */
const DEATHS: readonly (readonly [string, (server: Delivered) => Promise<unknown>])[] = [
  ['the server is killed', (server) => server.kill('SIGKILL')],
  ['the database is killed', (server) => server.killDatabase('SIGKILL')],
  ['both are killed', (server) => Promise.all([server.killDatabase('SIGKILL'), server.kill('SIGKILL')])],
  ['it is asked to stop', (server) => server.kill('SIGTERM')],
  [
    'it is killed as it starts',
    async (server) => {
      await server.kill('SIGKILL');
      server.spawn();
      await soon(1500);
      await server.kill('SIGKILL');
    },
  ],
  [
    'it is asked to stop as it starts',
    async (server) => {
      // Its database goes with it here, so that whatever runs afterwards was left by the start itself.
      await Promise.all([server.kill('SIGKILL'), server.killDatabase('SIGKILL')]);
      server.spawn();
      await soon(1500);
      await server.kill('SIGTERM');
      expect(await server.databases()).toEqual([]);
    },
  ],
  [
    'it is killed as it stops',
    async (server) => {
      const stopped = server.kill('SIGTERM');
      await soon(300);
      await server.kill('SIGKILL');
      await stopped;
    },
  ],
];

async function delivered(): Promise<Delivered> {
  const directory = await mkdtemp(join(tmpdir(), 'arvex-kills-'));
  const server = new Delivered(directory, await freePort());
  cleaning.push(async () => {
    await server.kill('SIGKILL');
    await server.killDatabase('SIGKILL');
    await sleep(100);
    await rm(directory, { recursive: true, force: true, maxRetries: 5 });
  });
  return server;
}

async function projectOn(server: Delivered) {
  const ids = { project: randomUUID(), set: randomUUID(), sequence: randomUUID() };
  const headers = { 'content-type': 'application/json' };
  await fetch(`${server.address}/projects`, {
    method: 'POST',
    headers,
    body: JSON.stringify({ ids, name: 'Saltmarsh Light' }),
  });
  return ids;
}

/** The changes that make a camera and its shot of so many frames. */
function shotOf(empty: Project, sequenceId: string, cameraId: string, frames: number): readonly [Change, Change] {
  const pose = { positionM: [0, 1.6, 0], panDeg: 0, tiltDeg: 0, rollDeg: 0 } as const;
  const { operations } = makeCamera(empty, cameraId, pose);
  const first = changeOf({ name: 'Camera', operations }, randomUUID());
  const shot = { id: randomUUID(), cameraId, sceneStartFlicks: 0, durationFlicks: frames * 29_400_000 };
  const shooting = addShot(applyChange(empty, first), sequenceId, shot);
  return [first, changeOf({ name: 'Shot', operations: shooting.operations }, randomUUID())];
}

describe.skipIf(!existsSync(SERVER))('whatever is killed', () => {
  it(
    'no acknowledged edit is lost, none is made twice, and the next start comes up',
    async () => {
      const server = await delivered();
      await server.up();
      const ids = await projectOn(server);
      const read = async () => (await (await fetch(`${server.address}/projects/${ids.project}`)).json()) as Project;
      const sender = new Sender(server, ids.project);
      let failed: Error | undefined;
      const sending = sender.run().catch((error: unknown) => (failed = error as Error));
      const cameraId = randomUUID();
      const [first, shooting] = shotOf(await read(), ids.sequence, cameraId, 5);
      sender.waiting.push(first, shooting);
      const renderer = new Renderer(server, ids.project, ids.sequence);
      await comesTrue(() => sender.acknowledged.size === 2);
      const rendering = renderer.run().catch((error: unknown) => (failed = error as Error));
      let made = 0;
      let baseRevision = first.id;
      const kept = new Map<string, Buffer>();
      const upload = async (file: Buffer) => {
        const form = new FormData();
        form.append('file', new Blob([new Uint8Array(file)]), 'a.png');
        const answer = await fetch(`${server.address}/pictures`, { method: 'POST', body: form }).catch(() => undefined);
        const said = (await answer?.json().catch(() => undefined)) as { hash?: string } | undefined;
        if (answer?.ok && said?.hash) kept.set(said.hash, file);
      };
      for (let i = 0; i < KILLS; i++) {
        for (let j = 0; j < 10; j++) {
          made += 1;
          const operation = { op: 'patch' as const, kind: 'camera' as const, id: cameraId, baseRevision };
          const change = changeOf(
            { name: `Name ${made}`, operations: [{ ...operation, fields: { name: `Gate ${made}` } }] },
            randomUUID(),
          );
          baseRevision = change.id;
          sender.waiting.push(change);
          await soon(8);
        }
        void upload(Buffer.from(`${Math.random()}`.repeat(5000)));
        void upload(png(64, 64, [i % 256, Math.floor(i / 256), 7]));
        const [how, die] = DEATHS[Math.floor(Math.random() * DEATHS.length)] as (typeof DEATHS)[number];
        await die(server);
        const running = how === 'the database is killed';
        if (!running)
          await server.up().catch((error: unknown) => expect.fail(`After "${how}": ${(error as Error).message}`));
        if (failed) throw failed;
      }
      const until = Date.now() + UP_WITHIN_MS;
      while (sender.waiting.length > 0 && !failed && Date.now() < until) await sleep(20);
      sender.end();
      renderer.end();
      await Promise.all([sending, rendering]);
      if (failed) throw failed;
      expect(sender.waiting).toEqual([]);
      const project = await read();
      expect(project.cameras[cameraId]?.name).toBe(`Gate ${made}`);
      const items: { seq: number; change: Change }[] = [];
      for (;;) {
        const after = items.at(-1)?.seq ?? 0;
        const page = (await (
          await fetch(`${server.address}/projects/${ids.project}/changes?after=${after}&limit=500`)
        ).json()) as { items: typeof items };
        items.push(...page.items);
        if (page.items.length === 0) break;
      }
      expect(items.map(({ seq }) => seq)).toEqual(items.map((_, at) => at + 1));
      expect(items.map(({ change }) => change.name)).toEqual([
        'Camera',
        'Shot',
        ...Array.from({ length: made }, (_, at) => `Name ${at + 1}`),
      ]);
      for (const { seq, change } of items) expect(sender.acknowledged.get(change.id)).toBe(seq);
      for (const [hash, file] of kept) {
        const answer = await fetch(`${server.address}/pictures/${hash}`);
        expect(Buffer.from(await answer.arrayBuffer()).equals(file)).toBe(true);
      }
      await renderer.finish(until + 2 * UP_WITHIN_MS);
      expect(renderer.begun.length).toBeGreaterThan(0);
      // Asked to stop, it leaves nothing running behind.
      await server.kill('SIGTERM');
      expect(await server.databases()).toEqual([]);
    },
    60_000 + KILLS * 20_000,
  );

  it(
    'a frame that is done has its file, whenever the database died under four renderers',
    async () => {
      const server = await delivered();
      await server.up();
      const ids = await projectOn(server);
      const project = (await (await fetch(`${server.address}/projects/${ids.project}`)).json()) as Project;
      const sender = new Sender(server, ids.project);
      sender.waiting.push(...shotOf(project, ids.sequence, randomUUID(), 60));
      const sending = sender.run();
      await comesTrue(() => sender.waiting.length === 0);
      const formats = { ...orderOf(ids.sequence).formats, movies: [] };
      const renderers = Array.from({ length: 4 }, () => new Renderer(server, ids.project, ids.sequence, { formats }));
      let failed: Error | undefined;
      const rendering = renderers.map((one) => {
        one.patienceMs = 1500;
        return one.run().catch((error: unknown) => (failed = error as Error));
      });
      const taken = () => renderers.reduce((sum, one) => sum + one.taken, 0);
      for (let i = 0; i < DATABASE_KILLS; i++) {
        const before = taken();
        await comesTrue(() => taken() > before + 4 || failed !== undefined);
        if (failed) throw failed;
        await soon(300);
        await server.killDatabase('SIGKILL');
        // Deaths in a row make its pauses longer, until it gives up: a new server counts anew.
        if (i % 3 === 2) {
          await server.kill('SIGTERM');
          await server.up();
        }
      }
      sender.end();
      for (const one of renderers) one.end();
      await Promise.all([sending, ...rendering]);
      if (failed) throw failed;
      let frames = 0;
      for (const one of renderers) {
        await one.finish(Date.now() + 2 * UP_WITHIN_MS);
        for (const id of one.begun) {
          for (let index = 0; index < 60; index++) {
            const answer = await fetch(`${server.address}/renders/${id}/picture?index=${index}`);
            expect([
              answer.status,
              Buffer.from(await answer.arrayBuffer())
                .subarray(1, 4)
                .toString(),
            ]).toEqual([200, 'PNG']);
            frames += 1;
          }
        }
      }
      expect(frames).toBeGreaterThan(0);
      if (process.env['ARVEX_KILLS'])
        console.log(`${DATABASE_KILLS} deaths of the database, ${frames} frames, each has its file`);
    },
    60_000 + KILLS * 20_000,
  );

  it(
    'a first start that is killed at any moment comes up the next time',
    async () => {
      for (let i = 0; i < Math.max(2, KILLS / 4); i++) {
        const server = await delivered();
        for (let again = 0; again < 3; again++) {
          server.spawn();
          await soon(4000);
          await server.kill(again === 1 ? 'SIGTERM' : 'SIGKILL');
        }
        await server.up();
        expect(await (await fetch(`${server.address}/projects`)).json()).toEqual({ items: [], total: 0 });
        await server.kill('SIGTERM');
        expect(await server.databases()).toEqual([]);
      }
    },
    120_000 + KILLS * 20_000,
  );
});
