/** Directions in which the farthest point is kept: corners of an outline are true, curves have at most so many. */
const DIRECTIONS = 64;

/**
 * Outline from above of points that come one by one, however many: the convex polygon of those that lie farthest in 64
 * directions. Keeps no points; a million take about a tenth of a second.
 */
export class OutlineFromAbove {
  private readonly cosines = Float64Array.from({ length: DIRECTIONS }, (_, i) =>
    Math.cos((i / DIRECTIONS) * 2 * Math.PI),
  );
  private readonly sines = Float64Array.from({ length: DIRECTIONS }, (_, i) =>
    Math.sin((i / DIRECTIONS) * 2 * Math.PI),
  );
  private readonly reach = new Float64Array(DIRECTIONS).fill(-Infinity);
  private readonly farthest = new Float64Array(DIRECTIONS * 2);
  bottomM = Infinity;
  topM = -Infinity;

  add(x: number, y: number, z: number): void {
    if (y < this.bottomM) this.bottomM = y;
    if (y > this.topM) this.topM = y;
    for (let i = 0; i < DIRECTIONS; i++) {
      const reach = x * (this.cosines[i] as number) + z * (this.sines[i] as number);
      if (reach <= (this.reach[i] as number)) continue;
      this.reach[i] = reach;
      this.farthest[2 * i] = x;
      this.farthest[2 * i + 1] = z;
    }
  }

  get empty(): boolean {
    return this.topM === -Infinity;
  }

  /** Corners as x, z, in the order of the directions, without repetition. */
  outline(): [number, number][] {
    const corners = Array.from({ length: DIRECTIONS }, (_, i): [number, number] => [
      this.farthest[2 * i] as number,
      this.farthest[2 * i + 1] as number,
    ]);
    return corners.filter(([x, z], i) => {
      const before = corners.at(i - 1);
      return x !== before?.[0] || z !== before[1];
    });
  }
}
