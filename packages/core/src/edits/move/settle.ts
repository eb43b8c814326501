import { clockAt } from '../../camera';
import type { Curve, Key } from '../../curve';
import { handleAt, keyIndexAt, mirrored } from '../../curve';
import { CoreError } from '../../error';
import type { ComfortLimits } from '../../comfort';
import { COMFORT_LIMITS, comfortOf } from '../../comfort';
import type { Mark, Move, Project } from '../../model';
import { existing, moveOf } from '../../model';
import { flicksFromSeconds, flicksPerFrame, secondsFromFlicks } from '../../time';
import type { Edit } from '../edit';
import { previewed } from '../edit';
import { moveOperations } from './curves';
import { marksWithKeys } from './marks';

/** Keys farther than this from a jolt have nothing to do with it, seconds. */
const NEAR_S = 0.6;

/** A sudden start or stop, as the comfort of a move tells it. */
export interface Jolt {
  readonly kind: 'sudden-start' | 'sudden-stop';
  readonly atFlicks: number;
}

/** A jolt that was mended: how hard it was, and how hard it is, times what an audience bears. */
export interface Settled {
  readonly edit: Edit;
  readonly before: number;
  readonly after: number;
}

/** What is drawn out is tried over so many times what was asked for, until nobody minds. */
const TRIED = [1, 1.5, 2, 3] as const;

/**
 * Mends a sudden start or stop: every curve's key nearest to it is drawn out, so that it is reached (or left) over `settleS`
 * seconds, or longer where that does not do, with its speed going evenly to nothing. A stop moves later if there is room before
 * the next key, a start earlier; the marks that own these keys go along.
 * @throws CoreError `unknown-entity` when no key is near, `out-of-range` when it would be no softer for it.
 */
export function settle(
  project: Project,
  cameraId: string,
  { settleS, ...jolt }: Jolt & { readonly settleS: number },
  limits: ComfortLimits = COMFORT_LIMITS,
): Settled {
  const { name } = existing(project, 'camera', cameraId);
  const before = hardness(project, cameraId, jolt, settleS, limits);
  let best: Settled | undefined;
  for (const factor of TRIED) {
    const edit = drawnOutEdit(project, cameraId, { ...jolt, settleS: settleS * factor });
    const after = hardness(previewed(project, edit), cameraId, jolt, settleS * factor, limits);
    if (!best || after < best.after) best = { edit, before, after };
    if (after <= 1) break;
  }
  if (best && best.after < before) return best;
  const what = jolt.kind === 'sudden-stop' ? 'stop' : 'start';
  throw new CoreError(
    'out-of-range',
    `Drawing this ${what} of ${name} out does not soften it. Give the move more time, or move its marks apart.`,
    'settle',
  );
}

/** How hard the worst jolt of a kind near a time is, times its limit; 0 where there is none. */
function hardness(
  project: Project,
  cameraId: string,
  { kind, atFlicks }: Jolt,
  settleS: number,
  limits: ComfortLimits,
) {
  const around = flicksFromSeconds(NEAR_S + settleS);
  const { events } = comfortOf(project, cameraId, Math.max(0, atFlicks - around), atFlicks + around, limits);
  return Math.max(0, ...events.filter((event) => event.kind === kind).map(({ worst, limit }) => worst / limit));
}

function drawnOutEdit(
  project: Project,
  cameraId: string,
  { kind, atFlicks, settleS }: Jolt & { readonly settleS: number },
): Edit {
  const camera = existing(project, 'camera', cameraId);
  const move = moveOf(project, cameraId);
  const jolt = clockAt(move, atFlicks);
  const length = wholeFrames(project, settleS);
  const moved: MovedKeys = new Map();
  const curves = Object.fromEntries(
    Object.entries(move?.curves ?? {}).map(([channel, curve]) => {
      const held = channel === 'timeWarp' || curve.some(({ shape }) => shape === 'hold');
      const near = held ? undefined : nearestKey(curve, jolt);
      if (near === undefined || curve.length < 2) return [channel, curve];
      const next =
        kind === 'sudden-stop'
          ? drawnOut(curve, near, length)
          : mirrored(drawnOut(mirrored(curve, 0), curve.length - 1 - near, length), 0);
      if (next === curve) return [channel, curve];
      const [was, is] = [curve[near]?.atFlicks, next[near]?.atFlicks];
      if (was !== undefined && is !== undefined) moved.set(channel, { was, is: Math.max(0, is) });
      return [channel, next.map((key) => ({ ...key, atFlicks: Math.max(0, key.atFlicks) }))];
    }),
  );
  const what = kind === 'sudden-stop' ? 'stop' : 'start';
  if (!move || moved.size === 0) {
    throw new CoreError(
      'unknown-entity',
      `${camera.name} has no key near this ${what}: bake its move to keys first.`,
      'move',
    );
  }
  // Channels that rest at the jolt have a key there too: it goes along, so that the mark does.
  const along = Object.fromEntries(
    Object.entries(curves).map(([channel, curve]) => [channel, withRestMoved(curve, channel, moved)]),
  );
  const marks = marksWithKeys(move, (channel, time) => {
    const key = moved.get(channel);
    return key?.was === time ? key.is : time;
  });
  const name = `Settle this ${what} on ${camera.name}`;
  return { name, operations: moveOperations(project, cameraId, { curves: along, marks }) };
}

/** The key of each channel that was given another time. */
type MovedKeys = Map<string, { readonly was: number; readonly is: number }>;

/** A curve that rests where others were drawn out: its key there goes with theirs. */
function withRestMoved(curve: Curve, channel: string, moved: MovedKeys): Curve {
  const [first] = moved.values();
  if (!first || moved.has(channel) || channel === 'timeWarp') return curve;
  const times = new Set([...moved.values()].map(({ was }) => was));
  const index = curve.findIndex((key) => times.has(key.atFlicks));
  const [before, key, after] = [curve[index - 1], curve[index], curve[index + 1]];
  if (!key || (before && first.is <= before.atFlicks) || (after && first.is >= after.atFlicks)) return curve;
  moved.set(channel, { was: key.atFlicks, is: first.is });
  return curve.map((one, i) => (i === index ? { ...one, atFlicks: first.is } : one));
}

function wholeFrames(project: Project, seconds: number): number {
  const frame = flicksPerFrame(project.head.rate);
  return Math.max(frame, Math.round(flicksFromSeconds(seconds) / frame) * frame);
}

/**
 * Over how long a camera comes to rest at a mark, seconds: the flat part before its keys; 0 where it stops dead, or goes on through
 * it. It is no setting of its own but what the curves do, and seen in the graph.
 */
export function restOf(move: Pick<Move, 'curves'> | undefined, mark: Pick<Mark, 'atFlicks'>): number {
  const rests = arriving(move, mark).map(({ curve, index }) => {
    const { flicks, value } = handleAt(curve, index, 'in');
    return Math.abs(value) < FLAT ? Math.abs(flicks) : 0;
  });
  return rests.length === 0 ? 0 : secondsFromFlicks(Math.min(...rests));
}

/** Lets a camera come to rest at a mark over so many seconds; 0 stops it dead. The mark stays where it stands. */
export function setRest(project: Project, cameraId: string, markId: string, seconds: number): Edit {
  const camera = existing(project, 'camera', cameraId);
  const move = moveOf(project, cameraId);
  const mark = move?.marks.find(({ id }) => id === markId);
  if (!move || !mark) throw new CoreError('unknown-entity', `There is no mark ${markId} on ${camera.name}.`, 'mark');
  const length = seconds <= 0 ? 0 : wholeFrames(project, seconds);
  const curves: Record<string, Curve> = { ...move.curves };
  for (const { channel, curve, index } of arriving(move, mark)) {
    curves[channel] = length === 0 ? stoppingDead(curve, index) : restingAt(curve, index, length, 0);
  }
  const words = seconds <= 0 ? `Stop dead at mark ${mark.name}` : `Come to rest at mark ${mark.name} over ${seconds} s`;
  return { name: `${words} on ${camera.name}`, operations: moveOperations(project, cameraId, { curves }) };
}

/** A handle this flat is flat, in its channel's unit. */
const FLAT = 1e-9;

/** Curves that bring something to a mark from another value. */
function arriving(move: Pick<Move, 'curves'> | undefined, { atFlicks }: Pick<Mark, 'atFlicks'>) {
  return Object.entries(move?.curves ?? {}).flatMap(([channel, curve]) => {
    const index = curve.findIndex((key) => key.atFlicks === atFlicks);
    const [before, key] = [curve[index - 1], curve[index]];
    const comes = channel !== 'timeWarp' && before && key && before.shape !== 'hold' && before.value !== key.value;
    return comes ? [{ channel, curve, index }] : [];
  });
}

/** A curve that goes straight to its key. */
function stoppingDead(curve: Curve, index: number): Curve {
  const [before, key] = [curve[index - 1], curve[index]];
  if (!before || !key) return curve;
  const third = { flicks: Math.round((key.atFlicks - before.atFlicks) / 3), value: (key.value - before.value) / 3 };
  const out = key.shape === 'free' && key.out ? key.out : handleAt(curve, index, 'out');
  const into = { flicks: -third.flicks, value: -third.value };
  return curve.map((one, i) => (i === index ? { ...one, shape: 'free', in: into, out } : one));
}

function nearestKey(curve: Curve, atFlicks: number): number | undefined {
  const index = keyIndexAt(curve, atFlicks);
  const [before, after] = [curve[index], curve[index + 1]];
  const away = (key: Key | undefined) => (key ? Math.abs(key.atFlicks - atFlicks) : Infinity);
  const best = away(after) < away(before) ? index + 1 : index;
  return away(curve[best]) <= flicksFromSeconds(NEAR_S) ? best : undefined;
}

/** A curve whose key `index` is come to slowly: it moves later by up to half of `length`, and its way in lies flat. */
function drawnOut(curve: Curve, index: number, length: number): Curve {
  const [before, key, after] = [curve[index - 1], curve[index], curve[index + 1]];
  if (!before || !key || before.value === key.value) return curve;
  const room = after ? (after.atFlicks - key.atFlicks) / 2 : Infinity;
  return restingAt(curve, index, length, Math.round(Math.min(length / 2, room)));
}

/** A curve whose way to its key `index` lies flat over `length` before it, the key standing so much later. */
function restingAt(curve: Curve, index: number, length: number, later: number): Curve {
  const [before, key, after] = [curve[index - 1], curve[index], curve[index + 1]];
  if (!before || !key) return curve;
  const span = key.atFlicks + later - before.atFlicks;
  const leaving = handleAt(curve, index - 1, 'out');
  const slope = leaving.flicks > 0 ? leaving.value / leaving.flicks : 0;
  const lead = Math.round(Math.min(span * 0.45, span - length > 0 ? (span - length) / 2 + 1 : span * 0.2));
  return curve.map((one, i): Key => {
    if (i === index - 1 && one.shape !== 'hold') {
      const out = { flicks: lead, value: slope * lead };
      return { ...one, shape: 'free', in: handleAt(curve, i, 'in'), out };
    }
    if (i !== index) return one;
    const into = { flicks: -Math.min(length, Math.round(span * 0.8)), value: 0 };
    const out = one.shape === 'free' && one.out ? one.out : { flicks: 0, value: 0 };
    const left = after ? { flicks: Math.round((after.atFlicks - one.atFlicks - later) / 3), value: 0 } : out;
    return { ...one, atFlicks: one.atFlicks + later, shape: 'free', in: into, out: after ? left : out };
  });
}
