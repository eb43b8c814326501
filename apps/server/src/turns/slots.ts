import { Problem } from '../problem/problem';

/** Room for so much heavy work at once; a few more wait, and whoever comes then is told to come again. */
export class Slots {
  private busy = 0;
  private readonly waiting: (() => void)[] = [];

  constructor(
    private readonly count: number,
    private readonly mostWaiting: number,
  ) {}

  /** Does a piece of work once there is room. @throws Problem `busy`, and what the work throws. */
  async within<T>(work: () => Promise<T>): Promise<T> {
    if (this.busy >= this.count) {
      if (this.waiting.length >= this.mostWaiting)
        throw new Problem('busy', 'Many files are being measured. Send it again in a moment.');
      await new Promise<void>((resolve) => this.waiting.push(resolve));
    } else this.busy += 1;
    try {
      return await work();
    } finally {
      // Whoever waits has the place from here on: nobody who comes in between takes it as well.
      const next = this.waiting.shift();
      if (next) next();
      else this.busy -= 1;
    }
  }
}
