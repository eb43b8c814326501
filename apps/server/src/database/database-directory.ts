import { execFile } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, readdir, readFile, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { writeDurably } from '../files/durable';

const run = promisify(execFile);

/** Shortest password that is taken, characters: one that was cut off when it was written is none. */
const SHORTEST_SECRET = 32;

/** MariaDB refuses to run as root unless told so. */
export function userArguments(): string[] {
  return process.getuid?.() === 0 ? ['--user=root'] : [];
}

/** Makes the data directory beside its place and renames it when it is whole, so that a killed install leaves no half. */
export async function install(directory: string): Promise<void> {
  await mkdir(join(directory, 'tmp'), { recursive: true, mode: 0o700 });
  const data = join(directory, 'data');
  if (existsSync(data)) {
    if ((await readdir(data)).length > 0) return;
    throw new Error(`The database's directory ${data} is empty. Restore it from a copy, or delete it to begin anew.`);
  }
  await rm(`${data}.new`, { recursive: true, force: true });
  const rootLogin = process.getuid?.() === 0 ? ['--auth-root-authentication-method=socket'] : [];
  // Its path is given from within: the install script splits paths at white space.
  const options = ['--no-defaults', ...userArguments(), ...rootLogin, '--skip-test-db', '--datadir=./data.new'];
  // Not in the machine's own: another database that starts meanwhile clears that of what looks like its leftovers.
  const env = { ...process.env, TMPDIR: join(directory, 'tmp') };
  try {
    await run('mariadb-install-db', options, { maxBuffer: 1 << 24, cwd: directory, env });
  } catch (error) {
    await rm(`${data}.new`, { recursive: true, force: true });
    const said = (error as { stderr?: string; stdout?: string }).stderr ?? '';
    const full = /No space left|Errcode: 28|error: 28\b/.test(`${said}${(error as { stdout?: string }).stdout ?? ''}`);
    const why = full ? 'the disk is full. Make room on it' : ((error as Error).message.split('\n')[0] ?? '');
    throw new Error(`The database could not be set up: ${why}.`, { cause: error });
  }
  await rename(`${data}.new`, data);
}

/** The password of the database's user. It is set anew at each start: one that was cut off is made anew. */
export async function secretIn(directory: string): Promise<string> {
  const path = join(directory, 'secret');
  const kept = (await readFile(path, 'utf8').catch(() => '')).trim();
  if (kept.length >= SHORTEST_SECRET && /^[0-9a-f]+$/.test(kept)) return kept;
  const secret = randomBytes(24).toString('hex');
  await writeDurably(path, secret);
  return secret;
}
