import { createHash } from 'node:crypto';
import { constants, createReadStream } from 'node:fs';
import { copyFile, mkdir, rename, stat } from 'node:fs/promises';
import { dirname, join, relative } from 'node:path';
import { pipeline } from 'node:stream/promises';
import type { FileStore } from '../../files/file-store';

/** A file and where it goes: folders and name, seen from the output folder. */
export interface Delivered {
  readonly path: string;
  readonly hash: string;
}

/** The first of some paths at which something lies already. */
export async function taken(folder: string, paths: readonly string[]): Promise<string | undefined> {
  for (const path of paths) {
    if (await stat(join(folder, path)).catch(() => undefined)) return path;
  }
  return undefined;
}

/**
 * Lays copies of files into a folder: what is done to them there does nothing to what is kept. A file system that can shares their blocks
 * until one of them is written. What lies there already stays as it is where it is the same file.
 * @throws Error that names the file that is another one already, or cannot be written. What was laid there before stays.
 */
export async function deliver(folder: string, all: readonly Delivered[], files: FileStore): Promise<void> {
  for (const { path, hash } of all) {
    const target = join(folder, path);
    if (relative(folder, target).startsWith('..')) throw new Error(`${path} lies outside the output folder.`);
    await mkdir(dirname(target), { recursive: true, mode: 0o700 });
    await lay(files.path(hash), target, hash);
  }
}

async function lay(source: string, target: string, hash: string): Promise<void> {
  if (await stat(target).catch(() => undefined)) {
    if ((await hashOf(target)) === hash) return;
    throw new Error(`${target} is another file already. Take it away, then try again.`);
  }
  // Whole or not at all.
  await copyFile(source, `${target}.part`, constants.COPYFILE_FICLONE);
  await rename(`${target}.part`, target);
}

async function hashOf(path: string): Promise<string> {
  const digest = createHash('sha256');
  await pipeline(createReadStream(path), digest);
  return digest.digest('hex');
}
