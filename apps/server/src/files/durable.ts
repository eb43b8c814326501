import { open, rename, rm } from 'node:fs/promises';
import { dirname } from 'node:path';

/** Makes a directory's names last: a file that was renamed into it is there after the power has gone. */
export async function syncDirectory(directory: string): Promise<void> {
  const handle = await open(directory, 'r');
  await handle.sync().finally(() => handle.close());
}

/** Writes a private file beside its place and renames it once it is on the disk: it is whole, or as it was. */
export async function writeDurably(path: string, text: string): Promise<void> {
  const beside = `${path}.new`;
  await rm(beside, { force: true });
  const handle = await open(beside, 'wx', 0o600);
  try {
    await handle.writeFile(text);
    await handle.sync();
  } finally {
    await handle.close();
  }
  await rename(beside, path);
  await syncDirectory(dirname(path));
}
