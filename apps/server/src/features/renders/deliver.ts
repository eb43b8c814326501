import { copyFile, link, mkdir, rm, stat } from 'node:fs/promises';
import { dirname, join, relative } from 'node:path';
import type { FileStore } from '../../files/file-store';

/** A file and where it goes: folders and name, seen from the output folder. */
export interface Delivered {
  readonly path: string;
  readonly hash: string;
}

/**
 * Lays files into a folder, without copying them where the file system can do without. What lies there already stays as it is where it
 * is the same file.
 * @throws Error that names the file that is another one already, or cannot be written. What was laid there before stays.
 */
export async function deliver(folder: string, all: readonly Delivered[], files: FileStore): Promise<void> {
  for (const { path, hash } of all) {
    const target = join(folder, path);
    if (relative(folder, target).startsWith('..')) throw new Error(`${path} lies outside the output folder.`);
    const source = files.path(hash);
    await mkdir(dirname(target), { recursive: true, mode: 0o700 });
    await link(source, target).catch(async (error: NodeJS.ErrnoException) => {
      if (error.code === 'EEXIST') {
        const [there, own] = await Promise.all([stat(target), stat(source)]);
        if (there.ino === own.ino && there.dev === own.dev) return;
        // Of an earlier try that was cut off: written anew, as its name belongs to this version alone.
        await rm(target, { force: true });
      }
      await copyFile(source, target);
    });
  }
}
