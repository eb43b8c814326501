import { CoreError } from '../error';
import type { Project } from '../model';
import type { CutPicture } from '../sequence';
import { pictureAt, pictureOfShot } from '../sequence';
import { flicksAtFrame } from '../time';
import type { OrderPart } from './part';

/** What is seen at a frame of a part that is no slate: layers of a cut or a shot, or one camera at a scene time. */
export type PartPicture =
  | ({ readonly kind: 'layers' } & CutPicture)
  | {
      readonly kind: 'camera';
      readonly cameraId: string;
      /** Null is the variation that is worn. */
      readonly variationId: string | null;
      readonly sceneFlicks: number;
    };

/**
 * What is seen at a frame of a part's subject: see {@link OrderPart.runs}.
 * @throws CoreError `out-of-range` where there is no such frame, `unknown-entity` where nothing is looked through.
 */
export function partPicture(project: Project, { subject, title }: OrderPart, source: number): PartPicture {
  if (subject.kind === 'camera') {
    if (!project.cameras[subject.cameraId]) throw new CoreError('unknown-entity', `${title} is gone.`, 'cameraId');
    const { cameraId, variationId } = subject;
    return { kind: 'camera', cameraId, variationId, sceneFlicks: flicksAtFrame(source, project.head.rate) };
  }
  const { sequenceId } = subject;
  const seen =
    subject.kind === 'cut'
      ? pictureAt(project, sequenceId, source)
      : pictureOfShot(project, sequenceId, subject.shotId, source);
  if (!seen) throw new CoreError('out-of-range', `There is no frame ${source + 1} in ${title}.`, 'frame');
  if (seen.shot && seen.cameraId === null && seen.shot.insideId === null)
    throw new CoreError('unknown-entity', `${seen.shot.name} has no camera.`, 'cameraId');
  const variationId = subject.kind === 'shot' ? subject.variationId : null;
  if (variationId === null) return { kind: 'layers', ...seen };
  const layers = seen.layers.map((layer) => (layer.kind === 'camera' ? { ...layer, variationId } : layer));
  return { kind: 'layers', ...seen, variationId, layers };
}
