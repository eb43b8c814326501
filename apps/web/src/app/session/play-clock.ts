/** How long the next frame waits for the picture of the one before it at most, milliseconds; at first less: maybe none is shown. */
const LONGEST_WAIT_MS = 2000;
const FIRST_WAIT_MS = 500;
/** A page of the screen that takes longer than this, milliseconds, keeps no true rate with everything on it made anew. */
const SLOW_PAGE_MS = 30;
/** Weight of the newest page, and the most that one counts: a single long one says nothing of the machine. */
const NEWEST = 1 / 4;
const LONGEST_PAGE_MS = 60;

/** How often what lies beside the picture follows on such a machine at most, and how many of its slowest pages lie between. */
const GLANCE_MS = 333;
const PAGES_BETWEEN = 8;

/** Which frame is due while something plays, and how the machine keeps up: computed from times alone. Milliseconds throughout. */
export class PlayClock {
  /** When playing began. */
  beganAt = 0;
  private drawn = 0;
  /** Frames that should have been shown since playing began. */
  private due = 0;
  private steppedAt = 0;
  /** Drawn pictures when the last frame was shown, and when that was. */
  private shown = { drawn: 0, at: 0 };
  private pageAt = 0;
  private pageMs = 0;
  private glancedAt = -Infinity;
  /** The longest page since then. */
  private longestMs = 0;

  /** Playing begins. What is known of the machine stays. */
  begin(now: number): void {
    this.beganAt = this.steppedAt = this.pageAt = now;
    this.drawn = this.due = 0;
    this.shown = { drawn: -1, at: now };
  }

  /** A picture of a frame was drawn. */
  countDrawn(): void {
    this.drawn += 1;
  }

  /**
   * How many frames have gone by, asked once for each page of the screen: time decides, or (every frame) the picture that was drawn.
   * @param rate frames a second.
   */
  framesGone(now: number, rate: number, everyFrame: boolean): number {
    const took = Math.min(LONGEST_PAGE_MS, now - this.pageAt);
    this.longestMs = Math.max(this.longestMs, now - this.pageAt);
    this.pageAt = now;
    // A machine that was slow once is not tried again.
    if (!this.pagesAreSlow) this.pageMs += (took - this.pageMs) * NEWEST;
    if (!everyFrame) this.due = this.framesGoneBy(now, rate);
    else if (this.drawn >= this.due && now - this.steppedAt >= 1000 / rate) {
      this.steppedAt = now;
      this.due += 1;
    }
    return this.due;
  }

  /** How many frames have gone by as time decides. @param rate frames a second. */
  framesGoneBy(now: number, rate: number): number {
    return Math.floor((this.elapsed(now) / 1000) * rate);
  }

  /** A frame is shown: its picture is drawn from now on. */
  show(now: number): void {
    this.shown = { drawn: this.drawn, at: now };
  }

  /**
   * Whether the picture of the frame shown last is still being drawn. The next one waits for it: what nobody would see only
   * keeps the machine from drawing what they do. A view that draws nothing is not waited for.
   */
  isBehind(now: number): boolean {
    const longest = this.drawn === 0 ? FIRST_WAIT_MS : LONGEST_WAIT_MS;
    return this.drawn === this.shown.drawn && now - this.shown.at < longest;
  }

  /** Pictures a second since playing began, to a tenth. */
  reached(now: number): number {
    return Math.round((this.drawn / (this.elapsed(now) / 1000)) * 10) / 10;
  }

  /** Frames that were due and not drawn. */
  leftOut(): number {
    return Math.max(0, this.due - this.drawn);
  }

  /** Whether the screen follows too slowly for all of it to be made anew with each frame. */
  get pagesAreSlow(): boolean {
    return this.pageMs > SLOW_PAGE_MS;
  }

  /** Whether what lies beside the picture is to follow it now: seldom enough to leave nearly all of the time to the picture. */
  mayGlance(now: number): boolean {
    if (now - this.glancedAt < Math.max(GLANCE_MS, PAGES_BETWEEN * this.longestMs)) return false;
    this.glancedAt = now;
    this.longestMs = 0;
    return true;
  }

  private elapsed(now: number): number {
    return Math.max(0, now - this.beganAt);
  }
}
