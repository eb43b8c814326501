import { mixInForce, wornId, wornVariation } from '../../camera';
import type { GroupLevel, LightMix } from '../../light';
import { LEVEL_AS_IT_IS } from '../../light';
import type { Camera, LightGroup, OwnGroup, Project } from '../../model';
import { existing } from '../../model';
import type { Edit } from '../edit';
import { creation, deletion, patching } from '../edit';

/** A new light group, as bright as its lamps are. */
export function addLightGroup(id: string, name: string): Edit {
  return {
    name: `Add light group ${name}`,
    operations: [creation('lightGroup', { id, name, level: LEVEL_AS_IT_IS })],
  };
}

/** Changes a light group's name or its level for all cameras that follow the project. */
export function setLightGroup(
  project: Project,
  groupId: string,
  what: string,
  parts: Partial<Omit<LightGroup, 'id' | 'revision'>>,
): Edit {
  const { name } = existing(project, 'lightGroup', groupId);
  return { name: `${what} of ${name}`, operations: [patching(project, 'lightGroup', groupId, parts)] };
}

/** Takes a light group away; its lamps stay and belong to none. */
export function deleteLightGroup(project: Project, groupId: string): Edit {
  const { name } = existing(project, 'lightGroup', groupId);
  const lamps = Object.values(project.placements).filter((one) => one.lightGroupId === groupId);
  const sets = Object.values(project.sets).filter((one) => one.daylightGroupId === groupId);
  return {
    name: `Take away light group ${name}`,
    operations: [
      ...lamps.map((one) => patching(project, 'placement', one.id, { lightGroupId: null })),
      ...sets.map((one) => patching(project, 'set', one.id, { daylightGroupId: null })),
      deletion(project, 'lightGroup', groupId),
    ],
  };
}

/**
 * Sets the level of a light group as one camera sees it: in the variation it is seen with, where that has a mix of its own; else with
 * that the mix is the camera's own. @param variationId the variation it is seen with; the one it wears when left out.
 */
export function setCameraLevel(
  project: Project,
  cameraId: string,
  groupId: string,
  level: GroupLevel,
  variationId?: string | null,
): Edit {
  const { name } = existing(project, 'lightGroup', groupId);
  return setCameraMix(project, cameraId, `Light of ${name}`, { [groupId]: level }, variationId);
}

/** The same for several light groups at once. */
export function setCameraMix(
  project: Project,
  cameraId: string,
  what: string,
  levels: LightMix,
  variationId?: string | null,
): Edit {
  const camera = existing(project, 'camera', cameraId);
  const worn = wornVariation(camera, variationId);
  const lightMix = { ...mixInForce(project, camera, worn), ...levels };
  const id = wornId(camera, variationId);
  const parts: Partial<Camera> =
    worn?.lightMix && id
      ? { variations: { ...camera.variations, [id]: { ...worn, lightMix } } }
      : { lightMix, own: [...new Set<OwnGroup>([...camera.own, 'lightMix'])] };
  return { name: `${what} on ${camera.name}`, operations: [patching(project, 'camera', cameraId, parts)] };
}
