import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { mkdir, open, rename, rm, stat } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type { Readable } from 'node:stream';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';

const HASH = /^[0-9a-f]{64}$/;

/** A stored file: its SHA-256 is its name. */
export interface StoredFile {
  readonly hash: string;
  readonly bytes: number;
}

/** Files by content in one directory: the same content is kept once, and a file is there whole or not at all. */
export class FileStore {
  constructor(private readonly directory: string) {}

  /** Path of a file. @throws RangeError for anything that is not a SHA-256 in hexadecimal. */
  path(hash: string): string {
    if (!HASH.test(hash)) throw new RangeError(`"${hash}" is not a content hash.`);
    return join(this.directory, hash.slice(0, 2), hash);
  }

  async has(hash: string): Promise<boolean> {
    return HASH.test(hash) && (await stat(this.path(hash)).catch(() => undefined)) !== undefined;
  }

  read(hash: string): Readable {
    return createReadStream(this.path(hash));
  }

  /** Keeps a stream's content, flushed to the disk before this returns. */
  async write(source: Readable | Iterable<Uint8Array>): Promise<StoredFile> {
    const incoming = join(this.directory, 'incoming', randomUUID());
    await mkdir(dirname(incoming), { recursive: true, mode: 0o700 });
    const digest = createHash('sha256');
    let bytes = 0;
    const measure = new Transform({
      transform(chunk: Buffer, _encoding, done) {
        digest.update(chunk);
        bytes += chunk.length;
        done(null, chunk);
      },
    });
    try {
      await pipeline(source, measure, createWriteStream(incoming, { mode: 0o600 }));
      const hash = digest.digest('hex');
      await this.adopt(incoming, hash);
      return { hash, bytes };
    } catch (error) {
      await rm(incoming, { force: true });
      throw error;
    }
  }

  /** Moves a finished file from elsewhere on the same disk to its place. */
  private async adopt(from: string, hash: string): Promise<void> {
    const handle = await open(from, 'r');
    await handle.sync().finally(() => handle.close());
    await mkdir(dirname(this.path(hash)), { recursive: true, mode: 0o700 });
    await rename(from, this.path(hash));
  }
}
