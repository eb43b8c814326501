import type { ChildProcess } from 'node:child_process';
import { execFileSync, spawn, spawnSync } from 'node:child_process';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';

const ROOT = join(import.meta.dirname, '..');
const START_LIMIT_MS = 120_000;

/** A project on a server: the newest, where none is named. */
export class Visit {
  constructor(
    readonly server: string,
    readonly projectId?: string,
  ) {}

  /** The page that opens it. */
  get address(): string {
    return this.projectId === undefined ? this.server : `${this.server}/?project=${this.projectId}`;
  }

  async json<T>(path: string): Promise<T> {
    return (await (await fetch(`${this.server}/api${path}`)).json()) as T;
  }

  /** Asks the server for something that has a body. */
  async post(path: string, body: unknown): Promise<void> {
    const headers = { 'content-type': 'application/json' };
    const answer = await fetch(`${this.server}/api${path}`, { method: 'POST', headers, body: JSON.stringify(body) });
    if (!answer.ok) throw new Error(await answer.text());
  }

  /** The project, whole. */
  async project<T>(): Promise<T> {
    return this.json<T>(`/projects/${this.projectId ?? (await this.projects())[0]?.id ?? ''}`);
  }

  /** All projects, the newest first. */
  protected async projects(): Promise<{ id: string; name: string }[]> {
    return (await this.json<{ items: { id: string; name: string }[] }>('/projects')).items;
  }

  /** Takes the project away, with all that was ordered in it. */
  async leave(): Promise<void> {
    await fetch(`${this.server}/api/projects/${this.projectId ?? ''}`, { method: 'DELETE' });
  }

  /** Leaves only the first shots of the demo, with their cameras: enough where the whole cut would only take longer. */
  async keepShots(count: number): Promise<void> {
    interface Entity {
      readonly id: string;
      readonly revision: string;
    }
    const project = await this.project<{
      head: Entity;
      shots: Record<string, Entity & { order: string; cameraId: string }>;
      moves: Record<string, Entity & { cameraId: string }>;
      cameras: Record<string, Entity>;
    }>();
    const gone = Object.values(project.shots)
      .sort((a, b) => (a.order < b.order ? -1 : 1))
      .slice(count);
    const cameraIds = new Set(gone.map(({ cameraId }) => cameraId));
    const deletion = (kind: string, { id, revision }: Entity) => ({ op: 'delete', kind, id, baseRevision: revision });
    const operations = [
      ...gone.map((shot) => deletion('shot', shot)),
      ...Object.values(project.moves).flatMap((move) => (cameraIds.has(move.cameraId) ? [deletion('move', move)] : [])),
      ...Object.values(project.cameras).flatMap((one) => (cameraIds.has(one.id) ? [deletion('camera', one)] : [])),
    ];
    const change = { id: crypto.randomUUID(), name: `Keep ${count} shots`, operations };
    await this.post(`/projects/${project.head.id}/changes`, change);
  }
}

/** Arvex as a person starts it, with a data directory of its own. */
export class Arvex extends Visit {
  private child: ChildProcess | undefined;
  private output = '';

  private constructor(
    readonly port: number,
    readonly data: string,
    private readonly options: readonly string[],
  ) {
    super(`http://127.0.0.1:${port}`);
  }

  static async start(...options: string[]): Promise<Arvex> {
    const arvex = new Arvex(await freePort(), await mkdtemp(join(tmpdir(), 'arvex-e2e-')), options);
    await arvex.up();
    return arvex;
  }

  /** A copy of the first project: a file of tests that needs no server of its own works in it. */
  async copy(): Promise<Visit> {
    const [first, id] = [(await this.projects()).at(-1), crypto.randomUUID()];
    await this.post(`/projects/${first?.id ?? ''}/copy`, { id, name: first?.name });
    return new Visit(this.server, id);
  }

  /** A project in which there is nothing yet. */
  async empty(): Promise<Visit> {
    const ids = { project: crypto.randomUUID(), set: crypto.randomUUID(), sequence: crypto.randomUUID() };
    await this.post('/projects', { ids, name: 'Untitled' });
    return new Visit(this.server, ids.project);
  }

  /** Runs `./start` and waits for the address. */
  async up(): Promise<void> {
    this.output = '';
    const child = spawn('./start', ['--port', String(this.port), '--data', this.data, ...this.options], { cwd: ROOT });
    this.child = child;
    for (const stream of [child.stdout, child.stderr])
      stream.on('data', (chunk: Buffer) => (this.output += chunk.toString()));
    const deadline = Date.now() + START_LIMIT_MS;
    while (!this.output.includes('Arvex is at')) {
      if (Date.now() > deadline || child.exitCode !== null) throw new Error(`./start did not come up:\n${this.output}`);
      await sleep(100);
    }
  }

  /** Kills the server as a crash would. Its database is left running. */
  async killServer(): Promise<void> {
    const gone = new Promise((resolve) => this.child?.once('exit', resolve));
    this.child?.kill('SIGKILL'); // the server goes with ./start however that ends
    await gone;
  }

  /** Kills the server alone: `./start` is about to start it again. */
  crashServer(): void {
    const [server] = execFileSync('pgrep', ['-P', String(this.child?.pid), 'node'], { encoding: 'utf8' }).split('\n');
    process.kill(Number(server), 'SIGKILL');
  }

  /** Whether a database runs on this data. */
  hasDatabase(): boolean {
    return spawnSync('pgrep', ['-f', '--', `--datadir=${join(this.data, 'database', 'data')}`]).status === 0;
  }

  /** Kills the database as a crash would. */
  async killDatabase(): Promise<void> {
    const pid = Number(await readFile(join(this.data, 'database', 'pid'), 'utf8'));
    process.kill(pid, 'SIGKILL');
  }

  /** Ctrl+C. @returns the exit code. */
  async interrupt(): Promise<number | null> {
    const child = this.child;
    if (child?.exitCode !== null || child.signalCode !== null) return child?.exitCode ?? null;
    const code = new Promise<number | null>((resolve) => child.once('exit', resolve));
    child.kill('SIGINT');
    return code;
  }

  /** Stops everything and takes the data away. */
  async down(): Promise<void> {
    await this.interrupt();
    await rm(this.data, { recursive: true, force: true });
  }
}

/** Runs `./start` to its end. */
export function startOutcome(...options: string[]): { code: number; output: string } {
  try {
    return {
      code: 0,
      output: execFileSync('./start', options, { cwd: ROOT, encoding: 'utf8', stdio: 'pipe', timeout: 60_000 }),
    };
  } catch (error) {
    const { status, stdout, stderr } = error as { status: number; stdout: string; stderr: string };
    return { code: status, output: stdout + stderr };
  }
}

function freePort(): Promise<number> {
  return new Promise((resolve) => {
    const server = createServer();
    server.listen(0, '127.0.0.1', () => {
      const address = server.address();
      server.close(() => resolve(typeof address === 'object' && address ? address.port : 0));
    });
  });
}
