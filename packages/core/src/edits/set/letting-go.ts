import type { CameraState } from '../../camera';
import { cameraAt } from '../../camera';
import type { Camera, Operation, Project } from '../../model';
import { moveOf } from '../../model';
import { stretchesOf } from '../../sequence';
import { facingDegAt, subjectPointAt } from '../../set';
import { sum } from '../../space';
import { patching } from '../edit';

/**
 * The operations that let a camera stay as it is when it is first seen, once some placements have gone: its rig stands where they
 * stood, its aim is that point, its focus that distance.
 */
export function lettingGo(project: Project, camera: Camera, gone: ReadonlySet<string>): Operation[] {
  const { rig, aim, focus, framing } = camera;
  const isGone = (id: string | null): id is string =>
    id !== null && gone.has(id) && project.placements[id] !== undefined;
  const hangs = (rig.kind === 'follow' || rig.kind === 'orbit') && isGone(rig.subjectId);
  const aims = aim.kind === 'subject' && isGone(aim.placementId);
  const racks = focus.racks.filter(({ subjectId }) => !isGone(subjectId));
  const focused = isGone(focus.subjectId) || racks.length < focus.racks.length;
  if (!hangs && !aims && !focused && !isGone(framing.subjectId)) return [];
  const atFlicks = firstSeen(project, camera);
  const state = cameraAt(project, camera.id, atFlicks);
  const parts: Partial<Camera> = {
    ...(hangs && { rig: standingRig(project, rig, atFlicks) }),
    ...(aims && state.aimM && { aim: { kind: 'point', positionM: state.aimM } }),
    ...(focused && { focus: leftFocus(focus, state, racks, isGone(focus.subjectId)) }),
    ...(isGone(framing.subjectId) && { framing: { ...framing, subjectId: null } }),
  };
  const moved = hangs ? raisedBase(project, camera, atFlicks) : [];
  return [patching(project, 'camera', camera.id, parts), ...moved];
}

function leftFocus(focus: Camera['focus'], state: CameraState, racks: Camera['focus']['racks'], first: boolean) {
  if (!first) return { ...focus, racks };
  const mode = focus.mode === 'follow' && racks.length === 0 ? 'manual' : focus.mode;
  return { ...focus, racks, mode, subjectId: null, distanceM: state.focus.distanceM };
}

/** A rig that hung on somebody, standing where that one was. */
function standingRig(project: Project, rig: Camera['rig'], atFlicks: number): Camera['rig'] {
  const subject = project.placements[(rig.kind === 'follow' || rig.kind === 'orbit' ? rig.subjectId : null) ?? ''];
  if (!subject) return rig;
  if (rig.kind === 'orbit') {
    return { ...rig, subjectId: null, atM: sum(rig.atM, subjectPointAt(project, subject, rig.point, atFlicks)) };
  }
  if (rig.kind !== 'follow') return rig;
  const atM = subjectPointAt(project, subject, rig.point, atFlicks);
  const turned = rig.axes === 'subject' ? facingDegAt(project, subject, atFlicks) : 0;
  return { ...rig, subjectId: null, axes: 'world', atM, turnDeg: rig.turnDeg + turned };
}

/** An orbit's base is an offset from its subject while it has one: keys of it become places. */
function raisedBase(project: Project, { id, rig }: Camera, atFlicks: number): Operation[] {
  const move = moveOf(project, id);
  const subject = rig.kind === 'orbit' && rig.subjectId !== null ? project.placements[rig.subjectId] : undefined;
  if (!move || !subject || rig.kind !== 'orbit') return [];
  const place = subjectPointAt(project, subject, rig.point, atFlicks);
  const curves = { ...move.curves };
  (['rigX', 'rigY', 'rigZ'] as const).forEach((channel, axis) => {
    const curve = curves[channel];
    if (curve) curves[channel] = curve.map((key) => ({ ...key, value: key.value + (place[axis] ?? 0) }));
  });
  return [patching(project, 'move', move.id, { curves })];
}

/** When a camera is first seen: at the start of its earliest shot, else at the scene's. */
function firstSeen(project: Project, camera: Camera): number {
  const starts = stretchesOf(project, camera.id).map(({ fromFlicks }) => fromFlicks);
  return starts.length > 0 ? Math.min(...starts) : 0;
}
