/** Lets leases go on while their frames are made. */
export interface LeaseBeats {
  /** @param path of the lease. @param seconds that it lasts without. */
  begin(path: string, seconds: number): unknown;
  end(path: string): unknown;
}

/** A lease is extended so often within its time. */
const BEATS = 3;
/** Whoever takes longer for a few frames hangs: others are to have them, seconds. */
const LONGEST_S = 7200;

/** Beats from the thread that it is made in. */
export class BeatsHere implements LeaseBeats {
  private readonly running = new Map<string, ReturnType<typeof setInterval>>();

  begin(path: string, seconds: number): void {
    let left = Math.ceil((LONGEST_S * BEATS) / seconds);
    const beat = () => {
      left -= 1;
      if (left < 0) this.end(path);
      // One that is not heard is made up for by the next, or by the frame itself.
      else void fetch(`/api${path}`, { method: 'POST' }).catch(() => undefined);
    };
    this.running.set(path, setInterval(beat, (seconds * 1000) / BEATS));
  }

  end(path: string): void {
    clearInterval(this.running.get(path));
    this.running.delete(path);
  }
}
