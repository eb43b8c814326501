import type { Vector } from '../space';
import { scaled, sum } from '../space';
import { flicksFromSeconds } from '../time';

/**
 * Times in the past, in lags, that something which lags looks back to, and how much each counts: a falling exponential. Their
 * mean is one lag, so that at an even speed it is behind by just that.
 */
const LOOK_BACK = lookBack([0, 0.5, 1, 1.5, 2, 2.5, 3]);

function lookBack(steps: readonly number[]): readonly (readonly [back: number, weight: number])[] {
  const weights = steps.map((step) => Math.exp(-step));
  const whole = weights.reduce((sum, weight) => sum + weight, 0);
  const mean = steps.reduce((sum, step, i) => sum + (step * (weights[i] ?? 0)) / whole, 0);
  return steps.map((step, i) => [step / mean, (weights[i] ?? 0) / whole]);
}

/** Mean of the past of some vectors, later ones counting more. */
export function lagged<T extends readonly Vector[]>(lagS: number, atFlicks: number, at: (flicks: number) => T): T {
  if (lagS === 0) return at(atFlicks);
  const sums: Vector[] = [];
  for (const [back, weight] of LOOK_BACK) {
    at(Math.max(0, atFlicks - flicksFromSeconds(back * lagS))).forEach((vector, i) => {
      sums[i] = sum(sums[i] ?? [0, 0, 0], scaled(vector, weight));
    });
  }
  return sums as unknown as T;
}
