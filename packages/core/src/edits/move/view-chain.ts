import type { SavedView } from '../../camera';
import { ahead } from '../../camera';
import type { Curve, Key } from '../../curve';
import { dividedAt, valueAt } from '../../curve';
import { CoreError } from '../../error';
import type { Camera, Mark, Operation, Project } from '../../model';
import { existing, moveOf, RIG_DEFAULTS } from '../../model';
import type { Vector } from '../../space';
import { pathThrough } from '../../space';
import { flicksPerFrame } from '../../time';
import type { Edit } from '../edit';
import { patching } from '../edit';
import { inSceneTime } from './bake';
import { moveOperations } from './curves';

/** A move through views that is asked for. */
export interface ViewChainOrder {
  readonly views: readonly SavedView[];
  /** Length of each leg, flicks: one fewer than views. */
  readonly legsFlicks: readonly number[];
  /** An even speed along the whole path (legs then say only how long it is in all), or one that follows the legs. */
  readonly even: boolean;
  /** Gathers speed at the start and loses it at the end. */
  readonly eased: boolean;
}

/** Two views at one place still need a path between them, metres. */
const LEAST_STEP_M = 1e-4;

/**
 * A move through views: the camera on one smooth path through their places, its aim on another through the points they are
 * focused on; both travelled by distance. The paths are a rail in the air and an aim path: edit them in plan, the keys stay at
 * their views.
 */
export function moveThroughViews(
  project: Project,
  cameraId: string,
  { views, legsFlicks, even, eased }: ViewChainOrder,
  { atFlicks, markIds }: { readonly atFlicks: number; readonly markIds: readonly string[] },
): Edit {
  const camera = existing(project, 'camera', cameraId);
  if (views.length < 2) throw new CoreError('out-of-range', 'A move goes through at least two views.', 'views');
  const frame = flicksPerFrame(project.head.rate);
  const legs = views.slice(1).map((_, i) => Math.max(frame, Math.round((legsFlicks[i] ?? 0) / frame) * frame));
  const nodesM = distinct(views.map(({ state }) => [...state.positionM]));
  const aimsM = distinct(views.map(({ state }) => [...ahead(state)]));
  const track = pathThrough(nodesM);
  const total = legs.reduce((sum, leg) => sum + leg, 0);
  const spaced = evenly(track.lengthM, atFlicks, total, eased);
  const starts = legs.reduce<readonly number[]>((all, leg) => [...all, (all.at(-1) ?? 0) + leg], [0]);
  // At an even speed the camera is at its views when it is, on a frame or between two.
  const reached = (metres: number, i: number) =>
    i === 0 ? 0 : i === legs.length ? total : Math.round(timeReaching(spaced, metres) - atFlicks);
  const times = even ? track.nodeDistancesM.map(reached) : starts;
  const through = (values: readonly number[]): Curve =>
    values.map((value, i) => ({ atFlicks: atFlicks + (times[i] ?? 0), value, shape: 'smooth' }));
  // A key where it passes a view: what its mark was composed with goes with the mark.
  const keyedAtViews = () => times.reduce((curve, time) => dividedAt(curve, atFlicks + time), spaced);
  const along = even ? keyedAtViews() : endings(through(track.nodeDistancesM), eased);
  const aim: Camera['aim'] = { kind: 'path', nodesM: aimsM, closed: false };
  const curves: Record<string, Curve> = {
    along,
    aimAlong: endings(through(pathThrough(aimsM).nodeDistancesM), eased),
    roll: through(views.map(({ state }) => state.rollDeg)),
    focalLength: through(views.map(({ state }) => state.lens.focalLengthMm)),
    focusDistance: through(views.map(({ state }) => state.focus.distanceM)),
  };
  const kept = Object.entries(inSceneTime(project, cameraId)).filter(([channel]) => KEPT.has(channel));
  // Views of several cameras may be called alike: their marks are told apart.
  const named = views.map(({ name }, i) => {
    const before = views.slice(0, i).filter((view) => view.name === name).length;
    return before === 0 ? name : `${name}${before + 1}`;
  });
  const marks = views.map((_view, i): Mark => ({
    id: markIds[i] ?? '',
    name: named[i] ?? '',
    atFlicks: atFlicks + (times[i] ?? 0),
    leftOut: null,
  }));
  const rig: Camera['rig'] = {
    kind: 'rail',
    ...RIG_DEFAULTS.base,
    nodesM,
    straight: [],
    closed: false,
    by: 'distance',
    along: 0,
    cameraM: [0, 0, 0],
  };
  return {
    name: `Move through ${views.length} views on ${camera.name}`,
    operations: [
      patching(project, 'camera', cameraId, { rig, aim }),
      ...moveOperations(project, cameraId, {
        curves: { ...Object.fromEntries(kept), ...curves },
        marks,
        after: {},
      }),
    ],
  };
}

const KEPT: ReadonlySet<string> = new Set(['fStop', 'ev', 'handheld', 'shiftX', 'shiftY']);

function distinct(points: readonly (readonly number[])[]): Vector[] {
  return points.map((point, i) => {
    const before = points[i - 1];
    const same = before && Math.hypot(...point.map((value, axis) => value - (before[axis] ?? 0))) < LEAST_STEP_M;
    const [x = 0, y = 0, z = 0] = point;
    return [x, same ? y + LEAST_STEP_M * (i + 1) : y, z];
  });
}

/** Share of an even path over which it gathers and loses speed. */
const EASE_SHARE = 0.15;

/** One value after another at one speed; eased, the ends take a share of the time to gather and lose it. */
function evenly(lengthM: number, atFlicks: number, spanFlicks: number, eased: boolean): Curve {
  if (!eased) {
    return [
      { atFlicks, value: 0, shape: 'linear' },
      { atFlicks: atFlicks + spanFlicks, value: lengthM, shape: 'linear' },
    ];
  }
  // Speed rises evenly over the first share, and falls over the last: parabolas at both ends of a straight line.
  const ramp = Math.round(spanFlicks * EASE_SHARE);
  const speed = lengthM / (spanFlicks - ramp);
  const rampM = (speed * ramp) / 2;
  const none = { flicks: 0, value: 0 };
  const third = Math.round(ramp / 3);
  const line = Math.round((spanFlicks - 2 * ramp) / 3);
  return [
    { atFlicks, value: 0, shape: 'free', in: none, out: { flicks: third, value: 0 } },
    {
      atFlicks: atFlicks + ramp,
      value: rampM,
      shape: 'free',
      in: { flicks: -third, value: -speed * third },
      out: { flicks: line, value: speed * line },
    },
    {
      atFlicks: atFlicks + spanFlicks - ramp,
      value: lengthM - rampM,
      shape: 'free',
      in: { flicks: -line, value: -speed * line },
      out: { flicks: third, value: speed * third },
    },
    { atFlicks: atFlicks + spanFlicks, value: lengthM, shape: 'free', in: { flicks: -third, value: 0 }, out: none },
  ];
}

/** The first time at which a curve that rises has come to a value, flicks. */
function timeReaching(curve: Curve, value: number): number {
  let [low, high] = [curve[0]?.atFlicks ?? 0, curve.at(-1)?.atFlicks ?? 0];
  while (high - low > 1) {
    const middle = Math.round((low + high) / 2);
    if ((valueAt(curve, middle) ?? 0) < value) low = middle;
    else high = middle;
  }
  return (valueAt(curve, low) ?? 0) >= value ? low : high;
}

/** A smooth curve eases at its ends by itself; one that does not leaves and arrives at its speed. */
function endings(curve: Curve, eased: boolean): Curve {
  if (eased || curve.length < 2) return curve;
  const toward = (key: Key, other: Key): NonNullable<Key['in']> => ({
    flicks: Math.round((other.atFlicks - key.atFlicks) / 3),
    value: (other.value - key.value) / 3,
  });
  return curve.map((key, i): Key => {
    const [next, before] = [curve[i + 1], curve[i - 1]];
    const none = { flicks: 0, value: 0 };
    if (i === 0 && next) return { ...key, shape: 'free', in: none, out: toward(key, next) };
    if (i === curve.length - 1 && before) return { ...key, shape: 'free', in: toward(key, before), out: none };
    return key;
  });
}

/** Gives the path of an aim other nodes; where it is keyed stays at its nodes. */
export function reshapeAim(project: Project, cameraId: string, nodesM: readonly Vector[]): Edit {
  const camera = existing(project, 'camera', cameraId);
  const { aim } = camera;
  if (aim.kind !== 'path') throw new CoreError('out-of-range', `${camera.name} is not aimed along a path.`, 'aim');
  const [a, b] = [pathThrough(aim.nodesM, aim.closed), pathThrough(nodesM, aim.closed)];
  const travel = (metres: number): number => {
    let piece = 0;
    while (piece < a.nodeDistancesM.length - 2 && (a.nodeDistancesM[piece + 1] ?? 0) <= metres) piece += 1;
    const at = (path: typeof a, i: number) => path.nodeDistancesM[i] ?? 0;
    const span = at(a, piece + 1) - at(a, piece);
    const share = span > 0 ? (metres - at(a, piece)) / span : 0;
    return at(b, piece) + share * (at(b, piece + 1) - at(b, piece));
  };
  const move = moveOf(project, cameraId);
  const keys = move?.curves['aimAlong']?.map((key): Key => ({ ...key, value: travel(key.value) }));
  const operations: Operation[] = [
    patching(project, 'camera', cameraId, {
      aim: { ...aim, nodesM: nodesM.map(([x, y, z]) => [x, y, z] as Vector) },
    }),
  ];
  if (move && keys)
    operations.push(...moveOperations(project, cameraId, { curves: { ...move.curves, aimAlong: keys } }));
  return { name: `Aim path on ${camera.name}`, operations };
}
