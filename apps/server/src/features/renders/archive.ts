import type { Readable } from 'node:stream';
import { ZipFile } from 'yazl';
import type { FileStore } from '../../files/file-store';

/** Files as a zip, at their paths. */
export function archiveOf(
  all: readonly { readonly path: string; readonly hash: string }[],
  files: FileStore,
): Readable {
  const zip = new ZipFile();
  // Pictures and movies are compressed already.
  for (const { path, hash } of all) zip.addFile(files.path(hash), path, { compress: false });
  const stream = zip.outputStream as Readable;
  // A file that cannot be read ends the download, which is then seen to be cut off; nothing else.
  (zip as ZipFile & NodeJS.EventEmitter).on('error', (error: Error) => stream.destroy(error));
  zip.end();
  return stream;
}
