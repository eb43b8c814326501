import { LEVEL_AS_IT_IS } from '../../light';
import type { LightGroup, Project } from '../../model';
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

/** Lets a lamp, or whatever shines, belong to a light group that is made for it. */
export function inNewLightGroup(project: Project, placementId: string, groupId: string): Edit {
  const taken = new Set(Object.values(project.lightGroups).map(({ name }) => name));
  const { name } = existing(project, 'placement', placementId);
  let free = name;
  for (let n = 2; taken.has(free); n++) free = `${name} ${n}`;
  return {
    name: `Light group ${free}`,
    operations: [
      ...addLightGroup(groupId, free).operations,
      patching(project, 'placement', placementId, { lightGroupId: groupId }),
    ],
  };
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
