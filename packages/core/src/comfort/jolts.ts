import type { CameraState } from '../camera';
import { angleBetweenDeg, cameraAt } from '../camera';
import type { Project } from '../model';
import { stretchesOf } from '../sequence';
import type { Vector } from '../space';
import { combined, difference, distanceBetween, dot, inverseRotation, scaled } from '../space';
import { flicksPerFrame, framesPerSecond } from '../time';
import type { ComfortEvent, ComfortLimits } from './felt';

/** Speeds below these count as standing: m/s and °/s. */
const STANDING = { speed: 0.02, turn: 0.3 };

/** Below these a turning round is not seen as one: m/s and °/s. */
const GOING = { speed: 0.25, turn: 4 };

/** A start or stop is what happens within this of standing still, seconds. */
const BRINK_S = 0.25;

/** A camera that falls to this share of its speed at once has stopped suddenly, even if it still creeps. */
const CRAWL_SHARE = 0.25;

/** A start or stop is eased where speed changes by less than this share of its peak within the time that is felt as one moment. */
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
export function jolts(project: Project, cameraId: string, { fromFlicks, states, limits }: Stretch): ComfortEvent[] {
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
  const cuts = stretchesOf(project, cameraId).flatMap((seen) => [seen.fromFlicks, seen.toFlicks]);
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
  // A camera that loses its speed little by little has eased out, however fast it was.
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
