import { clockAt } from '../../camera';
import type { Curve, Key } from '../../curve';
import { handleAt, keyIndexAt, mirrored } from '../../curve';
import { CoreError } from '../../error';
import type { Project } from '../../model';
import { existing, moveOf } from '../../model';
import { flicksFromSeconds, flicksPerFrame } from '../../time';
import type { Edit } from '../edit';
import { patching } from '../edit';

/** Keys farther than this from a jolt have nothing to do with it, seconds. */
const NEAR_S = 0.6;

/**
 * Mends a sudden start or stop: every curve's key nearest to it is drawn out, so that it is reached (or left) over `settleS`
 * seconds with its speed going evenly to nothing. A stop moves later if there is room before the next key, a start earlier.
 * @throws CoreError `unknown-entity` when no key is near.
 */
export function settle(
  project: Project,
  cameraId: string,
  { kind, atFlicks, settleS }: { kind: 'sudden-start' | 'sudden-stop'; atFlicks: number; settleS: number },
): Edit {
  const camera = existing(project, 'camera', cameraId);
  const move = moveOf(project, cameraId);
  const jolt = clockAt(move, atFlicks);
  const frame = flicksPerFrame(project.head.rate);
  const length = Math.max(frame, Math.round(flicksFromSeconds(settleS) / frame) * frame);
  let mended = 0;
  const moved = new Map<number, number>();
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
      mended += 1;
      const [was, is] = [curve[near]?.atFlicks, next[near]?.atFlicks];
      if (was !== undefined && is !== undefined) moved.set(was, is);
      return [channel, next.map((key) => ({ ...key, atFlicks: Math.max(0, key.atFlicks) }))];
    }),
  );
  if (!move || mended === 0) {
    throw new CoreError(
      'unknown-entity',
      `${camera.name} has no key near this ${kind === 'sudden-stop' ? 'stop' : 'start'}: bake its move to keys first.`,
      'move',
    );
  }
  const marks = move.marks.map((mark) => ({ ...mark, atFlicks: moved.get(mark.atFlicks) ?? mark.atFlicks }));
  const name = `Settle this ${kind === 'sudden-stop' ? 'stop' : 'start'} on ${camera.name}`;
  return { name, operations: [patching(project, 'move', move.id, { curves, marks })] };
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
  const later = Math.round(Math.min(length / 2, room));
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
