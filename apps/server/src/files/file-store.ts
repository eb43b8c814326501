import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { mkdir, open, readdir, rename, rm, stat, statfs } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type { Readable } from 'node:stream';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { syncDirectory } from './durable';

const HASH = /^[0-9a-f]{64}$/;

/** A stored file: its SHA-256 is its name. */
interface StoredFile {
  readonly hash: string;
  readonly bytes: number;
}

/** A stored file, and whether its content was kept before. */
export interface WrittenFile extends StoredFile {
  readonly known: boolean;
  /** Names this writing of it. */
  readonly writing: string;
}

/** A file that nothing refers to yet may be about to be: it is left alone for so long, milliseconds. */
const GRACE_MS = 3_600_000;

/**
 * A file that somebody brought in is left alone for so long, milliseconds: the change that names it may wait in a browser over a weekend.
 */
export const BROUGHT_IN_MS = 7 * 24 * GRACE_MS;

/** So many writings are remembered, to tell whether another one of the same file came after one that is taken back. */
const MOST_REMEMBERED = 1000;

/** Files by content in one directory: the same content is kept once, and a file is there whole or not at all. */
export class FileStore {
  /** The last writing of each file, of those written last. */
  private readonly written = new Map<string, string>();

  /** @param writer whoever writes here: what it had not finished when it died is swept away by its next life, and by nobody else. */
  constructor(
    private readonly directory: string,
    private readonly writer = 'server',
  ) {}

  private get incoming(): string {
    return join(this.directory, 'incoming', this.writer);
  }

  /** Takes away what an earlier life of this writer left unfinished. */
  async sweep(): Promise<void> {
    await rm(this.incoming, { recursive: true, force: true });
  }

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

  /**
   * Keeps a stream's content, flushed to the disk before this returns.
   * @param keptMs how long it is not collected though nothing refers to it; an hour when left out.
   */
  async write(source: Readable | Iterable<Uint8Array>, keptMs = GRACE_MS): Promise<WrittenFile> {
    const incoming = join(this.incoming, randomUUID());
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
      const known = await this.has(hash);
      await this.adopt(incoming, hash, keptMs);
      return { hash, bytes, known, writing: this.remember(hash) };
    } catch (error) {
      await rm(incoming, { force: true });
      throw error;
    }
  }

  /**
   * Takes a file away again that has just been written and turned out to be of no use. One that was known stays, and one that somebody
   * else has sent meanwhile: he was told that it is kept.
   */
  async discard({ hash, known, writing }: WrittenFile): Promise<void> {
    if (!known && this.written.get(hash) === writing) await rm(this.path(hash), { force: true });
  }

  private remember(hash: string): string {
    const writing = randomUUID();
    this.written.delete(hash);
    this.written.set(hash, writing);
    const oldest = this.written.keys().next().value;
    if (this.written.size > MOST_REMEMBERED && oldest !== undefined) this.written.delete(oldest);
    return writing;
  }

  /**
   * Takes away files that nothing refers to, unless they came within the time for which they are kept.
   * @returns how many bytes that freed.
   */
  async collect(isUsed: (hash: string) => boolean): Promise<number> {
    let freed = 0;
    const now = Date.now();
    for (const folder of await readdir(this.directory).catch(() => [])) {
      if (!/^[0-9a-f]{2}$/.test(folder)) continue;
      for (const hash of await readdir(join(this.directory, folder))) {
        if (!HASH.test(hash) || isUsed(hash)) continue;
        const facts = await stat(this.path(hash)).catch(() => undefined);
        if (!facts || facts.mtimeMs > now) continue;
        await rm(this.path(hash), { force: true });
        freed += facts.size;
      }
    }
    return freed;
  }

  /** Bytes that the files of these hashes take; what is missing takes none. */
  async sizeOf(hashes: Iterable<string>): Promise<number> {
    let bytes = 0;
    for (const hash of hashes) bytes += (await stat(this.path(hash)).catch(() => undefined))?.size ?? 0;
    return bytes;
  }

  /** Bytes that can still be written. */
  async room(): Promise<number> {
    await mkdir(this.directory, { recursive: true, mode: 0o700 });
    const { bavail, bsize } = await statfs(this.directory);
    return bavail * bsize;
  }

  /** Moves a finished file to its place, and makes sure that it is there after a power cut. */
  private async adopt(from: string, hash: string, keptMs: number): Promise<void> {
    // Its time of change says until when it is kept: the latest of all who have sent it.
    const before = (await stat(this.path(hash)).catch(() => undefined))?.mtimeMs ?? 0;
    const until = new Date(Math.max(before, Date.now() + keptMs));
    const handle = await open(from, 'r+');
    await handle.utimes(new Date(), until);
    await handle.sync().finally(() => handle.close());
    const folder = dirname(this.path(hash));
    await mkdir(folder, { recursive: true, mode: 0o700 });
    await rename(from, this.path(hash));
    await syncDirectory(folder);
    await syncDirectory(this.directory);
  }
}
