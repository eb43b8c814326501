import { dequal } from 'dequal/lite';
import { lookIdOf, wornVariation } from '../../camera';
import type { LookSettings } from '../../colour';
import { settingsOf } from '../../colour';
import type { Camera, CameraPackage, PackageSettings, Project } from '../../model';
import { existing, kitLensOf } from '../../model';
import type { Edit } from '../edit';
import { creation, patching } from '../edit';
import { freeLookName } from '../looks';

/** The settings of a camera as they are in force, to be saved as a package. */
export function packageOf(project: Project, cameraId: string): PackageSettings {
  const camera = existing(project, 'camera', cameraId);
  const inForce = <G extends 'exposure' | 'guides'>(group: G): Camera[G] =>
    (camera.own.includes(group) ? camera[group] : project.head[group]) as Camera[G];
  const look = project.looks[lookIdOf(project, camera, wornVariation(camera)) ?? ''];
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
    look: look ? { name: look.name, settings: { ...settingsOf(look), lut: null } } : null,
  };
}

/** Name of the kit that lenses of packages are put in when a project does not know them. */
const PACKED_KIT = 'From packages';

/** Gives a camera the settings of a package. Groups that differ from the project's become the camera's own. */
export function applyPackage(
  project: Project,
  cameraId: string,
  { name, settings }: CameraPackage,
  ids: { readonly kit: string; readonly look: string },
): Edit {
  const camera = existing(project, 'camera', cameraId);
  const { look } = settings;
  const inForce = settingsOf(project.looks[lookIdOf(project, camera, wornVariation(camera)) ?? '']);
  const known = look && Object.values(project.looks).find((one) => sameLook(settingsOf(one), look.settings));
  const dresses = look !== null && !sameLook(inForce, look.settings);
  const others = camera.own.filter((group) => group === 'lightMix' || (group === 'look' && !dresses));
  const own: Camera['own'] = [
    ...others,
    ...(dequal(settings.delivery, project.head.delivery) ? [] : (['delivery'] as const)),
    ...(dequal(settings.exposure, project.head.exposure) ? [] : (['exposure'] as const)),
    ...(dequal(settings.guides, project.head.guides) ? [] : (['guides'] as const)),
    ...(dresses ? (['look'] as const) : []),
  ];
  const { kitLens } = settings;
  const unknown = kitLens !== null && !kitLensOf(project, kitLens.id);
  return {
    name: `Package ${name} on ${camera.name}`,
    operations: [
      ...(unknown ? [creation('lensKit', { id: ids.kit, name: PACKED_KIT, lenses: [kitLens] })] : []),
      ...(dresses && !known
        ? [creation('look', { id: ids.look, name: freeLookName(project, look.name), ...look.settings })]
        : []),
      patching(project, 'camera', cameraId, {
        ...(dresses && { lookId: known?.id ?? ids.look }),
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

/** Whether two looks are the same but for a file they go through. */
function sameLook(a: LookSettings, b: LookSettings): boolean {
  return dequal({ ...a, lut: null }, { ...b, lut: null });
}
