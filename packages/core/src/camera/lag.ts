import { FLICKS_PER_SECOND } from '../time';

/** How far back something that lags looks, in lags, and how finely at most: a sixtieth of a second is not seen. */
const LONGEST = 4;

const FINEST_S = 1 / 60;

const MOST_LOOKS = 48;

/** A look into the past: so many lags ago, counting so much. */
type Look = readonly [back: number, weight: number];

const looksByCount = new Map<number, readonly Look[]>();

/**
 * Times in the past, in lags, that something which lags looks back to, and how much each counts: t·exp(−2t), which rises from
 * nothing, so that what starts suddenly is followed without a lurch. Their mean is one lag, so that at an even speed it is behind
 * by just that.
 */
function looksOf(count: number): readonly Look[] {
  let looks = looksByCount.get(count);
  if (!looks) {
    const steps = Array.from({ length: count }, (_, i) => ((i + 1) * LONGEST) / count);
    const weights = steps.map((step) => step * Math.exp(-2 * step));
    const whole = weights.reduce((sum, weight) => sum + weight, 0);
    const mean = steps.reduce((sum, step, i) => sum + (step * (weights[i] ?? 0)) / whole, 0);
    looks = steps.map((step, i): Look => [step / mean, (weights[i] ?? 0) / whole]);
    looksByCount.set(count, looks);
  }
  return looks;
}

/**
 * Mean of the past of some numbers, as one who follows them with a lag has them; nothing moved before the scene began.
 * @param lagS seconds; 0 is the present.
 */
export function lagged<T extends readonly number[]>(lagS: number, atFlicks: number, at: (flicks: number) => T): T {
  if (lagS === 0) return at(atFlicks);
  const count = Math.max(8, Math.min(MOST_LOOKS, Math.ceil((LONGEST * lagS) / FINEST_S)));
  const sums: number[] = [];
  for (const [back, weight] of looksOf(count)) {
    const values = at(Math.max(Math.min(0, atFlicks), atFlicks - back * lagS * FLICKS_PER_SECOND));
    for (let i = 0; i < values.length; i++) sums[i] = (sums[i] ?? 0) + (values[i] as number) * weight;
  }
  return sums as unknown as T;
}
