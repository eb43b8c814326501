import { dequal } from 'dequal/lite';
import type { Camera, CameraPackage, PackageSettings, Project } from '../../model';
import { existing, kitLensOf } from '../../model';
import type { Edit } from '../edit';
import { creation, patching } from '../edit';

/** The settings of a camera as they are in force, to be saved as a package. */
export function packageOf(project: Project, cameraId: string): PackageSettings {
  const camera = existing(project, 'camera', cameraId);
  const inForce = <G extends 'exposure' | 'guides'>(group: G): Camera[G] =>
    (camera.own.includes(group) ? camera[group] : project.head[group]) as Camera[G];
  return {
    filmBack: camera.filmBack,
    lens: camera.lens,
    kitLens: kitLensOf(project, camera.lens.lensId) ?? null,
    fStop: camera.focus.fStop,
    criterion: camera.focus.criterion,
    exposure: inForce('exposure'),
    delivery: camera.own.includes('delivery') ? camera.framing.delivery : project.head.delivery,
    fit: camera.framing.fit,
    guides: inForce('guides'),
  };
}

/** Name of the kit that lenses of packages are put in when a project does not know them. */
const PACKED_KIT = 'From packages';

/** Gives a camera the settings of a package. Groups that differ from the project's become the camera's own. */
export function applyPackage(
  project: Project,
  cameraId: string,
  { name, settings }: CameraPackage,
  kitId: string,
): Edit {
  const camera = existing(project, 'camera', cameraId);
  const others = camera.own.filter((group) => group === 'lightMix');
  const own: Camera['own'] = [
    ...others,
    ...(dequal(settings.delivery, project.head.delivery) ? [] : (['delivery'] as const)),
    ...(dequal(settings.exposure, project.head.exposure) ? [] : (['exposure'] as const)),
    ...(dequal(settings.guides, project.head.guides) ? [] : (['guides'] as const)),
  ];
  const { kitLens } = settings;
  const unknown = kitLens !== null && !kitLensOf(project, kitLens.id);
  return {
    name: `Package ${name} on ${camera.name}`,
    operations: [
      ...(unknown ? [creation('lensKit', { id: kitId, name: PACKED_KIT, lenses: [kitLens] })] : []),
      patching(project, 'camera', cameraId, {
        filmBack: settings.filmBack,
        lens: settings.lens,
        exposure: settings.exposure,
        guides: settings.guides,
        focus: { ...camera.focus, fStop: settings.fStop, criterion: settings.criterion },
        framing: { ...camera.framing, delivery: settings.delivery, fit: settings.fit },
        own,
      }),
    ],
  };
}
