import type { CameraState } from '../camera';
import { angleBetweenDeg, deliveredWindow, projectedLens, statesOf } from '../camera';
import type { Project } from '../model';
import { projectPoint, sightThrough } from '../optics';
import { distanceBetween, dot, scaled, sum, turned } from '../space';
import type { Rate } from '../time';
import { framesPerSecond } from '../time';
import type { ComfortEvent, ComfortFrame, ComfortLimits } from './felt';
import { COMFORT_LIMITS, isStrobing } from './felt';
import { jolts } from './jolts';
import type { Restlessness } from './restlessness';
import { restlessness } from './restlessness';

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
    if (!isStrobing(flow, limit)) return;
    const last = found.at(-1);
    if (last && frame - last.toFrame <= 3) Object.assign(last, { toFrame: frame, worst: Math.max(last.worst, flow) });
    else found.push({ fromFrame: frame, toFrame: frame, worst: flow });
  });
  return found.map((one) => ({ kind: 'strobe', ...one, unit: 'widths/s', limit }));
}
