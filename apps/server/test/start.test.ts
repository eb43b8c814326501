import { newProject } from '@arvex/core';
import type { Project } from '@arvex/core';
import { createHash, randomUUID } from 'node:crypto';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { homedir, tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { HELP, readOptions } from '../src/options';
import { loadDemo } from '../src/features/projects/load-demo';
import type { Ground } from '../src/ground/ground';
import { serve } from './serve';
import type { Served } from './serve';

describe('the command line', () => {
  it('has a place for everything, from the environment or from the home directory', () => {
    const dataDirectory = join(homedir(), '.local', 'share', 'arvex');
    const outputDirectory = join(dataDirectory, 'output');
    const usual = { port: 4680, dataDirectory, outputDirectory, first: 'demo', renderers: 0 };
    expect(readOptions([], {})).toEqual(usual);
    expect(readOptions(['--empty'], { ARVEX_DATA: '/srv/arvex' })).toMatchObject({
      dataDirectory: '/srv/arvex',
      first: 'empty',
    });
    expect(readOptions(['--no-demo', '--data=/tmp/a', '--port', '8080'], { ARVEX_DATA: '/srv/arvex' })).toEqual({
      port: 8080,
      dataDirectory: '/tmp/a',
      outputDirectory: '/tmp/a/output',
      first: 'nothing',
      renderers: 0,
    });
    expect(readOptions(['--renderers', '2'], {})).toMatchObject({ renderers: 2 });
    expect(readOptions([], { ARVEX_OUTPUT: '/mnt/shots' })).toMatchObject({
      dataDirectory,
      outputDirectory: '/mnt/shots',
    });
    expect(readOptions(['--output', '/mnt/a'], { ARVEX_OUTPUT: '/b' })).toMatchObject({ outputDirectory: '/mnt/a' });
    expect(() => readOptions(['--renderers', '1.5'], {})).toThrow('"1.5" is no number of renderers');
    expect(readOptions(['-h'], {})).toBe('help');
    for (const option of ['--port', '--data', '--output', '--renderers', '--empty', '--no-demo', '--help'])
      expect(HELP).toContain(option);
  });

  it('refuses what it does not know, and ports that are none, in a sentence', () => {
    for (const port of ['0', '65536', 'http', '80.5']) {
      expect(() => readOptions(['--port', port], {})).toThrow(`"${port}" is not a port`);
    }
    expect(() => readOptions(['--prot', '80'], {})).toThrow('--prot');
  });
});

describe('the demo of a first start', () => {
  let served: Served;
  let directory: string;
  beforeEach(async () => {
    served = await serve();
    directory = await mkdtemp(join(tmpdir(), 'arvex-demo-'));
  });
  afterEach(async () => {
    await served.close();
    await rm(directory, { recursive: true, force: true });
  });

  const png = Buffer.from(
    'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
    'base64',
  );
  function demo(hash: string): Project {
    const project = newProject({ project: randomUUID(), set: randomUUID(), sequence: randomUUID() }, 'Saltmarsh Light');
    const asset = {
      id: randomUUID(),
      revision: 'first',
      name: 'board',
      file: {
        kind: 'picture' as const,
        hash,
        bytes: png.length,
        widthPx: 1,
        heightPx: 1,
        mediaType: 'image/png' as const,
      },
    };
    return { ...project, assets: { [asset.id]: asset } };
  }
  const load = (ground: Ground) => loadDemo(directory, ground);

  it('comes whole, its files by their content', async () => {
    const hash = createHash('sha256').update(png).digest('hex');
    const project = demo(hash);
    await writeFile(join(directory, 'project.json'), JSON.stringify(project));
    await writeFile(join(directory, 'board.png'), png);
    await load(served.ground);
    const answer = await served.app.inject(`/api/projects/${project.head.id}`);
    expect(answer.json<Project>().head.name).toBe('Saltmarsh Light');
    const picture = await served.app.inject(`/api/pictures/${hash}`);
    expect([picture.headers['content-type'], picture.rawPayload.equals(png)]).toEqual(['image/png', true]);
  });

  it('without one of its files is not begun, and says what to do', async () => {
    const project = demo('e'.repeat(64));
    await writeFile(join(directory, 'project.json'), JSON.stringify(project));
    await expect(load(served.ground)).rejects.toThrow('the file of "board" is missing. Run: npm run demo');
    expect((await served.app.inject(`/api/projects/${project.head.id}`)).statusCode).toBe(404);
  });

  it('is left as it is by a database that was brought to the newest form before', async () => {
    const project = demo('e'.repeat(64));
    await served.ground.projects.create(project);
    const again = await serve({ address: served.address });
    expect((await again.app.inject(`/api/projects/${project.head.id}`)).statusCode).toBe(200);
    await again.close();
  });
});
