import { NO_VARIATION, wornId } from '../../camera';
import { CoreError } from '../../error';
import type { Project } from '../../model';
import { cutOf, shotAtFrame } from '../../sequence';
import { flicksAtFrame } from '../../time';
import type { Edit } from '../edit';
import { composed } from '../edit';
import { showVariation } from '../looks';
import { splitShot } from './split';
import { setEntry } from './transitions';

/**
 * Lets the shot at a frame of the cut (from 0) dissolve into another variation of its camera there, over so many frames about it: it is
 * divided, and its second half shows the other variation. The action goes on.
 * @throws CoreError `out-of-range` at a joint, where there is no shot, or where it has no such variation; as a dissolve throws.
 */
export function dissolveToVariation(
  project: Project,
  sequenceId: string,
  frame: number,
  variationId: string,
  frames: number,
  newId: string,
): Edit {
  const placed = shotAtFrame(cutOf(project, sequenceId), frame);
  const camera = project.cameras[placed?.shot.cameraId ?? ''];
  const variation = camera?.variations[variationId];
  if (!placed || !camera || !variation)
    throw new CoreError('out-of-range', 'The shot at the playhead has no camera with this variation.');
  const { shot } = placed;
  const before = wornId(camera, shot.variationId) ?? NO_VARIATION;
  const { rate } = project.head;
  return composed(project, `Dissolve to ${variation.name}`, [
    (now) => splitShot(now, sequenceId, frame, newId),
    // What was seen stays seen (a variation, or the camera without one), whatever the camera wears later.
    (now) => showVariation(now, shot.id, null, before),
    (now) => showVariation(now, newId, null, variationId),
    (now) =>
      setEntry(now, newId, {
        kind: 'dissolve',
        durationFlicks: flicksAtFrame(frames, rate),
        place: 'centred',
        ease: 0,
      }),
  ]);
}
