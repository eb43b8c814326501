import { readFile } from 'node:fs/promises';

interface ProcessorTime {
  readonly whole: number;
  /** What other machines on the same hardware took of it. */
  readonly stolen: number;
}

/** Time of all processors so far, in ticks, as the first line of `/proc/stat` has it. */
export async function processorTime(): Promise<ProcessorTime> {
  const [first = ''] = (await readFile('/proc/stat', 'utf8')).split('\n');
  const ticks = first.split(/\s+/).slice(1, 9).map(Number);
  return { whole: ticks.reduce((sum, one) => sum + one, 0), stolen: ticks[7] ?? 0 };
}

/** Share (0 to 1) that other machines took between two readings. */
export function stolenShare(from: ProcessorTime, to: ProcessorTime): number {
  return (to.stolen - from.stolen) / Math.max(1, to.whole - from.whole);
}
