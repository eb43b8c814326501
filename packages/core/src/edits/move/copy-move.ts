import { steadyAt } from '../../camera';
import type { Curve, Key } from '../../curve';
import { thinned, valueAt } from '../../curve';
import type { Aim, Camera, Channel, Project, Rig } from '../../model';
import { AIM_CHANNELS, existing, HEAD_CHANNELS, LIGHT_CHANNEL, moveOf, PLACE_CHANNELS } from '../../model';
import type { HeadAngles, Vector } from '../../space';
import { difference, rotationOf, sum, turned } from '../../space';
import { flicksPerFrame } from '../../time';
import type { Edit } from '../edit';
import { patching, previewed } from '../edit';
import { bakeRig, inSceneTime, toleranceOf } from './bake';
import type { Curves } from './curves';
import { moveOperations } from './curves';
import { moveSpan } from './retime';

/** How a copied move is laid: at the same places of the world, or begun from where the other camera stands. */
export type CopyHow = 'world' | 'relative';

/** Channels of a move in the groups that people copy; light groups go with exposure. */
export const COPY_GROUPS = {
  place: PLACE_CHANNELS,
  head: [...HEAD_CHANNELS, ...AIM_CHANNELS],
  lens: ['focalLength', 'shiftX', 'shiftY'],
  focus: ['focusDistance', 'fStop'],
  exposure: ['ev'],
  hand: ['handheld'],
} as const satisfies Record<string, readonly Channel[]>;

export type CopyGroup = keyof typeof COPY_GROUPS;

/**
 * Copies a move, or groups of its channels, to other cameras; with its place go the rig, with its head the aim, with the hand
 * the hand. Relative to where the other camera stands, the whole move is carried over and turned so that it begins there:
 * whatever its rig is. What a speed curve led is copied as it was seen.
 */
export function copyMove(
  project: Project,
  fromId: string,
  to: readonly string[],
  groups: readonly CopyGroup[],
  how: CopyHow,
): Edit {
  const [first] = moveSpan(project, fromId);
  const source = how === 'relative' ? uncoupled(project, fromId, first) : project;
  const from = existing(source, 'camera', fromId);
  const move = moveOf(source, fromId);
  const channels = new Set<string>(groups.flatMap((group): readonly string[] => COPY_GROUPS[group]));
  const taken = (channel: string) =>
    channels.has(channel) || (groups.includes('exposure') && LIGHT_CHANNEL.test(channel));
  const copied = Object.fromEntries(Object.entries(inSceneTime(source, fromId)).filter(([channel]) => taken(channel)));
  const operations = to.flatMap((cameraId) => {
    const carry = how === 'relative' ? carryingTo(source, fromId, cameraId, first, groups) : undefined;
    const kept = Object.fromEntries(
      Object.entries(inSceneTime(project, cameraId)).filter(([channel]) => !taken(channel)),
    );
    const curves: Curves = { ...kept, ...(carry ? carry.curves(copied) : copied) };
    const parts: Partial<Camera> = {
      ...(groups.includes('place') && { rig: carry ? carry.rig(from.rig) : from.rig }),
      ...poseFor(project, from, cameraId, carry, groups),
      ...(groups.includes('head') && { aim: carry ? carry.aim(from.aim) : from.aim }),
      ...(groups.includes('hand') && { handheld: from.handheld }),
      ...settingsFor(existing(project, 'camera', cameraId), from, groups),
    };
    const after = Object.fromEntries(Object.entries(move?.after ?? {}).filter(([channel]) => taken(channel)));
    const keptAfter = Object.entries(moveOf(project, cameraId)?.after ?? {}).filter(([channel]) => kept[channel]);
    return [
      ...(Object.keys(parts).length > 0 ? [patching(project, 'camera', cameraId, parts)] : []),
      ...moveOperations(project, cameraId, { curves, after: { ...Object.fromEntries(keptAfter), ...after } }),
    ];
  });
  return {
    name: `Copy the move of ${from.name} to ${to.length} ${to.length === 1 ? 'camera' : 'cameras'}`,
    operations,
  };
}

/** The project with a camera whose rig hangs on nobody: one that follows a subject, or goes round one, is keys on sticks. */
function uncoupled(project: Project, cameraId: string, atFlicks: number): Project {
  const { rig } = existing(project, 'camera', cameraId);
  const hangs = rig.kind === 'follow' || (rig.kind === 'orbit' && rig.subjectId !== null);
  return hangs ? previewed(project, bakeRig(project, cameraId, atFlicks).edit) : project;
}

/**
 * The pose of the camera that is copied to, where no key says otherwise: the copied one's own; carried over, only its turn
 * about the vertical, for a tilt and a roll that are not keyed are no part of a move: those are as the other camera stands.
 */
function poseFor(
  project: Project,
  from: Camera,
  cameraId: string,
  carry: Carry | undefined,
  groups: readonly CopyGroup[],
): Partial<Camera> {
  const { pose } = existing(project, 'camera', cameraId);
  const { panDeg, tiltDeg, rollDeg } = from.pose;
  const placed = groups.includes('place') && {
    positionM: carry ? carry.point(from.pose.positionM) : from.pose.positionM,
  };
  const standing = isCarried(from) ? { panDeg } : { ...carry?.standing, panDeg: panDeg + (carry?.turnDeg ?? 0) };
  const headed = groups.includes('head') && (carry ? standing : { panDeg, tiltDeg, rollDeg });
  return placed || headed ? { pose: { ...pose, ...placed, ...headed } } : {};
}

/** Lens and focus of the camera that is copied to, where no key says otherwise. */
function settingsFor({ lens, focus }: Camera, from: Camera, groups: readonly CopyGroup[]): Partial<Camera> {
  const { focalLengthMm, shiftXMm, shiftYMm } = from.lens;
  const { distanceM, fStop } = from.focus;
  return {
    ...(groups.includes('lens') && { lens: { ...lens, focalLengthMm, shiftXMm, shiftYMm } }),
    ...(groups.includes('focus') && { focus: { ...focus, distanceM, fStop } }),
  };
}

/** Whether what carries a camera turns its head too. */
const isCarried = ({ rig }: Camera) => rig.kind !== 'sticks' && rig.head === 'carried';

/** A move that is carried to another place and turned about the vertical. */
interface Carry {
  readonly turnDeg: number;
  /** How the other camera looks up or down and leans where the move begins, its aim counted and its hand not. */
  readonly standing: Pick<HeadAngles, 'tiltDeg' | 'rollDeg'>;
  readonly point: (at: Vector) => Vector;
  readonly rig: (rig: Rig) => Rig;
  readonly aim: (aim: Aim) => Aim;
  readonly curves: (curves: Curves) => Curves;
}

/** Carries a camera's move so that it begins where another camera stands; with the head, turned as that one looks. */
function carryingTo(
  project: Project,
  fromId: string,
  toId: string,
  atFlicks: number,
  groups: readonly CopyGroup[],
): Carry {
  const [start, here] = [steadyAt(project, fromId, atFlicks), steadyAt(project, toId, atFlicks)];
  const turnDeg = groups.includes('head') ? here.panDeg - start.panDeg : 0;
  const rotation = rotationOf({ panDeg: turnDeg, tiltDeg: 0, rollDeg: 0 });
  const point = (at: Vector): Vector => sum(here.positionM, turned(difference(at, start.positionM), rotation));
  const camera = existing(project, 'camera', fromId);
  const frame = flicksPerFrame(project.head.rate);
  const places = [
    { channels: ['positionX', 'positionY', 'positionZ'], rest: camera.pose.positionM },
    { channels: ['rigX', 'rigY', 'rigZ'], rest: camera.rig.kind === 'sticks' ? ([0, 0, 0] as const) : camera.rig.atM },
    {
      channels: ['aimX', 'aimY', 'aimZ'],
      rest: camera.aim.kind === 'point' ? camera.aim.positionM : ([0, 0, 0] as const),
    },
  ] as const;
  return {
    turnDeg,
    standing: { tiltDeg: here.tiltDeg, rollDeg: here.rollDeg },
    point,
    rig: (rig) => {
      if (rig.kind === 'sticks') return rig;
      return { ...rig, atM: point(rig.atM), turnDeg: rig.turnDeg + turnDeg };
    },
    aim: (aim) => {
      if (aim.kind === 'point') return { ...aim, positionM: point(aim.positionM) };
      return aim.kind === 'path' ? { ...aim, nodesM: aim.nodesM.map(point) } : aim;
    },
    curves: (curves) => {
      const next: Record<string, Curve> = { ...curves };
      for (const channel of isCarried(camera) ? ['rigTurn'] : ['pan', 'rigTurn']) {
        const curve = next[channel];
        if (curve) next[channel] = raised(curve, turnDeg);
      }
      for (const { channels, rest } of places) Object.assign(next, carriedPlace(curves, channels, rest, point, frame));
      return next;
    },
  };
}

/**
 * Curves of a place, carried. Turned about the vertical, east and south mix: keys that stand together and are of one form stay
 * keys, others are keyed frame by frame and thinned.
 */
function carriedPlace(
  curves: Curves,
  [east, up, south]: readonly [string, string, string],
  rest: Vector,
  point: (at: Vector) => Vector,
  frameFlicks: number,
): Curves {
  const [x, y, z] = [curves[east], curves[up], curves[south]];
  const height = y ? { [up]: raised(y, point([0, 0, 0])[1]) } : {};
  if (!x && !z) return height;
  const at = (flicks: number): Vector =>
    point([(x && valueAt(x, flicks)) ?? rest[0], 0, (z && valueAt(z, flicks)) ?? rest[2]]);
  const [one, other] = [x ?? z ?? [], z ?? x ?? []];
  const axes = [
    [east, 0],
    [south, 2],
  ] as const;
  if (!x || !z || sameForm(one, other)) {
    const origin = point([0, 0, 0]);
    const handle = (i: number, side: 'in' | 'out', axis: 0 | 2): Key['in'] => {
      const flicks = one[i]?.[side]?.flicks;
      const way = difference(point([x?.[i]?.[side]?.value ?? 0, 0, z?.[i]?.[side]?.value ?? 0]), origin);
      return flicks === undefined ? undefined : { flicks, value: way[axis] };
    };
    const mixed = axes.map(([channel, axis]): [string, Curve] => [
      channel,
      one.map(({ in: _in, out: _out, ...key }, i): Key => {
        const [into, out] = [handle(i, 'in', axis), handle(i, 'out', axis)];
        return { ...key, value: at(key.atFlicks)[axis], ...(into && { in: into }), ...(out && { out }) };
      }),
    ]);
    return { ...height, ...Object.fromEntries(mixed) };
  }
  const keyed = [...one, ...other].map((key) => key.atFlicks);
  const [from, to] = [Math.min(...keyed), Math.max(...keyed)];
  const frames = Array.from({ length: Math.ceil((to - from) / frameFlicks) }, (_, i) =>
    Math.round(from + i * frameFlicks),
  );
  const times = [...new Set([...frames, ...keyed])].sort((a, b) => a - b);
  const sampled = axes.map(([channel, axis]): [string, Curve] => {
    const dense = times.map((atFlicks): Key => ({ atFlicks, value: at(atFlicks)[axis], shape: 'smooth' }));
    return [channel, thinned(dense, toleranceOf('positionX'), new Set(keyed)).curve];
  });
  return { ...height, ...Object.fromEntries(sampled) };
}

const raised = (curve: Curve, by: number): Curve => curve.map((key) => ({ ...key, value: key.value + by }));

/** Whether two curves mix key by key: their ways between keys are of one shape in time, and no choice of slope is left to them. */
function sameForm(a: Curve, b: Curve): boolean {
  return (
    a.length === b.length &&
    a.every((key, i) => {
      const other = b[i];
      if (key.atFlicks !== other?.atFlicks || key.shape !== other.shape) return false;
      // Smooth keys choose their slopes by their values; only two of them, flat at both ends, choose alike.
      if (key.shape === 'smooth' && a.length > 2) return false;
      return key.in?.flicks === other.in?.flicks && key.out?.flicks === other.out?.flicks;
    })
  );
}
