import type { Project } from '../../model';
import { camerasInOrder, existing } from '../../model';
import { cameraLane, cutOf } from '../../sequence';
import type { Edit } from '../edit';
import { setShot } from './shots';

/**
 * Throws away what a camera has under a shot, or brings it back. Where the shot looked through it, it looks through the next camera whose
 * move goes on there; through none where there is none.
 */
export function throwPiece(project: Project, shotId: string, cameraId: string, away: boolean): Edit {
  const shot = existing(project, 'shot', shotId);
  const { name } = existing(project, 'camera', cameraId);
  const others = shot.without.filter((id) => id !== cameraId);
  if (!away) return setShot(project, shotId, `Bring ${name} back`, { without: others });
  const without = [...others, cameraId];
  if (shot.cameraId !== cameraId) return setShot(project, shotId, `Throw ${name} away`, { without });
  const placed = cutOf(project, shot.sequenceId).shots.find((one) => one.shot.id === shotId);
  const isThere = (id: string) =>
    cameraLane(project, shot.sequenceId, id).moves.some(
      ({ from, to }) => placed && from < placed.startFrame + placed.frameCount && to > placed.startFrame,
    );
  const next = camerasInOrder(project).find(({ id, disabled }) => !disabled && !without.includes(id) && isThere(id));
  const lostCamera = next ? '' : name;
  return setShot(project, shotId, `Throw ${name} away`, { without, cameraId: next?.id ?? null, lostCamera });
}
