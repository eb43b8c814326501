import { sceneSpanOf } from '../../camera';
import { CoreError } from '../../error';
import type { Project } from '../../model';
import { camerasInOrder, existing, moveOf } from '../../model';
import { cameraLane, cutOf, sceneStretchOf } from '../../sequence';
import type { Edit } from '../edit';
import { shiftMove } from '../move';
import { setShot } from './shots';

/**
 * Puts the move of a camera under a shot: it begins when what the shot shows begins. Subjects keep their time.
 * @throws CoreError `unknown-entity` where the camera has no move.
 */
export function putMoveUnder(project: Project, shotId: string, cameraId: string): Edit {
  const shot = existing(project, 'shot', shotId);
  const { name } = existing(project, 'camera', cameraId);
  const move = moveOf(project, cameraId);
  const placed = cutOf(project, shot.sequenceId).shots.find((one) => one.shot.id === shotId);
  const span = sceneSpanOf(move);
  if (!span || !placed)
    throw new CoreError('unknown-entity', `${name} has no move that could be put under ${shot.name}.`);
  const shifted = shiftMove(project, cameraId, sceneStretchOf(placed)[0] - span[0], { along: 'camera' });
  return { ...shifted, name: `Put the move of ${name} under ${shot.name}` };
}

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
