import type { Project } from '../../model';
import { existing } from '../../model';
import type { KitLens } from '../../optics';
import type { Edit } from '../edit';
import { creation, deletion, patching } from '../edit';

/** A new, empty kit of the project's own. */
export function addLensKit(id: string, name: string): Edit {
  return { name: `Add lens kit ${name}`, operations: [creation('lensKit', { id, name, lenses: [] })] };
}

/** Puts a lens in a kit, or in the place of the one with its id. */
export function putLens(project: Project, kitId: string, lens: KitLens): Edit {
  const kit = existing(project, 'lensKit', kitId);
  const there = kit.lenses.some((one) => one.id === lens.id);
  const lenses = there ? kit.lenses.map((one) => (one.id === lens.id ? lens : one)) : [...kit.lenses, lens];
  return { name: `Lens ${lens.name} in ${kit.name}`, operations: [patching(project, 'lensKit', kitId, { lenses })] };
}

/** Takes a lens out of a kit; cameras that have it keep their settings and belong to no lens. */
export function removeLens(project: Project, kitId: string, lensId: string): Edit {
  const kit = existing(project, 'lensKit', kitId);
  const cameras = Object.values(project.cameras).filter((camera) => camera.lens.lensId === lensId);
  return {
    name: `Take a lens out of ${kit.name}`,
    operations: [
      patching(project, 'lensKit', kitId, { lenses: kit.lenses.filter((one) => one.id !== lensId) }),
      ...cameras.map(({ id, lens }) => patching(project, 'camera', id, { lens: { ...lens, lensId: null } })),
    ],
  };
}

export function renameLensKit(project: Project, kitId: string, name: string): Edit {
  return { name: `Name lens kit ${name}`, operations: [patching(project, 'lensKit', kitId, { name })] };
}

export function deleteLensKit(project: Project, kitId: string): Edit {
  const kit = existing(project, 'lensKit', kitId);
  const ids = new Set(kit.lenses.map(({ id }) => id));
  const cameras = Object.values(project.cameras).filter(({ lens }) => lens.lensId !== null && ids.has(lens.lensId));
  return {
    name: `Take away lens kit ${kit.name}`,
    operations: [
      ...cameras.map(({ id, lens }) => patching(project, 'camera', id, { lens: { ...lens, lensId: null } })),
      deletion(project, 'lensKit', kitId),
    ],
  };
}
