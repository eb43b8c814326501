import type { Effort } from '@arvex/stage';

/** What is given up one after another where a picture takes too long. The first gives up nothing but refining. */
export const EFFORTS: readonly Effort[] = [
  { share: 1, shadows: true, lean: false },
  { share: 1 / 2, shadows: true, lean: false },
  { share: 1 / 3, shadows: true, lean: false },
  { share: 1 / 3, shadows: false, lean: false },
  { share: 1 / 3, shadows: false, lean: true },
];

/** What pictures that are drawn with nothing given up have. */
export const WHOLE = EFFORTS[0] as Effort;

/** Where nothing is drawn but what was drawn is shown again, only the size can be given up. */
export const SIZES: readonly Effort[] = EFFORTS.filter(({ shadows }) => shadows);

/** A picture may take so much longer than asked for before something is given up: no pace is held to the millisecond. */
const SLACK = 1.15;
/** What a picture of the effort above would take has to be so much less than asked for. */
const ROOM = 0.85;
/** A picture that takes so much less than it may says that the machine has become free. */
const MUCH_ROOM = 0.4;
/** Pictures before a greater effort is tried whose time is not known, and at most: each try in vain doubles them. */
const FIRST_WAIT = 24;
const LONGEST_WAIT = 400;
/** Weight of the newest picture among those of its effort. */
const NEWEST = 0.4;

/**
 * Chooses the effort of pictures so that they keep a pace. It gives up as much as it has to at once, and takes back one thing at
 * a time, when there has been room for it.
 */
export class Pace {
  private level = 0;
  private since = 0;
  private wait = FIRST_WAIT;
  /** Milliseconds of a picture at each effort, as far as they are known. */
  private readonly took: (number | undefined)[] = [];

  /** @param budgetMs time for one picture, milliseconds. @param efforts what can be given up, one after another. */
  constructor(
    private budgetMs: number,
    private readonly efforts: readonly Effort[] = EFFORTS,
  ) {}

  /** Another pace. What is known of the machine stays. */
  set aim(budgetMs: number) {
    this.budgetMs = budgetMs;
  }

  get effort(): Effort {
    return this.efforts[this.level] as Effort;
  }

  /** Says how long the last picture took at an effort. One that is not the present one is of a picture asked for earlier. */
  tell(effort: Effort, milliseconds: number): void {
    const level = this.efforts.indexOf(effort);
    const before = this.took[level];
    const mean = before === undefined ? milliseconds : before + (milliseconds - before) * NEWEST;
    this.took[level] = mean;
    if (level !== this.level) return;
    this.since += 1;
    if (mean > this.budgetMs * SLACK) this.giveUp(level, mean);
    else this.takeBack(level);
  }

  private giveUp(level: number, mean: number): void {
    // Where pixels cost most, half the size takes a quarter: a step that cannot be enough is passed over.
    const last = this.efforts.length - 1;
    let next = Math.min(level + 1, last);
    const share = (at: number) => (this.efforts[Math.min(at, last)] as Effort).share;
    while (share(next) < share(level) && share(next + 1) < share(next) && this.least(next, level, mean) > this.budgetMs)
      next += 1;
    this.go(next);
  }

  /** What a picture takes at least at a smaller size: known, or by its pixels alone. */
  private least(next: number, level: number, mean: number): number {
    const smaller = (this.efforts[next] as Effort).share / (this.efforts[level] as Effort).share;
    return this.took[next] ?? mean * smaller * smaller;
  }

  private takeBack(level: number): void {
    if (level === 0) return;
    const above = this.took[level - 1];
    const fits = above !== undefined && above < this.budgetMs * ROOM;
    const now = this.took[level] ?? Infinity;
    if (!fits && this.since < (now < this.budgetMs * MUCH_ROOM ? FIRST_WAIT / 2 : this.wait)) return;
    if (!fits && now > this.budgetMs * ROOM) return;
    this.go(level - 1);
  }

  private go(level: number): void {
    if (level === this.level) return;
    // What is tried again is judged by itself, not by what it took long ago.
    if (level < this.level) this.took[level] = undefined;
    else if (this.since < FIRST_WAIT) this.wait = Math.min(LONGEST_WAIT, this.wait * 2);
    this.level = level;
    this.since = 0;
  }
}
