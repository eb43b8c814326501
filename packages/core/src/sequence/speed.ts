import type { Hold, Retime, SpeedKey } from '../model';

/** Halvings in which a time is looked for: past a flick of the longest shot. */
const HALVINGS = 64;

/**
 * Scene time gone by so long after a shot's beginning, flicks: the area under its speed. Before 0 and past its end it goes on as it
 * begins and ends, so that handles show what would have been seen.
 */
export function sceneGoneBy({ speed, ramp, holds }: Retime, afterFlicks: number): number {
  if (ramp.length === 0 && holds.length === 0) return speed * afterFlicks;
  const [begun, running] = [runningTime(holds, 0), runningTime(holds, afterFlicks)];
  return ramp.length === 0 ? speed * (running - begun) : areaTo(ramp, running) - areaTo(ramp, begun);
}

/** How scene time goes by from so long after a shot's beginning on: of what is left when its head is trimmed. */
export function retimeFrom({ speed, ramp, holds }: Retime, afterFlicks: number): Retime {
  const from = <T extends { readonly afterFlicks: number }>(one: T) => ({
    ...one,
    afterFlicks: one.afterFlicks - afterFlicks,
  });
  return { speed, ramp: ramp.map(from), holds: holds.map(from) };
}

/** Whether scene time goes by as it happens. */
export function isTrueSpeed({ speed, ramp, holds }: Retime): boolean {
  return speed === 1 && ramp.length === 0 && holds.length === 0;
}

/** How fast scene time goes by, times the true speed, so long after a shot's beginning: 0 while a frame is held. */
export function speedAfter({ speed, ramp, holds }: Retime, afterFlicks: number): number {
  const running = runningTime(holds, afterFlicks);
  if (holds.length > 0 && runningTime(holds, afterFlicks + 1) === running) return 0;
  return ramp.length === 0 ? speed : speedOf(ramp, running);
}

/**
 * When scene time has gone by so far, the inverse of {@link sceneGoneBy}: the first time from 0 to `untilFlicks`, not rounded;
 * `undefined` where it never has.
 */
export function whenGoneBy(retime: Retime, goneFlicks: number, untilFlicks: number): number | undefined {
  const { speed, ramp, holds } = retime;
  if (ramp.length === 0 && holds.length === 0 && speed !== 0) {
    const after = goneFlicks / speed;
    return after >= 0 && after <= untilFlicks ? after : undefined;
  }
  const turns = turnsOf(retime, untilFlicks);
  for (const [i, from] of turns.entries()) {
    const to = turns[i + 1] ?? from;
    const [first, last] = [sceneGoneBy(retime, from), sceneGoneBy(retime, to)];
    if (first === goneFlicks) return from;
    if (last !== goneFlicks && first < goneFlicks !== last > goneFlicks) continue;
    const rises = last > first;
    let [low, high] = [from, to];
    for (let n = 0; n < HALVINGS && high - low > 0; n++) {
      const middle = (low + high) / 2;
      if (middle === low || middle === high) break;
      if (sceneGoneBy(retime, middle) < goneFlicks === rises) low = middle;
      else high = middle;
    }
    return high;
  }
  return undefined;
}

/** The least and the most scene time gone by over a shot's first `untilFlicks`, flicks. */
export function reachOf(retime: Retime, untilFlicks: number): readonly [least: number, most: number] {
  const gone = turnsOf(retime, untilFlicks).map((after) => sceneGoneBy(retime, after));
  return [Math.min(...gone), Math.max(...gone)];
}

/** Times between which scene time goes one way: both ends, where a hold or a key of the ramp is, and where it turns round. */
function turnsOf({ ramp, holds }: Retime, untilFlicks: number): number[] {
  const running = [...ramp.map(({ afterFlicks }) => afterFlicks), ...turningTimes(ramp)];
  const shown = [...running, ...holds.map(({ afterFlicks }) => afterFlicks)].map((time) => playedTime(holds, time));
  const ends = holds.map(({ afterFlicks, durationFlicks }) => playedTime(holds, afterFlicks) + durationFlicks);
  const inside = [...shown, ...ends].filter((time) => time > 0 && time < untilFlicks);
  return [...new Set([0, ...inside.sort((a, b) => a - b), untilFlicks])];
}

/** Times, holds not counted, at which the speed passes through 0 between two keys. */
function turningTimes(ramp: readonly SpeedKey[]): number[] {
  return ramp.flatMap((key, i) => {
    const next = ramp[i + 1];
    if (!next || key.ease === 'held' || key.speed * next.speed >= 0) return [];
    let [low, high] = [key.afterFlicks, next.afterFlicks];
    for (let n = 0; n < HALVINGS; n++) {
      const middle = (low + high) / 2;
      if (speedOf(ramp, middle) * key.speed > 0) low = middle;
      else high = middle;
    }
    return [high];
  });
}

/** A time after a shot's beginning without what was held until then. */
function runningTime(holds: readonly Hold[], afterFlicks: number): number {
  let [held, past] = [0, 0];
  for (const { afterFlicks: at, durationFlicks } of inTime(holds)) {
    held += Math.min(durationFlicks, Math.max(0, afterFlicks - at - past));
    past += durationFlicks;
  }
  return afterFlicks - held;
}

/** The first time after a shot's beginning at which so much of it has run. */
function playedTime(holds: readonly Hold[], runningFlicks: number): number {
  return holds.reduce(
    (time, { afterFlicks, durationFlicks }) => (afterFlicks < runningFlicks ? time + durationFlicks : time),
    runningFlicks,
  );
}

function inTime(holds: readonly Hold[]): readonly Hold[] {
  return holds.length < 2 ? holds : [...holds].sort((a, b) => a.afterFlicks - b.afterFlicks);
}

/** The speed at a time: of the first key before all of them, of the last key after. */
function speedOf(ramp: readonly SpeedKey[], running: number): number {
  const next = ramp.findIndex(({ afterFlicks }) => afterFlicks > running);
  if (next === 0) return ramp[0]?.speed ?? 1;
  const [key, after] = next < 0 ? [ramp.at(-1), undefined] : [ramp[next - 1], ramp[next]];
  if (!key) return 1;
  if (!after || key.ease === 'held') return key.speed;
  const share = (running - key.afterFlicks) / (after.afterFlicks - key.afterFlicks);
  return key.speed + (after.speed - key.speed) * (key.ease === 'eased' ? share * share * (3 - 2 * share) : share);
}

/** Area under the speed from the first key to a time; negative for a time before it. */
function areaTo(ramp: readonly SpeedKey[], running: number): number {
  const [first] = ramp;
  if (!first) return running;
  if (running <= first.afterFlicks) return first.speed * (running - first.afterFlicks);
  let area = 0;
  for (const [i, key] of ramp.entries()) {
    const next = ramp[i + 1];
    const gone = Math.min(running, next?.afterFlicks ?? Infinity) - key.afterFlicks;
    if (gone <= 0) break;
    area += key.speed * gone;
    if (!next || key.ease === 'held') continue;
    const whole = next.afterFlicks - key.afterFlicks;
    const share = gone / whole;
    // The integral of u is u²/2, that of 3u² − 2u³ is u³ − u⁴/2.
    const risen = key.ease === 'eased' ? share ** 3 - share ** 4 / 2 : share ** 2 / 2;
    area += (next.speed - key.speed) * risen * whole;
  }
  return area;
}
