import type { CameraState } from '../camera';
import { angleBetweenDeg, cameraAt, deliveredWindow, projectedLens, statesOf } from '../camera';
import type { Project } from '../model';
import { projectPoint, sightThrough } from '../optics';
import type { Vector } from '../space';
import { combined, difference, distanceBetween, dot, inverseRotation, scaled, sum, turned } from '../space';
import type { Rate } from '../time';
import { flicksPerFrame, framesPerSecond } from '../time';

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
  readonly kind: 'strobe' | 'sudden-start' | 'sudden-stop' | 'reversal';
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
      speed: distanceBetween(a.positionM, b.positionM) * perSecond,
      turnRate: angleBetweenDeg(a, b) * perSecond,
      flow: flowBetween(a, b) * perSecond,
    };
  });
  const shutter = states[0]?.exposure.shutterAngleDeg ?? 180;
  const flowLimit = judderLimit(rate, shutter, limits.crossingS);
  const events = [...strobes(frames, flowLimit), ...jolts(project, cameraId, { fromFlicks, states, limits })].sort(
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

/** Centre and corners of the frame, as shares of its width and height from the top left. */
const LOOKED_AT = [
  [0.5, 0.5],
  [0, 0],
  [1, 0],
  [0, 1],
  [1, 1],
] as const;

/** Points at infinite focus are taken this far away, metres. */
const FARTHEST_M = 1000;

/**
 * How far points in the plane of focus move in the picture from one frame to the next, frame widths: the largest. By the very
 * projection that draws, so shift, squeeze, distortion and parallel sight count as they are seen.
 */
function flowBetween(a: CameraState, b: CameraState): number {
  const { widthMm, heightMm } = a.framing.used;
  const depth = Math.min(FARTHEST_M, a.focus.distanceM);
  const [lensA, lensB] = [projectedLens(a), projectedLens(b)];
  const [windowA, windowB] = [deliveredWindow(a), deliveredWindow(b)];
  const axis = turned([0, 0, -1], a.quaternion);
  let most = 0;
  for (const [u, v] of LOOKED_AT) {
    const { fromM, direction } = sightThrough(u, v, a, lensA, windowA);
    const point = sum(fromM, scaled(direction, depth / dot(direction, axis)));
    const seen = projectPoint(point, b, lensB, windowB);
    // A point that comes to lie behind the camera has left the frame: the whole of it, at least.
    most = Math.max(most, seen ? Math.hypot(seen.x - u, ((seen.y - v) * heightMm) / widthMm) : 1);
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

/** Below these a turning round is not seen as one: m/s and °/s. */
const GOING = { speed: 0.25, turn: 4 };

/** A start or stop is what happens within this of standing still, seconds. */
const BRINK_S = 0.25;

/** What has lost this much of its speed at once has stopped, though it crawls on. */
const CRAWL_SHARE = 0.25;

/** What loses, or gains, less than this share of its greatest speed within what is felt at once, around that time, is eased. */
const EASED_SHARE = 0.15;
const EASED_S = 1.5;

/** Time over which a change of speed is felt, seconds: so a jolt is the same at any rate. */
const FELT_S = 1 / 24;

interface Rates {
  /** By how much, and which way, it goes in each step, a second. */
  readonly velocities: readonly Vector[];
  readonly unit: 'm/s²' | '°/s²';
  readonly standing: number;
  readonly going: number;
  readonly limit: number;
}

interface Stretch {
  readonly fromFlicks: number;
  readonly states: readonly CameraState[];
  readonly limits: ComfortLimits;
}

/**
 * Starts, stops and turnings whose change of velocity is above the limit. What the camera does shortly before and after the stretch
 * counts: a move that begins with it may begin at once.
 */
function jolts(project: Project, cameraId: string, { fromFlicks, states, limits }: Stretch): ComfortEvent[] {
  const perSecond = framesPerSecond(project.head.rate);
  const felt = Math.max(1, Math.round(FELT_S * perSecond));
  const frame = flicksPerFrame(project.head.rate);
  const beside = (first: number) =>
    Array.from({ length: felt }, (_, i) => cameraAt(project, cameraId, Math.round(fromFlicks + (first + i) * frame)));
  const all = [...beside(-felt), ...states, ...beside(states.length)];
  const steps = all.slice(felt).map((state, i) => [all[i] ?? state, state] as const);
  const each = perSecond / felt;
  const moved: Rates = {
    velocities: steps.map(([a, b]) => scaled(difference(b.positionM, a.positionM), each)),
    unit: 'm/s²',
    standing: STANDING.speed,
    going: GOING.speed,
    limit: limits.joltMps2,
  };
  const turnedBy: Rates = {
    velocities: steps.map(([a, b]) => scaled(turnBetween(a, b), each)),
    unit: '°/s²',
    standing: STANDING.turn,
    going: GOING.turn,
    limit: limits.joltDps2,
  };
  const cuts = Object.values(project.shots)
    .filter((shot) => shot.cameraId === cameraId)
    .flatMap(({ sceneStartFlicks, durationFlicks }) => [sceneStartFlicks, sceneStartFlicks + durationFlicks]);
  // What changes at a cut is seen by nobody: the shot begins, or has ended, while the camera goes as it goes.
  const isSeen = ({ fromFrame, toFrame }: ComfortEvent) => {
    const [from, to] = [fromFlicks + (fromFrame - felt) * frame, fromFlicks + (toFrame + felt) * frame];
    return fromFrame !== toFrame || !cuts.some((cut) => cut > from && cut <= to);
  };
  return [moved, turnedBy].flatMap((rates) => joltsOf(rates, felt, perSecond)).filter(isSeen);
}

/** The turn from one camera to another: its axis, as long as its degrees. */
function turnBetween(a: CameraState, b: CameraState): Vector {
  const [x, y, z, w] = combined(b.quaternion, inverseRotation(a.quaternion));
  const size = Math.hypot(x, y, z);
  const degrees = angleBetweenDeg(a, b) * Math.sign(w || 1);
  return size === 0 ? [0, 0, 0] : scaled([x, y, z], degrees / size);
}

function joltsOf({ velocities, unit, standing, going, limit }: Rates, felt: number, perSecond: number): ComfortEvent[] {
  const brink = Math.max(1, Math.round(BRINK_S * perSecond));
  const around = Math.round(EASED_S * perSecond);
  const speeds = velocities.map((one) => Math.hypot(...one));
  const stands = (from: number, to: number) => speeds.slice(Math.max(0, from), to).some((speed) => speed <= standing);
  const kindAt = (i: number): 'reversal' | 'sudden-stop' | 'sudden-start' | undefined => {
    const [before, after] = [velocities[i - felt] as Vector, velocities[i] as Vector];
    const [was, is] = [speeds[i - felt] ?? 0, speeds[i] ?? 0];
    if (was > going && is > going && dot(before, after) < 0) return 'reversal';
    if (is < was && (is < was * CRAWL_SHARE || stands(i, i + brink))) return 'sudden-stop';
    if (is > was && (was < is * CRAWL_SHARE || stands(i - felt - brink, i - felt + 1))) return 'sudden-start';
    return undefined;
  };
  // Who loses his speed little by little has eased, however fast he was.
  const isEased = (i: number, harsh: number) => {
    const [from, to] = [Math.max(0, i - felt - around), Math.min(speeds.length, i + around)];
    const peak = Math.max(...speeds.slice(from, to));
    return (harsh * felt) / perSecond < peak * EASED_SHARE;
  };
  const events: ComfortEvent[] = [];
  for (const { from, to, worst, harsh } of harshStretches(velocities, felt, perSecond, limit)) {
    const kind = kindAt(worst);
    if (kind === undefined || (kind !== 'reversal' && isEased(worst, harsh))) continue;
    const [fromFrame, toFrame] = to - from < 2 * felt ? [worst - felt, worst - felt] : [from - felt, to - felt];
    const last = events.at(-1);
    if (last?.kind === kind && fromFrame - last.toFrame <= brink) {
      events[events.length - 1] = { ...last, toFrame, worst: Math.max(last.worst, harsh) };
    } else events.push({ kind, fromFrame, toFrame, worst: harsh, unit, limit });
  }
  return events;
}

/** Steps, one after the other, over which a velocity changes faster than the limit, with the one at which it changes most. */
function harshStretches(velocities: readonly Vector[], felt: number, perSecond: number, limit: number) {
  const found: { from: number; to: number; worst: number; harsh: number }[] = [];
  // At index i, `felt` frames have gone since the frame before, and as many go on from it.
  for (let i = felt; i < velocities.length; i++) {
    const harsh = (distanceBetween(velocities[i - felt] as Vector, velocities[i] as Vector) * perSecond) / felt;
    if (harsh <= limit) continue;
    const last = found.at(-1);
    if (last?.to !== i - 1) found.push({ from: i, to: i, worst: i, harsh });
    else Object.assign(last, harsh > last.harsh ? { to: i, worst: i, harsh } : { to: i });
  }
  return found;
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
