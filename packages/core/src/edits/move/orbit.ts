import { cameraAt, channelValuesAt, numbersFor, restingRig } from '../../camera';
import type { Curve } from '../../curve';
import { easedPair } from '../../curve';
import { CoreError } from '../../error';
import type { Camera, Project } from '../../model';
import { AIM_CHANNELS, existing, moveOf, PLACE_CHANNELS } from '../../model';
import type { Vector } from '../../space';
import { turned } from '../../space';
import { flicksFromSeconds } from '../../time';
import type { Edit } from '../edit';
import { patching, previewed } from '../edit';
import { moveOperations } from './curves';
import type { MoveOrder } from './move-order';
import { rigAround } from './rig-around';

/** An orbit that is asked for. */
export interface OrbitOrder {
  readonly subjectId: string | null;
  /** Degrees, clockwise seen from above; negative the other way. */
  readonly degrees: number;
  readonly seconds: number;
  /** Goes on round and round at the same speed: a full turn that loops shows no frame twice. */
  readonly loop: boolean;
}

/** Round a subject or the point in focus at the present radius and height, at an even speed, the aim locked on. */
export function addOrbit(
  project: Project,
  cameraId: string,
  { subjectId, degrees, seconds, loop }: OrbitOrder,
  atFlicks: number,
): Edit {
  if (!(seconds > 0)) throw new CoreError('out-of-range', 'An orbit lasts longer than nothing.', 'seconds');
  const { project: onOrbit, operations } = putOnOrbit(project, cameraId, subjectId, atFlicks);
  const camera = existing(onOrbit, 'camera', cameraId);
  const move = moveOf(onOrbit, cameraId);
  const from = channelValuesAt(camera, move, atFlicks).orbit;
  const orbit: Curve = [
    { atFlicks, value: from, shape: 'linear' },
    { atFlicks: atFlicks + flicksFromSeconds(seconds), value: from + degrees, shape: 'linear' },
  ];
  const after = { ...move?.after, orbit: loop ? ('onward' as const) : ('stay' as const) };
  const edits = moveOperations(onOrbit, cameraId, { curves: { ...move?.curves, orbit }, after });
  return { name: `Orbit on ${camera.name}`, operations: [...operations, ...edits] };
}

/** A camera on an orbit round somebody, or round the point it is focused on, with the aim locked on the middle. */
function putOnOrbit(project: Project, cameraId: string, subjectId: string | null, atFlicks: number) {
  const around = rigAround(project, cameraId, 'orbit', atFlicks);
  if (around.kind !== 'orbit') throw new CoreError('out-of-range', 'There is nothing to go round.', 'subjectId');
  const state = cameraAt(project, cameraId, atFlicks);
  const [dx, dy, dz] = turned([0, 0, -Math.min(1000, state.focus.distanceM)], state.quaternion);
  const [x, y, z] = state.positionM;
  const focused: Vector = [x + dx, y + dy, z + dz];
  const named = subjectId === null ? undefined : existing(project, 'placement', subjectId);
  const middle = named
    ? { ...around, subjectId: named.id, point: 'eyes' as const, atM: [0, 0, 0] as Vector }
    : { ...around, subjectId: null, atM: focused };
  const camera = existing(project, 'camera', cameraId);
  const values = channelValuesAt({ ...camera, rig: middle }, undefined, 0);
  const numbers = numbersFor(middle, state.positionM, values, project, atFlicks);
  const rig = restingRig(middle, { ...values, ...numbers });
  const aim: Camera['aim'] = named
    ? { kind: 'subject', placementId: named.id, point: 'eyes', offsetM: [0, 0, 0], weight: 1, smoothingS: 0 }
    : { kind: 'point', positionM: focused };
  const { panDeg, tiltDeg, rollDeg } = state;
  const pose = { positionM: [x, y, z] as Vector, panDeg, tiltDeg, rollDeg };
  const move = moveOf(project, cameraId);
  const kept = Object.entries(move?.curves ?? {}).filter(([channel]) => !PLACING.has(channel));
  const operations = [
    patching(project, 'camera', cameraId, { rig, aim, pose }),
    ...(move ? moveOperations(project, cameraId, { curves: Object.fromEntries(kept), marks: [] }) : []),
  ];
  return { project: previewed(project, { operations }), operations };
}

/** Channels that an orbit says anew. */
const PLACING: ReadonlySet<string> = new Set([...PLACE_CHANNELS, 'pan', 'tilt', ...AIM_CHANNELS]);

/** Round the subject at its distance: an orbit with two keys, aimed at the middle. */
export function addArc(project: Project, cameraId: string, order: Omit<MoveOrder, 'move'>, atFlicks: number): Edit {
  const { project: onOrbit, operations } = putOnOrbit(project, cameraId, order.subjectId, atFlicks);
  const camera = existing(onOrbit, 'camera', cameraId);
  const timing = {
    atFlicks,
    lengthFlicks: flicksFromSeconds(order.seconds),
    settleFlicks: flicksFromSeconds(order.settleS),
  };
  const from = channelValuesAt(camera, moveOf(onOrbit, cameraId), atFlicks).orbit;
  const orbit = easedPair(from, from + order.amount, timing, order);
  const edits = moveOperations(onOrbit, cameraId, { curves: { ...moveOf(onOrbit, cameraId)?.curves, orbit } });
  return { name: `Arc on ${camera.name}`, operations: [...operations, ...edits] };
}
