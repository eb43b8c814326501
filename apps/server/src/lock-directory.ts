import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { join, resolve } from 'node:path';

/**
 * Holds the data directory for as long as this process lives, however it ends: a helper holds the lock until its input ends with us.
 * `./start` has it already when it starts us, and says so by `ARVEX_LOCKED`.
 * @throws Error in one sentence when another Arvex has it.
 */
export async function lockDirectory(directory: string, environment: NodeJS.ProcessEnv): Promise<void> {
  const locked = environment['ARVEX_LOCKED'];
  if (locked !== undefined && resolve(locked) === directory) return;
  const holder = spawn(
    'flock',
    ['--nonblock', '--no-fork', join(directory, 'lock'), 'sh', '-c', 'echo held; exec cat'],
    {
      stdio: ['pipe', 'pipe', 'ignore'],
      detached: true, // a Ctrl+C in the terminal is ours to answer first
    },
  );
  const [held] = (await Promise.race([
    once(holder.stdout, 'data'),
    once(holder, 'exit').then(() => []),
    once(holder, 'error').then(() => []),
  ]).catch(() => [])) as [Buffer?];
  if (held === undefined) {
    throw new Error(
      `The data directory ${directory} is in use by another Arvex. Stop that one, or choose another with --data.`,
    );
  }
  holder.unref();
  (holder.stdin as unknown as { unref?: () => void }).unref?.();
  (holder.stdout as unknown as { unref?: () => void }).unref?.();
}
