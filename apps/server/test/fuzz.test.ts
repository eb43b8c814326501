import type { Entity, Project } from '@arvex/core';
import { ALL_KINDS, tableOf } from '@arvex/core';
import { randomUUID } from 'node:crypto';
import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { projectOn, serve, ordered, orderOf } from './serve';
import type { Served } from './serve';

/** How many requests are made: `ARVEX_FUZZ=20000` for a long look. */
const REQUESTS = Number(process.env['ARVEX_FUZZ'] ?? 1500);
/** Memory is compared from here on: by then everything has been loaded and compiled. */
const WARM = Math.min(1000, Math.floor(REQUESTS / 3));

type Schema = Readonly<{
  type?: string | readonly string[];
  properties?: Readonly<Record<string, Schema>>;
  items?: Schema;
  enum?: readonly unknown[];
  const?: unknown;
  anyOf?: readonly Schema[];
  oneOf?: readonly Schema[];
  format?: string;
  minimum?: number;
  maximum?: number;
}>;
interface Route {
  readonly method: 'GET' | 'POST' | 'PUT' | 'DELETE' | 'HEAD';
  readonly path: string;
  readonly query: readonly { readonly name: string; readonly schema: Schema }[];
  readonly body: Schema | undefined;
}

/** Numbers that are the same for one seed (mulberry32). */
function dice(seed: number) {
  let state = seed;
  const next = () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
  return {
    next,
    below: (n: number) => Math.floor(next() * n),
    of: <T>(list: readonly T[]) => list[Math.floor(next() * list.length)] as T,
  };
}
type Dice = ReturnType<typeof dice>;

const deep = (levels: number): unknown => (levels === 0 ? 1 : [deep(levels - 1)]);
const JUNK: readonly unknown[] = [
  ...[null, true, false, 0, -1, 1e308, -1e308, 2 ** 53, 0.1, '', 'x', '\u0000', '\ud800', '🙂', '../../etc/passwd'],
  ...[
    "'; DROP TABLE projects; --",
    '%',
    '%ff',
    'NaN',
    'x'.repeat(5000),
    [],
    {},
    [[]],
    deep(20),
    deep(40),
    { a: deep(9) },
  ],
];

/** Something that a schema takes, or nearly. */
function like(schema: Schema | undefined, die: Dice, ids: readonly string[], depth = 0): unknown {
  if (!schema || die.next() < 0.06) return die.of(JUNK);
  const options = schema.anyOf ?? schema.oneOf;
  if (options) return like(die.of(options), die, ids, depth);
  if (schema.const !== undefined) return schema.const;
  if (schema.enum) return die.of(schema.enum);
  const type = Array.isArray(schema.type) ? die.of(schema.type as readonly string[]) : schema.type;
  if (type === 'object') {
    const entries = Object.entries(schema.properties ?? {}).filter(() => die.next() > 0.04);
    return Object.fromEntries(entries.map(([name, one]) => [name, like(one, die, ids, depth + 1)]));
  }
  if (type === 'array')
    return Array.from({ length: die.below(depth > 3 ? 2 : 5) }, () => like(schema.items, die, ids, depth + 1));
  if (type === 'integer' || type === 'number') {
    const [low, high] = [schema.minimum ?? -1000, schema.maximum ?? 1000];
    const value = low + die.next() * (Math.min(high, 1e6) - low);
    return type === 'integer' ? Math.round(value) : value;
  }
  if (type === 'boolean') return die.next() < 0.5;
  if (type === 'string')
    return schema.format === 'uuid' || die.next() < 0.4 ? die.of([...ids, randomUUID()]) : `word ${die.below(99)}`;
  return die.of(JUNK);
}

/** A change of a project in which some values are others: entities with strange parts, made, changed and deleted. */
function anyChange(project: Project, die: Dice, ids: readonly string[]): unknown {
  const operations = Array.from({ length: 1 + die.below(3) }, () => {
    const kind = die.of(ALL_KINDS);
    const all = kind === 'project' ? [project.head] : Object.values<Entity>(tableOf(project, kind));
    const entity = all.length > 0 ? die.of(all) : project.head;
    const { id, revision, ...fields } = entity;
    const some = Object.fromEntries(Object.entries(fields).filter(() => die.next() < 0.3));
    const own = { op: die.of(['create', 'patch', 'patch', 'patch']), kind, id: die.next() < 0.8 ? id : die.of(ids) };
    return { ...own, baseRevision: revision, fields: twisted(own.op === 'create' ? fields : some, die) };
  });
  return twisted({ form: 2, id: randomUUID(), name: 'Any', operations }, die, 0.004);
}

/** The same with some of its values exchanged for others. */
function twisted(value: unknown, die: Dice, often = 0.05): unknown {
  if (die.next() < often) return die.of(JUNK);
  if (Array.isArray(value)) return value.map((one) => twisted(one, die, often));
  if (typeof value === 'number' && die.next() < 0.2) return value * (die.next() * 4 - 1);
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(Object.entries(value).map(([name, one]) => [name, twisted(one, die, often)]));
}

async function routesOf({ app }: Served): Promise<Route[]> {
  await app.ready();
  const { paths } = (app as unknown as { swagger: () => { paths: Record<string, Record<string, never>> } }).swagger();
  return Object.entries(paths).flatMap(([path, methods]) =>
    Object.entries(methods).flatMap(([method, described]): Route[] => {
      const { parameters = [], requestBody } = described as {
        parameters?: { name: string; in: string; schema: Schema }[];
        requestBody?: { content: Record<string, { schema: Schema }> };
      };
      // A stream of events has no end to wait for.
      if (path.endsWith('/events') || !path.startsWith('/api')) return [];
      const query = parameters.filter((one) => one.in === 'query');
      return [
        {
          method: method.toUpperCase() as Route['method'],
          path,
          query,
          body: requestBody?.content['application/json']?.schema,
        },
      ];
    }),
  );
}

describe('any request', () => {
  let served: Served;
  beforeAll(async () => {
    served = await serve();
  });
  afterAll(() => served.close());

  it('is answered without a fault of the server, and leaves nothing behind in memory', async () => {
    const { app } = served;
    const project = await projectOn(app, 3);
    const routes = await routesOf(served);
    expect(routes.length).toBeGreaterThan(20);
    const [render] = await ordered(app, project.project, orderOf(project.sequence));
    const ids = [project.project, project.sequence, project.set, project.cameraId, render!.id, render!.orderId];
    const die = dice(20260814);
    const faults: string[] = [];
    let before = 0;
    for (let i = 0; i < REQUESTS; i++) {
      if (i === WARM) before = heap();
      const route = die.of(routes);
      const url = route.path.replace(/\{(\w+)\}/g, () =>
        encodeURIComponent(
          String(die.next() < 0.8 ? die.of(ids) : die.of(['x', '0', '%', '\u0000', 'a'.repeat(64), randomUUID()])),
        ),
      );
      const query = route.query
        .filter(() => die.next() < 0.6)
        .map(({ name, schema }) => `${name}=${encodeURIComponent(text(like(schema, die, ids)))}`);
      const takes = route.method === 'POST' || route.method === 'PUT';
      const changes = takes && route.path.endsWith('/changes');
      const body = changes ? anyChange(await project.read(), die, ids) : like(route.body, die, ids);
      const payload = takes ? JSON.stringify(body ?? null) : undefined;
      const headers =
        payload === undefined
          ? {}
          : {
              'content-type': die.of([
                'application/json',
                'application/json',
                'application/json',
                'text/plain',
                'multipart/form-data',
                'image/png',
              ]),
            };
      // The projects and cameras that the others ask for stay.
      if (route.method === 'DELETE' && ids.some((id) => url.endsWith(id))) continue;
      const answer = await app.inject({
        method: route.method,
        url: `${url}${query.length > 0 ? `?${query.join('&')}` : ''}`,
        headers,
        ...(payload !== undefined && { payload }),
      });
      const passing = answer.statusCode === 503 && answer.body.includes('detail');
      if (answer.statusCode >= 500 && !passing)
        faults.push(`${route.method} ${url} ${payload?.slice(0, 400)}: ${answer.body}`);
      const problem = answer.statusCode >= 400 && route.method !== 'HEAD';
      if (problem && !String(answer.headers['content-type']).includes('problem'))
        faults.push(`${route.method} ${url}: no problem document`);
    }
    expect(faults.slice(0, 5)).toEqual([]);
    // What is kept is kept by the database; a bound of a few megabytes is for what is compiled meanwhile.
    expect(heap()).toBeLessThan(before * 1.2 + 8e6);
  }, 600_000);
});

const text = (value: unknown) =>
  typeof value === 'string' ? value.replace(/\p{Surrogate}/gu, '') : JSON.stringify(value);

setFlagsFromString('--expose-gc');
const collect = runInNewContext('gc') as () => void;

/** What is really held: garbage is collected first. */
function heap(): number {
  collect();
  return process.memoryUsage().heapUsed;
}
