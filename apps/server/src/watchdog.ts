import { Worker } from 'node:worker_threads';

/** The server says that it lives so often, milliseconds. */
const BEAT_MS = 1000;
/** One that has not for so many of them hangs, and is ended: `./start` starts it again. */
const MOST_MISSED = 60;

/** Runs beside the event loop: what holds that up does not hold this. */
const WATCHING = `
  const { workerData } = require('node:worker_threads');
  const beats = new Int32Array(workerData.beats);
  let [last, missed] = [-1, 0];
  setInterval(() => {
    const now = Atomics.load(beats, 0);
    missed = now === last ? missed + 1 : 0;
    last = now;
    if (missed < workerData.most) return;
    process.stderr.write('Arvex did not answer for ' + workerData.most + ' s and was ended.\\n');
    process.kill(process.pid, 'SIGKILL');
  }, workerData.beatMs);
`;

/** Ends this process where its event loop stands still for a minute: nothing else would notice. @param most beats that may be missed. */
export function endIfItHangs(most: number = MOST_MISSED, beatMs: number = BEAT_MS): void {
  const beats = new SharedArrayBuffer(4);
  const seen = new Int32Array(beats);
  setInterval(() => Atomics.add(seen, 0, 1), beatMs).unref();
  new Worker(WATCHING, { eval: true, workerData: { beats, most, beatMs } }).unref();
}
