import type { CameraState } from '../camera';
import type { ComfortEvent, ComfortFrame } from './felt';
import { isStrobing } from './felt';

/** What makes a shot restless, each from 0 (still) to 1, and all together. */
export interface Restlessness {
  readonly whole: number;
  /** Mean picture flow against the limit. */
  readonly flow: number;
  /** How much of the time it is over the limit. */
  readonly strobe: number;
  /** How often speed and turn change their mind: reversals a second. */
  readonly wavering: number;
  /** Jolts a shot. */
  readonly jolts: number;
}

/** Reversals a second, and jolts a shot, that count as fully restless. */
const RESTLESS = { reversals: 3, jolts: 4 };

/** What each part weighs in the whole. */
const WEIGHTS = { flow: 0.4, strobe: 0.3, wavering: 0.15, jolts: 0.15 };

/** How restless a shot is, by its picture flow, its strobing, its turnings and its jolts. */
export function restlessness(
  states: readonly CameraState[],
  frames: readonly ComfortFrame[],
  flowLimit: number,
  events: readonly ComfortEvent[],
  perSecond: number,
): Restlessness {
  const count = Math.max(1, frames.length);
  const mean = frames.reduce((sum, { flow }) => sum + flow, 0) / count;
  const over = frames.filter(({ flow }) => isStrobing(flow, flowLimit)).length / count;
  const upTo1 = (value: number) => Math.max(0, Math.min(1, value));
  const parts = {
    flow: upTo1(mean / flowLimit),
    strobe: upTo1(over * 2),
    wavering: upTo1(reversals(states) / (count / perSecond) / RESTLESS.reversals),
    jolts: upTo1(events.filter(({ kind }) => kind !== 'strobe').length / RESTLESS.jolts),
  };
  const whole = (Object.keys(WEIGHTS) as (keyof typeof WEIGHTS)[]).reduce(
    (sum, key) => sum + WEIGHTS[key] * parts[key],
    0,
  );
  return { whole, ...parts };
}

/** Steps smaller than these say nothing of a direction: metres and degrees a frame. */
const SMALLEST_STEP = { metres: 0.0005, degrees: 0.005 };

/** How often pan, tilt or one of the coordinates turns round. */
function reversals(states: readonly CameraState[]): number {
  const tracks: readonly (readonly [(state: CameraState) => number, number])[] = [
    [({ panDeg }) => panDeg, SMALLEST_STEP.degrees],
    [({ tiltDeg }) => tiltDeg, SMALLEST_STEP.degrees],
    ...[0, 1, 2].map((axis) => [({ positionM }: CameraState) => positionM[axis] ?? 0, SMALLEST_STEP.metres] as const),
  ];
  let count = 0;
  for (const [of, least] of tracks) {
    let direction = 0;
    let turns = 0;
    for (let i = 1; i < states.length; i++) {
      const step = of(states[i] as CameraState) - of(states[i - 1] as CameraState);
      if (Math.abs(step) < least) continue;
      const sign = Math.sign(step);
      if (direction !== 0 && sign !== direction) turns += 1;
      direction = sign;
    }
    count = Math.max(count, turns);
  }
  return count;
}
