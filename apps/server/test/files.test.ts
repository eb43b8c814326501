import { Document, NodeIO } from '@gltf-transform/core';
import type { GeometryFile, PictureFile } from '@arvex/core';
import { attachPlacements, bringIn, deletePlacements, keyPlacement, PIECE_OFFERS, putPiece } from '@arvex/core';
import { createHash, randomUUID } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Served } from './serve';
import { change, projectOn, serve } from './serve';

let served: Served;
beforeAll(async () => void (served = await serve({ geometryLimit: 100_000 })));
afterAll(() => served.close());

async function upload(path: string, bytes: Uint8Array, name: string) {
  const body = new FormData();
  body.append('file', new Blob([new Uint8Array(bytes)]), name);
  const request = new Request('http://localhost', { method: 'POST', body });
  return served.app.inject({
    method: 'POST',
    url: `/api${path}`,
    payload: Buffer.from(await request.arrayBuffer()),
    headers: { 'content-type': request.headers.get('content-type') ?? '' },
  });
}
const geometry = (bytes: Uint8Array) => upload('/geometry', bytes, 'thing.glb');

/** A right triangle 2 m wide and 3 m high, standing on the floor, that slides for 1.5 s. */
async function sail(change: (document: Document) => void = () => undefined): Promise<Uint8Array> {
  const document = new Document();
  const buffer = document.createBuffer();
  const floats = (type: 'VEC3' | 'SCALAR', values: number[]) =>
    document.createAccessor().setType(type).setArray(new Float32Array(values)).setBuffer(buffer);
  const mesh = document
    .createMesh()
    .addPrimitive(document.createPrimitive().setAttribute('POSITION', floats('VEC3', [0, 0, 0, 2, 0, 0, 0, 3, 0])));
  const node = document.createNode('sail').setMesh(mesh);
  document.createScene().addChild(node);
  const sampler = document
    .createAnimationSampler()
    .setInput(floats('SCALAR', [0, 1.5]))
    .setOutput(floats('VEC3', [0, 0, 0, 4, 0, 0]));
  const channel = document
    .createAnimationChannel()
    .setTargetNode(node)
    .setTargetPath('translation')
    .setSampler(sampler);
  document.createAnimation('slides').addSampler(sampler).addChannel(channel);
  change(document);
  return new NodeIO().writeBinary(document);
}

/** The same file with its JSON changed, lengths kept right: what a hostile file would be. */
async function sailSaying(edit: (json: Record<string, unknown>) => void): Promise<Uint8Array> {
  const bytes = await sail();
  const view = new DataView(bytes.buffer, bytes.byteOffset);
  const length = view.getUint32(12, true);
  const json = JSON.parse(new TextDecoder().decode(bytes.subarray(20, 20 + length))) as Record<string, unknown>;
  edit(json);
  const text = new TextEncoder().encode(JSON.stringify(json));
  const padded = new Uint8Array(Math.ceil(text.length / 4) * 4).fill(0x20);
  padded.set(text);
  const rest = bytes.subarray(20 + length);
  const made = new Uint8Array(20 + padded.length + rest.length);
  made.set(bytes.subarray(0, 20));
  made.set(padded, 20);
  made.set(rest, 20 + padded.length);
  const header = new DataView(made.buffer);
  header.setUint32(8, made.length, true);
  header.setUint32(12, padded.length, true);
  return made;
}

describe('geometry', () => {
  it('is measured and kept by content, with its clips and what is left out of it', async () => {
    const bytes = await sail((document) => {
      document.createScene('another').addChild(document.createNode('elsewhere'));
      document.createCamera('shot camera');
    });
    const facts = (await geometry(bytes)).json<GeometryFile>();
    expect(facts).toMatchObject({
      kind: 'geometry',
      triangles: 1,
      minM: [0, 0, 0],
      maxM: [2, 3, 0],
      deforms: false,
      footprints: [{ name: 'sail', bottomM: 0, topM: 3 }],
      clips: [{ name: 'slides', seconds: 1.5 }],
    });
    expect(facts.leftOut.join(' | ')).toMatch(/1 camera:.*1 more scene:/);
    const back = await served.app.inject(`/api/geometry/${facts.hash}`);
    expect(new Uint8Array(back.rawPayload)).toEqual(bytes);
  });

  it.each([
    ['is not a GLB', async () => new TextEncoder().encode('a picture of a boat, not a boat'), 422, /glTF signature/],
    ['is cut off', async () => (await sail()).subarray(0, 400), 422, /cut off: \d+ bytes are missing/],
    ['is over the limit', async () => new Uint8Array(200_000), 413, /up to 0\.1 MB/],
    [
      'asks for more than its buffer holds',
      () =>
        sailSaying(
          (json) => (((json['accessors'] as { count: number }[])[0] as { count: number }).count = 2_000_000_000),
        ),
      ...([422, /\/accessors\/0/] as const),
    ],
    [
      'points to the network',
      () => sailSaying((json) => Object.assign(json, { images: [{ uri: 'http://192.0.2.1/spy.png' }] })),
      ...([422, /\/images\/0\/uri/] as const),
    ],
    [
      'contains itself',
      () => sailSaying((json) => Object.assign((json['nodes'] as object[])[0] as object, { children: [0] })),
      ...([422, /\/nodes\/0/] as const),
    ],
    [
      'needs what Arvex has not',
      () => sailSaying((json) => Object.assign(json, { extensionsRequired: ['KHR_draco_mesh_compression'] })),
      ...([422, /Export it without compression/] as const),
    ],
    [
      'holds no triangles',
      () => sail((document) => document.getRoot().listMeshes()[0]?.dispose()),
      422,
      /no triangles/,
    ],
  ] as const)('that %s is refused with the place and the way out', async (_what, bytes, status, reason) => {
    const answer = await geometry(await bytes());
    expect(answer.statusCode).toBe(status);
    expect(answer.json<{ detail: string }>().detail).toMatch(reason);
    expect((await served.app.inject('/api/health')).statusCode).toBe(200);
  });
});

describe('what is refused', () => {
  it('leaves no file behind, and says what is wrong with hostile geometry at once', async () => {
    const chain = (nodes: number) => (json: Record<string, unknown>) => {
      const own = json['nodes'] as object[];
      const hung = Array.from({ length: nodes }, (_, i) => ({ children: [own.length + i + 1] }));
      json['nodes'] = [...own, ...hung, {}];
      json['scenes'] = [{ nodes: [0, own.length] }];
    };
    const hostile: readonly (readonly [string, (json: Record<string, unknown>) => void])[] = [
      ['deep', chain(4000)],
      ['materials', (json) => (json['materials'] = Array.from({ length: 2001 }, () => ({})))],
      ['elements', (json) => Object.assign((json['accessors'] as object[])[0] ?? {}, { count: 1e9 })],
      ['farther', (json) => Object.assign((json['nodes'] as object[])[0] ?? {}, { translation: [1e7, 0, 0] })],
      ['spot', (json) => Object.assign((json['nodes'] as object[])[0] ?? {}, { scale: [0, 0, 0] })],
    ];
    for (const [what, edit] of hostile) {
      const bytes = await sailSaying(edit);
      const answer = await geometry(bytes);
      expect([what, answer.statusCode]).toEqual([what, 422]);
      expect(answer.json<{ detail: string }>().detail).toContain(what);
      const hash = createHash('sha256').update(bytes).digest('hex');
      expect((await served.app.inject(`/api/geometry/${hash}`)).statusCode).toBe(404);
    }
  });

  it('is cut at whole characters where a name is too long to be kept', async () => {
    const long = `${'x'.repeat(119)}🙂 and more`;
    const answer = await geometry(
      await sailSaying((json) => Object.assign((json['nodes'] as object[])[0] ?? {}, { name: long })),
    );
    const [footprint] = answer.json<GeometryFile>().footprints;
    expect(footprint?.name).toBe('x'.repeat(119));
  });
});

describe('who asks', () => {
  it('is this machine, by one of its own names, and its own pages where something is written', async () => {
    const ask = (method: 'GET' | 'POST', headers: Record<string, string>) =>
      served.app.inject({ method, url: '/api/projects', headers, ...(method === 'POST' && { payload: {} }) });
    for (const host of ['localhost', 'LOCALHOST:80', '127.0.0.1:4680', '[::1]:4680']) {
      expect((await ask('GET', { host })).statusCode, host).toBe(200);
      const own = { host, origin: `http://${host}`, 'sec-fetch-site': 'same-origin' };
      expect((await ask('POST', own)).statusCode, host).toBe(400);
    }
    for (const host of ['evil.example', '127.0.0.1.evil.example', 'localhost.evil.example:80', '10.0.0.1']) {
      expect((await ask('GET', { host })).statusCode, host).toBe(421);
    }
    const host = 'localhost:4680';
    const pages: readonly Record<string, string>[] = [
      { host, origin: 'http://evil.example' },
      { host, origin: 'http://localhost:9999' },
      { host, origin: 'null' },
      { host, 'sec-fetch-site': 'cross-site' },
    ];
    for (const foreign of pages) {
      const answer = await ask('POST', foreign);
      expect(answer.json()).toMatchObject({ status: 403, type: '/problems/foreign-page' });
    }
  });

  it('may send a body that is deep, broken or full of small values, and is told so before it is read', async () => {
    const send = (payload: string) =>
      served.app.inject({
        method: 'POST',
        url: '/api/projects',
        payload,
        headers: { 'content-type': 'application/json' },
      });
    const deep = `${'['.repeat(5000)}${']'.repeat(5000)}`;
    for (const wrong of [deep, '{"a":', '{"name":"\\ud800"}', '{"__proto__":1}', 'nul']) {
      expect((await send(wrong)).json(), wrong.slice(0, 20)).toMatchObject({ status: 400 });
    }
    const { project } = await projectOn(served.app);
    const many = `{"id":"${randomUUID()}","operations":[${'[],'.repeat(600_000)}[]]}`;
    const answer = await served.app.inject({
      method: 'POST',
      url: `/api/projects/${project}/changes`,
      payload: many,
      headers: { 'content-type': 'application/json' },
    });
    expect(answer.statusCode).toBe(413);
  });
});

describe('pictures', () => {
  /** One red pixel as PNG. */
  const PIXEL = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAIAAACQd1PeAAAADElEQVR4nGP4z8AAAAMBAQDJ/pLvAAAAAElFTkSuQmCC';

  it('are measured from their header and given back with their type', async () => {
    const bytes = Buffer.from(PIXEL, 'base64');
    const facts = (await upload('/pictures', bytes, 'plate.png')).json<PictureFile>();
    expect(facts).toMatchObject({
      kind: 'picture',
      widthPx: 1,
      heightPx: 1,
      mediaType: 'image/png',
      bytes: bytes.length,
    });
    const back = await served.app.inject(`/api/pictures/${facts.hash}`);
    expect(back.headers['content-type']).toBe('image/png');
    expect(back.rawPayload.equals(bytes)).toBe(true);
  });

  it('that are none are refused', async () => {
    const answer = await upload('/pictures', new TextEncoder().encode('<svg onload="alert(1)"/>'), 'plate.png');
    expect(answer.statusCode).toBe(422);
    expect(answer.json()).toMatchObject({ type: '/problems/invalid-picture' });
  });
});

describe('the set in the database', () => {
  it('comes back as it was put in: carried, keyed, imported; and goes out whole', async () => {
    const { post, read, project } = await projectOn(served.app);
    const empty = await read();
    const setId = Object.keys(empty.sets)[0] ?? '';
    const file = (await geometry(await sail())).json<GeometryFile>();
    const [boat, asset, rower] = [randomUUID(), randomUUID(), randomUUID()];
    const offer = PIECE_OFFERS.find(({ name }) => name === 'Figure, sitting');
    if (!offer) throw new Error('no figure');
    const edits = [
      () => bringIn(empty, setId, { asset, placement: boat }, 'boat', file),
      (now: typeof empty) => putPiece(now, setId, rower, offer, [1, 0.4, 0]),
      (now: typeof empty) => attachPlacements(now, [rower], boat, 0),
      (now: typeof empty) => keyPlacement(now, boat, 705_600_000, { positionM: [5, 0, 0] }),
    ];
    for (const edit of edits) {
      const { name, operations } = edit(await read());
      expect((await post(change(name, operations))).statusCode).toBe(200);
    }
    const there = await read();
    expect(there.placements[rower]).toMatchObject({ parentId: boat, piece: { kind: 'figure', pose: 'sitting' } });
    expect(there.placements[boat]?.motion).toMatchObject({ kind: 'keys' });
    const rows = await served.app.inject(`/api/projects/${project}/placements/${rower}/frames?from=1001&to=1049`);
    expect(rows.json<{ x_m: number }[]>()[24]?.x_m).toBeCloseTo(6, 9); // carried along to 5 m at one second
    const out = deletePlacements(there, [boat]);
    expect((await post(change(out.name, out.operations))).statusCode).toBe(200);
    expect(Object.keys((await read()).placements)).toEqual([]);
  });
});
