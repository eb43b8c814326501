import { lookIdOf, wornId, wornVariation } from '../../camera';
import type { LookSettings, Response } from '../../colour';
import { settingsOf } from '../../colour';
import type { Camera, Operation, OwnGroup, Project } from '../../model';
import { existing } from '../../model';
import type { Edit } from '../edit';
import { creation, deletion, patching } from '../edit';

/** Whom an edit of a look is meant for: all that wear it, or the edited camera alone, which gets a copy. */
export type LookFor = 'all' | 'alone';

/** A camera as it is edited: with which of its variations. */
export interface Dressed {
  readonly cameraId: string;
  /** The one that is seen; null is the one that the camera wears, or the camera without any. */
  readonly variationId: string | null;
}

/**
 * Changes the look that a camera is seen with. Where that is the one which leaves everything as it is, or it is meant for this camera
 * alone, a look is made of it with `newId`, and put on where the other was: on the variation, on the camera, on the project.
 */
export function setLook(
  project: Project,
  { cameraId, variationId }: Dressed,
  what: string,
  parts: Partial<LookSettings>,
  newId: string,
  whom: LookFor = 'all',
): Edit {
  const camera = existing(project, 'camera', cameraId);
  const worn = wornVariation(camera, variationId);
  const lookId = lookIdOf(project, camera, worn);
  const look = project.looks[lookId ?? ''];
  if (look && whom === 'all') {
    return { name: `${what} of ${look.name}`, operations: [patching(project, 'look', look.id, parts)] };
  }
  const forProject = whom === 'all' && !worn && !camera.own.includes('look');
  const name = freeLookName(project, forProject ? project.head.name : (worn?.name ?? camera.name));
  const made = creation('look', { id: newId, name, ...settingsOf(look), ...parts });
  const on = forProject
    ? patching(project, 'project', project.head.id, { lookId: newId })
    : wearing(project, camera, variationId, newId);
  return { name: `${what} of ${name}`, operations: [made, on] };
}

/** Puts a look on a camera, or on the variation it is seen with: another one by its id, or none. */
export function wearLook(project: Project, { cameraId, variationId }: Dressed, lookId: string | null): Edit {
  const camera = existing(project, 'camera', cameraId);
  const name = lookId === null ? 'no look' : existing(project, 'look', lookId).name;
  return { name: `${camera.name} wears ${name}`, operations: [wearing(project, camera, variationId, lookId)] };
}

/** Where a camera's look is kept: in the variation it is seen with, where that has one of its own, else in the camera. */
function wearing(project: Project, camera: Camera, variationId: string | null, lookId: string | null): Operation {
  const id = wornId(camera, variationId);
  const worn = camera.variations[id ?? ''];
  if (id !== null && worn && (worn.lookId !== null || lookId !== null)) {
    const variations = { ...camera.variations, [id]: { ...worn, lookId } };
    return patching(project, 'camera', camera.id, { variations });
  }
  const own = [...new Set<OwnGroup>([...camera.own, 'look'])];
  return patching(project, 'camera', camera.id, { lookId, own });
}

/** A look that was read or pasted. */
export function addLook(project: Project, id: string, name: string, settings: LookSettings): Edit {
  const free = freeLookName(project, name);
  return { name: `Add look ${free}`, operations: [creation('look', { id, name: free, ...settings })] };
}

export function nameLook(project: Project, lookId: string, name: string): Edit {
  return { name: `Name look ${name}`, operations: [patching(project, 'look', lookId, { name })] };
}

/** Takes a look away. Whoever wears it goes without: what followed it is as it is without any. */
export function deleteLook(project: Project, lookId: string): Edit {
  const { name } = existing(project, 'look', lookId);
  const cameras = Object.values(project.cameras).flatMap((camera) => {
    const variations = Object.fromEntries(
      Object.entries(camera.variations).map(([id, one]) => [
        id,
        one.lookId === lookId ? { ...one, lookId: null } : one,
      ]),
    );
    const own = camera.lookId === lookId ? { lookId: null } : {};
    const operation = patching(project, 'camera', camera.id, { ...own, variations });
    return Object.keys(operation.fields).length > 0 || operation.parts ? [operation] : [];
  });
  const { head } = project;
  return {
    name: `Take away look ${name}`,
    operations: [
      ...(head.lookId === lookId ? [patching(project, 'project', head.id, { lookId: null })] : []),
      ...cameras,
      deletion(project, 'look', lookId),
    ],
  };
}

/** Makes a look the project's: what cameras have that follow it. */
export function setProjectLook(project: Project, lookId: string | null): Edit {
  const name = lookId === null ? 'no look' : existing(project, 'look', lookId).name;
  return {
    name: `The project’s look: ${name}`,
    operations: [patching(project, 'project', project.head.id, { lookId })],
  };
}

/** Keeps a response curve under its name. */
export function keepResponse(project: Project, id: string, response: Response): Edit {
  const same = Object.values(project.keptResponses).find((one) => one.response.name === response.name);
  const name = `Keep response ${response.name}`;
  return {
    name,
    operations: [
      same ? patching(project, 'keptResponse', same.id, { response }) : creation('keptResponse', { id, response }),
    ],
  };
}

export function forgetResponse(project: Project, id: string): Edit {
  const { response } = existing(project, 'keptResponse', id);
  return { name: `Forget response ${response.name}`, operations: [deletion(project, 'keptResponse', id)] };
}

/** Longest name, and room for a number after it. */
const [MOST_NAME, NUMBER_ROOM] = [120, 5];

/** A name that no look has: with a number where one has it. */
export function freeLookName(project: Project, wanted: string): string {
  const taken = new Set(Object.values(project.looks).map(({ name }) => name));
  const name = wanted.slice(0, MOST_NAME - NUMBER_ROOM).trim() || 'Look';
  for (let n = 1; ; n++) {
    const tried = n === 1 ? name : `${name} ${n}`;
    if (!taken.has(tried)) return tried;
  }
}
