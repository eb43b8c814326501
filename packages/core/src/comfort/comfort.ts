import type { CameraState } from '../camera';
import { angleBetweenDeg, statesOf } from '../camera';
import type { Project } from '../model';
import { inverseRotation, turned } from '../space';
import type { Rate } from '../time';
import { framesPerSecond } from '../time';

/** What an audience bears; all can be set. */
export interface ComfortLimits {
  /** At 24 a second with a 180° shutter, something that crosses the frame in less than this strobes, seconds. */
  readonly crossingS: number;
  /** A start or stop harder than this is felt as a jolt: m/s², and °/s². */
  readonly joltMps2: number;
  readonly joltDps2: number;
}

export const COMFORT_LIMITS: ComfortLimits = { crossingS: 7, joltMps2: 3, joltDps2: 60 };

/** One frame of a move as an audience feels it. */
export interface ComfortFrame {
  /** m/s. */
  readonly speed: number;
  /** °/s. */
  readonly turnRate: number;
  /** Fastest of centre and corners at the focus distance, frame widths a second. */
  readonly flow: number;
}

/** Something in a move that an audience may mind, over frames counted from the first. */
export interface ComfortEvent {
  readonly kind: 'strobe' | 'sudden-start' | 'sudden-stop';
  readonly fromFrame: number;
  readonly toFrame: number;
  /** Frame widths a second for strobing; m/s² or °/s² for a jolt. */
  readonly worst: number;
  readonly unit: 'widths/s' | 'm/s²' | '°/s²';
  readonly limit: number;
}

/** What makes a shot restless, each from 0 (still) to 1, and all together. */
interface Restlessness {
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

export interface Comfort {
  readonly fromFlicks: number;
  readonly frames: readonly ComfortFrame[];
  /** Judder limit of the picture flow at this rate and shutter, frame widths a second. */
  readonly flowLimit: number;
  readonly events: readonly ComfortEvent[];
  readonly restless: Restlessness;
}

/**
 * How a camera's move feels over a stretch of scene time, frame by frame: speed, turn rate, picture flow against the judder
 * limit, sudden starts and stops, and how restless it is.
 */
export function comfortOf(
  project: Project,
  cameraId: string,
  fromFlicks: number,
  toFlicks: number,
  limits: ComfortLimits = COMFORT_LIMITS,
): Comfort {
  const { rate } = project.head;
  const states = statesOf(project, cameraId, fromFlicks, toFlicks);
  const perSecond = framesPerSecond(rate);
  const frames = states.map((state, i): ComfortFrame => {
    // Between this frame and the next; the last one shows what brought it there.
    const [a, b] = i + 1 < states.length ? [state, states[i + 1] ?? state] : [states[i - 1] ?? state, state];
    return {
      speed: distanceM(a, b) * perSecond,
      turnRate: angleBetweenDeg(a, b) * perSecond,
      flow: flowBetween(a, b) * perSecond,
    };
  });
  const shutter = states[0]?.exposure.shutterAngleDeg ?? 180;
  const flowLimit = judderLimit(rate, shutter, limits.crossingS);
  const events = [...strobes(frames, flowLimit), ...jolts(states, perSecond, limits)].sort(
    (a, b) => a.fromFrame - b.fromFrame,
  );
  return {
    fromFlicks,
    frames,
    flowLimit,
    events,
    restless: restlessness(states, frames, flowLimit, events, perSecond),
  };
}

/**
 * Picture flow above which motion strobes, frame widths a second: 1/7 at 24 a second and 180°; more at a higher rate, less
 * with a shorter shutter, whose blur bridges less of the step between frames.
 */
export function judderLimit(rate: Rate, shutterAngleDeg: number, crossingS = COMFORT_LIMITS.crossingS): number {
  return (framesPerSecond(rate) / 24 / crossingS) * Math.max(0.1, Math.min(1.5, shutterAngleDeg / 180));
}

function distanceM({ positionM: a }: CameraState, { positionM: b }: CameraState): number {
  return Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
}

/** Centre and corners of the frame, as shares of its width and height from the middle. */
const LOOKED_AT = [
  [0, 0],
  [-0.5, -0.5],
  [0.5, -0.5],
  [-0.5, 0.5],
  [0.5, 0.5],
] as const;

/** Points at infinite focus are taken this far away, metres. */
const FARTHEST_M = 1000;

/** How far points in the plane of focus move in the picture from one frame to the next, frame widths: the largest. */
function flowBetween(a: CameraState, b: CameraState): number {
  const { widthMm, heightMm } = a.framing.used;
  const depth = Math.min(FARTHEST_M, a.focus.distanceM);
  const back = inverseRotation(b.quaternion);
  const [bx, by, bz] = b.positionM;
  let most = 0;
  for (const [u, v] of LOOKED_AT) {
    const [x, y] = [u * widthMm + a.lens.shiftXMm, v * heightMm + a.lens.shiftYMm];
    const scale = a.lens.parallelWidthM === null ? depth / a.lens.actingMm : a.lens.parallelWidthM / widthMm;
    const [wx, wy, wz] = turned([x * scale, y * scale, -depth], a.quaternion);
    const [px, py, pz] = turned([wx + a.positionM[0] - bx, wy + a.positionM[1] - by, wz + a.positionM[2] - bz], back);
    // A point that comes to lie behind the camera has left the frame: the whole of it, at least.
    if (pz >= 0) {
      most = Math.max(most, 1);
      continue;
    }
    const per = b.lens.parallelWidthM === null ? b.lens.actingMm / -pz : widthMm / b.lens.parallelWidthM;
    const [dx, dy] = [px * per - b.lens.shiftXMm - u * widthMm, py * per - b.lens.shiftYMm - v * heightMm];
    most = Math.max(most, Math.hypot(dx, dy) / widthMm);
  }
  return most;
}

/** Stretches of frames that strobe, told as one where they are a few frames apart. */
function strobes(frames: readonly ComfortFrame[], limit: number): ComfortEvent[] {
  const found: { fromFrame: number; toFrame: number; worst: number }[] = [];
  frames.forEach(({ flow }, frame) => {
    if (flow <= limit * 1.0001) return;
    const last = found.at(-1);
    if (last && frame - last.toFrame <= 3) Object.assign(last, { toFrame: frame, worst: Math.max(last.worst, flow) });
    else found.push({ fromFrame: frame, toFrame: frame, worst: flow });
  });
  return found.map((one) => ({ kind: 'strobe', ...one, unit: 'widths/s', limit }));
}

/** Speeds below these count as standing: m/s and °/s. */
const STANDING = { speed: 0.02, turn: 0.3 };

/** A start or stop is what happens within this of standing still, seconds. */
const BRINK_S = 0.25;

interface Rates {
  readonly speeds: readonly number[];
  readonly unit: 'm/s²' | '°/s²';
  readonly standing: number;
  readonly limit: number;
}

/** Starts and stops whose change of speed from one frame to the next is above the limit. */
function jolts(states: readonly CameraState[], perSecond: number, limits: ComfortLimits): ComfortEvent[] {
  const steps = states.slice(1).map((state, i) => [states[i] ?? state, state] as const);
  const moved: Rates = {
    speeds: steps.map(([a, b]) => distanceM(a, b) * perSecond),
    unit: 'm/s²',
    standing: STANDING.speed,
    limit: limits.joltMps2,
  };
  const turnedBy: Rates = {
    speeds: steps.map(([a, b]) => angleBetweenDeg(a, b) * perSecond),
    unit: '°/s²',
    standing: STANDING.turn,
    limit: limits.joltDps2,
  };
  return [moved, turnedBy].flatMap((rates) => joltsOf(rates, perSecond));
}

function joltsOf({ speeds, unit, standing, limit }: Rates, perSecond: number): ComfortEvent[] {
  const brink = Math.max(1, Math.round(BRINK_S * perSecond));
  const events: ComfortEvent[] = [];
  // Before the first and after the last frame looked at nothing is known: what goes on there is no jolt.
  for (let i = 1; i < speeds.length; i++) {
    const [before, after] = [speeds[i - 1] ?? 0, speeds[i] ?? 0];
    const harsh = Math.abs(after - before) * perSecond;
    if (harsh <= limit) continue;
    const stands = (from: number, to: number) => speeds.slice(Math.max(0, from), to).some((speed) => speed <= standing);
    const stop = after < before && stands(i, i + brink);
    const start = after > before && stands(i - brink, i);
    if (!stop && !start) continue;
    const kind = stop ? ('sudden-stop' as const) : ('sudden-start' as const);
    const last = events.at(-1);
    if (last?.kind === kind && i - last.toFrame <= brink) {
      events[events.length - 1] = { ...last, toFrame: i, worst: Math.max(last.worst, harsh) };
    } else events.push({ kind, fromFrame: i, toFrame: i, worst: harsh, unit, limit });
  }
  return events;
}

/** Reversals a second, and jolts a shot, that count as fully restless. */
const RESTLESS = { reversals: 3, jolts: 4 };

/** What each part weighs in the whole. */
const WEIGHTS = { flow: 0.4, strobe: 0.3, wavering: 0.15, jolts: 0.15 };

function restlessness(
  states: readonly CameraState[],
  frames: readonly ComfortFrame[],
  flowLimit: number,
  events: readonly ComfortEvent[],
  perSecond: number,
): Restlessness {
  const count = Math.max(1, frames.length);
  const mean = frames.reduce((sum, { flow }) => sum + flow, 0) / count;
  const over = frames.filter(({ flow }) => flow > flowLimit * 1.0001).length / count;
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
