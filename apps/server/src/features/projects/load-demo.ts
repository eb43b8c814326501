import { projectFrom } from '@arvex/core';
import { createReadStream } from 'node:fs';
import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Ground } from '../../ground/ground';

/** Puts the demo that `npm run demo` made into the data directory and the database. */
export async function loadDemo(
  directory: string,
  { files, projects }: Pick<Ground, 'files' | 'projects'>,
): Promise<void> {
  const project = projectFrom(JSON.parse(await readFile(join(directory, 'project.json'), 'utf8')));
  const names = (await readdir(directory)).filter((name) => /\.(glb|png|wav)$/.test(name));
  const kept = await Promise.all(names.map((name) => files.write(createReadStream(join(directory, name)))));
  const hashes = new Set(kept.map((file) => file.hash));
  const missing = Object.values(project.assets).find((asset) => !hashes.has(asset.file.hash));
  if (missing) throw new Error(`The demo is not whole: the file of "${missing.name}" is missing. Run: npm run demo`);
  await projects.create(project);
}
