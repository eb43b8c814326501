import type { PictureFile, Project, Reference } from '../../model';
import { existing } from '../../model';
import type { Edit } from '../edit';
import { creation, patching } from '../edit';

/** Lays a picture over one camera's picture, half transparent. */
export function addReference(
  project: Project,
  cameraId: string,
  ids: { asset: string; reference: string },
  name: string,
  file: PictureFile,
): Edit {
  const camera = existing(project, 'camera', cameraId);
  const reference: Reference = {
    id: ids.reference,
    assetId: ids.asset,
    layer: 'over',
    opacity: 0.5,
    size: 'fit',
    difference: false,
    shown: true,
  };
  return {
    name: `Reference ${name} on ${camera.name}`,
    operations: [
      creation('asset', { id: ids.asset, name, file }),
      patching(project, 'camera', cameraId, { references: [...camera.references, reference] }),
    ],
  };
}

/** Changes how a reference picture is shown. */
export function setReference(
  project: Project,
  cameraId: string,
  referenceId: string,
  what: string,
  parts: Partial<Omit<Reference, 'id' | 'assetId'>>,
): Edit {
  const camera = existing(project, 'camera', cameraId);
  const references = camera.references.map((one) => (one.id === referenceId ? { ...one, ...parts } : one));
  return { name: `${what} on ${camera.name}`, operations: [patching(project, 'camera', cameraId, { references })] };
}

/** Takes a reference picture off a camera. */
export function removeReference(project: Project, cameraId: string, referenceId: string): Edit {
  const camera = existing(project, 'camera', cameraId);
  const references = camera.references.filter((one) => one.id !== referenceId);
  return {
    name: `Take a reference off ${camera.name}`,
    operations: [patching(project, 'camera', cameraId, { references })],
  };
}
