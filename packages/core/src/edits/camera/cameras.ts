import { dequal } from 'dequal/lite';
import { projectMix, wornId, wornVariation } from '../../camera';
import type { Exposure } from '../../exposure';
import type { Camera, Guides, Operation, OwnGroup, Pose, Project, Showing } from '../../model';
import { CAMERA_DEFAULTS, camerasInOrder, existing, moveOf } from '../../model';
import type { Delivery, FilmBack, KitLens } from '../../optics';
import { equivalentFocalLengthMm, filmBackName } from '../../optics';
import type { Edit } from '../edit';
import { creation, deletion, patching } from '../edit';
import { copiesOfOwned, deletionsOfOwned } from '../owned';

/** The parts of a camera that one bench card edits at a time. */
export type CameraParts = Partial<Omit<Camera, 'id' | 'revision' | 'number'>>;

const OWN_GROUP_NAMES: Readonly<Record<OwnGroup, string>> = {
  delivery: 'Delivery frame',
  exposure: 'Exposure',
  guides: 'Guides',
  look: 'Look',
  lightMix: 'Light mix',
};

/** Lowest camera number that is free. */
export function nextCameraNumber(project: Project): number {
  const taken = new Set(camerasInOrder(project).map((camera) => camera.number));
  let number = 1;
  while (taken.has(number)) number += 1;
  return number;
}

/** A new camera at a pose; what `parts` does not say comes from {@link CAMERA_DEFAULTS}. */
export function makeCamera(project: Project, id: string, pose: Pose, parts: CameraParts = {}): Edit {
  const number = nextCameraNumber(project);
  const name = parts.name ?? `Camera ${number}`;
  const camera = { ...CAMERA_DEFAULTS, ...parts, id, number, name, pose };
  return { name: `Make camera ${name}`, operations: [creation('camera', camera)] };
}

/** Changes parts of a camera, named for undo by `what`. */
export function setCamera(project: Project, cameraId: string, what: string, parts: CameraParts): Edit {
  const { name } = existing(project, 'camera', cameraId);
  return { name: `${what} on ${name}`, operations: [patching(project, 'camera', cameraId, parts)] };
}

/** Settings that belong to the project or to one camera, whichever is in force for it. */
export interface GroupSettings {
  readonly delivery: Partial<Delivery>;
  readonly exposure: Partial<Exposure>;
  readonly guides: Partial<Guides>;
}

/**
 * Changes a group of settings where a camera gets it from: the variation it is seen with, its own, or the project's for all that follow it.
 * @param variationId the variation it is seen with; the one that it wears when left out.
 */
export function setGroup<G extends keyof GroupSettings>(
  project: Project,
  cameraId: string,
  group: G,
  what: string,
  parts: GroupSettings[G],
  variationId?: string | null,
): Edit {
  const camera = existing(project, 'camera', cameraId);
  const [id, worn] = [wornId(camera, variationId), wornVariation(camera, variationId)];
  if (group === 'exposure' && id !== null && worn?.exposure) {
    const exposure = { ...worn.exposure, ...(parts as Partial<Exposure>) };
    return setCamera(project, cameraId, what, {
      variations: { ...camera.variations, [id]: { ...worn, exposure } },
    });
  }
  if (!camera.own.includes(group)) {
    const changed = { [group]: { ...project.head[group], ...parts } };
    const chosen = group === 'delivery' ? { deliveryChosen: true } : {};
    return { name: what, operations: [patching(project, 'project', project.head.id, { ...changed, ...chosen })] };
  }
  if (group !== 'delivery') {
    const before = group === 'exposure' ? camera.exposure : camera.guides;
    return setCamera(project, cameraId, what, { [group]: { ...before, ...parts } });
  }
  const delivery = { ...camera.framing.delivery, ...(parts as Partial<Delivery>) };
  return setCamera(project, cameraId, what, { framing: { ...camera.framing, delivery } });
}

/**
 * Puts another film back behind the lens.
 * @param keep `lens` leaves the focal length, so that the angle follows; `angle` leaves the horizontal angle, so that
 * the focal length follows, in the camera's marks too.
 */
export function setFilmBack(project: Project, cameraId: string, filmBack: FilmBack, keep: 'lens' | 'angle'): Edit {
  const camera = existing(project, 'camera', cameraId);
  const scale = keep === 'lens' ? 1 : equivalentFocalLengthMm(1, camera.filmBack, filmBack);
  const lens = { ...camera.lens, focalLengthMm: camera.lens.focalLengthMm * scale };
  return {
    name: `Film back ${filmBackName(filmBack)} on ${camera.name}`,
    operations: [
      patching(project, 'camera', cameraId, { filmBack, lens }),
      ...scaledLensKeys(project, cameraId, scale),
    ],
  };
}

/** The keys of a camera's focal length made so many times as long. */
export function scaledLensKeys(project: Project, cameraId: string, scale: number): Operation[] {
  const move = moveOf(project, cameraId);
  const focalLength = move?.curves['focalLength'];
  if (!move || !focalLength || scale === 1) return [];
  const keys = focalLength.map((key) => ({
    ...key,
    value: key.value * scale,
    ...(key.in && { in: { ...key.in, value: key.in.value * scale } }),
    ...(key.out && { out: { ...key.out, value: key.out.value * scale } }),
  }));
  return [patching(project, 'move', move.id, { curves: { ...move.curves, focalLength: keys } })];
}

/** What putting a lens of a kit on a camera changes of its lens: a zoom keeps the focal length as far as it reaches. */
export function lensFromKit(lens: Camera['lens'], kitLens: KitLens): Camera['lens'] {
  const { id: lensId, minMm, maxMm, blades, roundness } = kitLens;
  const focalLengthMm = Math.max(minMm, Math.min(maxMm, lens.focalLengthMm));
  return { ...lens, lensId, focalLengthMm, blades, roundness };
}

/** A camera with the same settings, pose and move under a new number. */
export function duplicateCamera(project: Project, cameraId: string, copyId: string): Edit {
  const { revision: _revision, ...camera } = existing(project, 'camera', cameraId);
  const name = `${camera.name} copy`;
  const copy = creation('camera', { ...camera, id: copyId, number: nextCameraNumber(project), name });
  // A move has its camera's id: each camera has one at most.
  const owned = copiesOfOwned(project, 'camera', cameraId, copyId, () => copyId);
  return { name: `Duplicate ${camera.name}`, operations: [copy, ...owned] };
}

/** Puts a camera at another place in the list: cameras are numbered anew in their new order. */
export function reorderCamera(project: Project, cameraId: string, toIndex: number): Edit {
  const camera = existing(project, 'camera', cameraId);
  const others = camerasInOrder(project).filter((one) => one.id !== cameraId);
  const order = [...others.slice(0, toIndex), camera, ...others.slice(toIndex)];
  const numbers = camerasInOrder(project).map((one) => one.number);
  const moved = order.flatMap((one, i) => {
    const number = numbers[i] ?? i + 1;
    return one.number === number ? [] : [patching(project, 'camera', one.id, { number })];
  });
  return { name: `Order of ${camera.name}`, operations: moved };
}

/** Takes a camera out, with its move; its shots stay, without a camera, and the checks will say so. */
export function deleteCamera(project: Project, cameraId: string): Edit {
  const { name } = existing(project, 'camera', cameraId);
  const shots = Object.values(project.shots).filter(
    (shot) => shot.cameraId === cameraId || shot.takes.some((take) => take.cameraId === cameraId),
  );
  const lost = <T extends Pick<Showing, 'cameraId' | 'variationId'>>(one: T): T =>
    one.cameraId === cameraId ? { ...one, cameraId: null, variationId: null, lostCamera: name } : one;
  return {
    name: `Delete camera ${name}`,
    operations: [
      ...shots.map((shot) => {
        const { cameraId: left, lostCamera, takes } = lost({ ...shot, takes: shot.takes.map(lost) });
        return patching(project, 'shot', shot.id, { cameraId: left, lostCamera, takes });
      }),
      ...deletionsOfOwned(project, 'camera', cameraId),
      deletion(project, 'camera', cameraId),
    ],
  };
}

/**
 * Lets a group of a camera's settings follow the project, or be its own. What is its own is kept meanwhile; a group that
 * was never set begins as the project's, so that the picture stays as it is.
 */
export function setOwn(project: Project, cameraId: string, group: OwnGroup, own: boolean): Edit {
  const camera = existing(project, 'camera', cameraId);
  const others = camera.own.filter((one) => one !== group);
  const what = own ? 'its own' : 'the project’s';
  const begun = own && isUntouched(camera, group) ? projectGroup(project, camera, group) : {};
  return {
    name: `${OWN_GROUP_NAMES[group]} of ${camera.name}: ${what}`,
    operations: [patching(project, 'camera', cameraId, { own: own ? [...others, group] : others, ...begun })],
  };
}

function isUntouched(camera: Camera, group: OwnGroup): boolean {
  const of = (one: Pick<Camera, 'exposure' | 'framing' | 'guides' | 'lookId' | 'lightMix'>) =>
    group === 'delivery' ? one.framing.delivery : group === 'look' ? one.lookId : one[group];
  return dequal(of(camera), of(CAMERA_DEFAULTS));
}

function projectGroup({ head, lightGroups }: Project, camera: Camera, group: OwnGroup): Partial<Camera> {
  if (group === 'lightMix') return { lightMix: projectMix(lightGroups) };
  if (group === 'look') return { lookId: head.lookId };
  if (group === 'delivery') return { framing: { ...camera.framing, delivery: head.delivery } };
  return { [group]: head[group] };
}
