import type { FastifyRequest } from 'fastify';
import type { FileStore, WrittenFile } from '../files/file-store';
import { BROUGHT_IN_MS } from '../files/file-store';
import { Problem } from '../problem/problem';

/** How long browsers may keep what is named by its content, seconds. */
export const A_YEAR_S = 31_536_000;

/** Keeps the file of a multipart request (field "file"). @throws Problem for none, or one over the limit in bytes. */
export async function storeUpload(
  request: FastifyRequest,
  files: FileStore,
  limit: number,
  what: string,
): Promise<WrittenFile> {
  if (!request.isMultipart()) throw new Problem('wrong-type', 'Send the file as multipart/form-data.');
  const part = await request.file({ limits: { fileSize: limit, files: 1 } });
  if (!part) throw new Problem('invalid-request', 'The request holds no file.', { field: 'file' });
  const megabytes = Number((limit / 1_000_000).toPrecision(2));
  const tooLarge = new Problem(
    'too-large',
    `${what} may have up to ${megabytes} MB. Make the file smaller or split it.`,
    {
      field: 'file',
    },
  );
  const stored = await files.write(part.file, BROUGHT_IN_MS).catch((error: unknown) => {
    // What is left of the request is read, or the next one on this connection would wait for ever.
    request.raw.unpipe();
    request.raw.resume();
    throw part.file.truncated ? tooLarge : error;
  });
  if (part.file.truncated) {
    await files.discard(stored);
    throw tooLarge;
  }
  return stored;
}
