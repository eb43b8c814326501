import type { CameraValues } from '../../camera';
import { carriedBy, numbersFor, ownAngles, steadyAt } from '../../camera';
import type { Curve, Easing, Key } from '../../curve';
import { easedPair, thinned, valueAt } from '../../curve';
import type { Camera, Channel, ChannelValues, Move, Project } from '../../model';
import { TURNING } from '../../model';
import type { HeadAngles, Vector } from '../../space';
import { unwrappedNear } from '../../space';
import { FLICKS_PER_SECOND, flicksFromSeconds, flicksPerFrame } from '../../time';
import { toleranceOf } from './bake';
import type { Curves } from './curves';
import { keyable } from './curves';
import { spliced } from './spliced';

/** When a move begins, how long it is, and how long its end is drawn out, flicks of its clock. */
export interface Timing {
  readonly atFlicks: number;
  readonly lengthFlicks: number;
  readonly settleFlicks: number;
}

export const timingOf = (
  { seconds, settleS }: { readonly seconds: number; readonly settleS: number },
  atFlicks: number,
): Timing => ({ atFlicks, lengthFlicks: flicksFromSeconds(seconds), settleFlicks: flicksFromSeconds(settleS) });

export const endOf = ({ atFlicks, lengthFlicks, settleFlicks }: Timing) => atFlicks + lengthFlicks + settleFlicks;

/** Where a camera is on its way: at a scene time, a share of the way gone. */
export type Way = (
  sceneFlicks: number,
  share: number,
) => { readonly positionM: Vector; readonly head?: HeadAngles; readonly focalLength?: number };

/** Curves of a way: a key at each whole frame from its beginning and one at its end, thinned. */
export function sampledCurves(
  project: Project,
  camera: Camera,
  easing: Easing,
  values: CameraValues,
  timing: Timing,
  at: Way,
): [Channel, Curve][] {
  const frame = flicksPerFrame(project.head.rate);
  const whole = timing.lengthFlicks + timing.settleFlicks;
  const share = easedPair(0, 1, { ...timing, atFlicks: 0 }, easing);
  const steps = Array.from({ length: Math.ceil(whole / frame) }, (_, i) => Math.round(i * frame));
  const dense = new Map<Channel, Key[]>();
  // What turns with its rig is turned back, so that the move shows what it says; an aim does so by itself.
  const carried = camera.rig.kind !== 'sticks' && camera.rig.head === 'carried';
  const kept = carried && camera.aim.kind === 'free' ? steadyAt(project, camera.id, timing.atFlicks) : undefined;
  let before: CameraValues = values;
  for (const gone of [...steps, whole]) {
    const flicks = timing.atFlicks + gone;
    const { positionM, head = kept, focalLength } = at(flicks, valueAt(share, gone) ?? 0);
    const placed = numbersFor(camera.rig, positionM, values, project, flicks);
    const { turn } = carriedBy(camera.rig, { ...values, ...placed }, project, flicks);
    const own = head && ownAngles(camera.rig, head, turn);
    const numbers: ChannelValues = {
      ...placed,
      ...(own && { pan: own.panDeg, tilt: own.tiltDeg, ...(carried && { roll: own.rollDeg }) }),
      ...(focalLength !== undefined && { focalLength }),
    };
    for (const [channel, value] of Object.entries(numbers) as [Channel, number][]) {
      const near = TURNING.has(channel) ? unwrappedNear(value, before[channel] ?? 0) : value;
      dense.set(channel, [...(dense.get(channel) ?? []), { atFlicks: flicks, value: near, shape: 'smooth' }]);
      before = { ...before, [channel]: near };
    }
  }
  return [...dense].map(([channel, keys]) => [channel, thinned(keys, toleranceOf(channel)).curve]);
}

/**
 * A move with new pieces of curves from a scene time on, which keep what comes before them. Where it has a speed curve, the pieces
 * are laid in the time of its clock, and that goes on to their end.
 */
export function withPieces(
  move: Pick<Move, 'curves' | 'after'> | undefined,
  pieces: readonly (readonly [Channel, Curve])[],
  timing: Timing,
): { readonly curves: Curves; readonly after: Move['after'] } {
  const start = keyable(move, timing.atFlicks);
  const by = start.clockFlicks - timing.atFlicks;
  const curves: Record<string, Curve> = { ...clockRunningTo(start.curves, endOf(timing) + by) };
  const after: Move['after'] = { ...move?.after };
  for (const [channel, piece] of pieces) {
    const laid = by === 0 ? piece : piece.map((key) => ({ ...key, atFlicks: key.atFlicks + by }));
    curves[channel] = spliced(curves[channel] ?? [], laid, after[channel]);
    delete after[channel];
  }
  return { curves, after };
}

/** Curves whose clock comes to a time: where a speed curve ends before it, it goes on at an even pace. */
function clockRunningTo(curves: Curves, clockFlicks: number): Curves {
  const last = curves['timeWarp']?.at(-1);
  const missing = last ? clockFlicks - last.value * FLICKS_PER_SECOND : 0;
  if (!last || missing <= 0) return curves;
  return keyable({ curves: curves as Move['curves'] }, Math.round(last.atFlicks + missing)).curves;
}
