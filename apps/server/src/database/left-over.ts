import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';

/** How long a database may take to go down before it is killed: InnoDB recovers from that. */
export const STOP_GRACE_MS = 8000;
/** A killed process is gone within this, or never. */
export const KILLED_MS = 3000;

/** Stops a database that a killed server left running in this directory, however far it had come. */
export async function stopLeftOver(directory: string): Promise<void> {
  for (const pid of await processesOn(join(directory, 'data'))) {
    for (const [signal, grace] of [
      ['SIGTERM', STOP_GRACE_MS],
      ['SIGKILL', KILLED_MS],
    ] as const) {
      if (!(await isOn(pid, join(directory, 'data')))) break;
      process.kill(pid, signal);
      const deadline = Date.now() + grace;
      while ((await isOn(pid, join(directory, 'data'))) && Date.now() < deadline) await sleep(50);
    }
    if (await isOn(pid, join(directory, 'data'))) {
      throw new Error(`The database process ${pid} of an earlier start does not end. Restart this machine.`);
    }
  }
}

/** Databases that have a data directory, by what the system says of their processes: no file of theirs has to be there. */
async function processesOn(data: string): Promise<number[]> {
  const pids = (await readdir('/proc')).filter((name) => /^\d+$/.test(name)).map(Number);
  const ours = await Promise.all(pids.map((pid) => isOn(pid, data)));
  return pids.filter((_, i) => ours[i]);
}

async function isOn(pid: number, data: string): Promise<boolean> {
  const command = await readFile(`/proc/${pid}/cmdline`, 'utf8').catch(() => '');
  return command.split('\0').includes(`--datadir=${data}`);
}
