import type { Key } from '../../curve';
import { CoreError } from '../../error';
import type { Operation, Project, RigOf } from '../../model';
import { existing, moveOf, trackShape } from '../../model';
import { pathThrough } from '../../space';
import type { Edit } from '../edit';
import type { CloseEdit } from './closeness';
import { closeness } from './closeness';
import type { FittedTrack } from './track-through';
import { trackThrough } from './track-through';
import { patching } from '../edit';
import { moveOperations } from './curves';

/** A track: its nodes, which of its pieces are straight, and whether it closes. */
export type Track = Pick<RigOf<'rail'>, 'nodesM' | 'straight' | 'closed'>;

/**
 * Gives a rail another track. Where the trolley stands and is keyed goes along: what stood at a node stays at it, what stood
 * between two nodes stays at the same share of the way between them.
 */
export function reshapeRail(project: Project, cameraId: string, what: string, track: Track): Edit {
  const camera = existing(project, 'camera', cameraId);
  const { rig } = camera;
  if (rig.kind !== 'rail') throw new CoreError('out-of-range', `${camera.name} is not on a rail.`, 'rig');
  const next = { ...rig, ...track };
  const travel = travelBetween(rig, next);
  const move = moveOf(project, cameraId);
  const along = move?.curves['along']?.map((key): Key => ({ ...key, value: travel(key.value) }));
  const operations: Operation[] = [
    patching(project, 'camera', cameraId, { rig: { ...next, along: travel(rig.along) } }),
  ];
  if (move && along) operations.push(...moveOperations(project, cameraId, { curves: { ...move.curves, along } }));
  return { name: `${what} on ${camera.name}`, operations };
}

/** A trolley's number on one track as its number on another. */
function travelBetween(from: RigOf<'rail'>, to: RigOf<'rail'>): (along: number) => number {
  const [a, b] = [from, to].map((rig) => pathThrough(rig.nodesM, rig.closed, trackShape(rig)));
  if (!a || !b || a.lengthM === 0 || b.lengthM === 0) return (along) => along;
  const same = from.nodesM.length === to.nodesM.length && from.closed === to.closed;
  const metresOf = (along: number) => (from.by === 'share' ? (along / 100) * a.lengthM : along);
  const alongOf = (metres: number) => (to.by === 'share' ? (metres / b.lengthM) * 100 : metres);
  return (along) => {
    const metres = metresOf(along);
    if (!same || metres < 0 || metres > a.lengthM) return alongOf((metres * b.lengthM) / a.lengthM);
    const [starts, ends] = [a.nodeDistancesM, b.nodeDistancesM];
    let piece = 0;
    while (piece < starts.length - 2 && (starts[piece + 1] ?? 0) <= metres) piece += 1;
    const [s0, s1, e0, e1] = [starts[piece] ?? 0, starts[piece + 1] ?? 0, ends[piece] ?? 0, ends[piece + 1] ?? 0];
    return alongOf(e0 + (s1 > s0 ? (metres - s0) / (s1 - s0) : 0) * (e1 - e0));
  };
}

/**
 * Lays a rail's track anew through the way that it goes, with so many nodes: fewer are easier to bend, more stay nearer to it. Says
 * how far the camera goes from where it went.
 */
export function refitRail(project: Project, cameraId: string, count: number): CloseEdit {
  const camera = existing(project, 'camera', cameraId);
  const { rig } = camera;
  if (rig.kind !== 'rail') throw new CoreError('out-of-range', `${camera.name} is not on a rail.`, 'rig');
  const { nodesM } = refittedTrack(rig, count);
  const next = { nodesM, straight: [], closed: rig.closed };
  const edit = reshapeRail(project, cameraId, `${nodesM.length} nodes`, next);
  return { edit, deviation: closeness(project, edit, cameraId) };
}

/** A rail's track through its own way with so many nodes, and how far it would pass it, metres. */
export function refittedTrack(rig: RigOf<'rail'>, count: number): FittedTrack {
  const path = pathThrough(rig.nodesM, rig.closed, trackShape(rig));
  const looks = Array.from({ length: LOOKS + 1 }, (_, i) => path.pointAt((path.lengthM * i) / LOOKS));
  return trackThrough(looks, { count });
}

/** Places of a track that is laid anew. */
const LOOKS = 400;
