import { lookIdOf, mixInForce, NO_VARIATION, wornVariation } from '../../camera';
import { settingsOf } from '../../colour';
import { CoreError } from '../../error';
import type { Camera, Project, Variation } from '../../model';
import { existing, orderBetween } from '../../model';
import type { Edit } from '../edit';
import { creation, patching } from '../edit';
import type { Dressed } from './looks';
import { freeLookName } from './looks';
import { variationsOf } from './wearing';

/** Ids of what a new variation makes. */
export interface VariationIds {
  readonly variation: string;
  readonly look: string;
}

/**
 * Keeps how a camera is seen now as a variation, with a look and a mix of its own, and the exposure where `withExposure` says so. A camera
 * without one stays without: what is changed from here on is the camera's as it is, and nothing kept changes with it. A camera that wears
 * one wears the new one instead.
 */
export function keepVariation(
  project: Project,
  { cameraId, variationId }: Dressed,
  ids: VariationIds,
  wanted: string,
  withExposure = false,
): Edit {
  const camera = existing(project, 'camera', cameraId);
  const worn = wornVariation(camera, variationId);
  const name = freeVariationName(camera, wanted);
  const exposure = worn?.exposure ?? (camera.own.includes('exposure') ? camera.exposure : project.head.exposure);
  const variation: Variation = {
    name,
    order: orderBetween(variationsOf(camera).at(-1)?.order, undefined, ids.variation),
    lookId: ids.look,
    lightMix: mixInForce(project, camera, worn),
    exposure: withExposure || worn?.exposure ? exposure : null,
  };
  const look = settingsOf(project.looks[lookIdOf(project, camera, worn) ?? '']);
  return {
    name: `Keep variation ${name} of ${camera.name}`,
    operations: [
      creation('look', { id: ids.look, name: freeLookName(project, name), ...look }),
      patching(project, 'camera', cameraId, {
        variations: { ...camera.variations, [ids.variation]: variation },
        wears: worn ? ids.variation : camera.wears,
      }),
    ],
  };
}

/** Puts a variation on a camera; null is the camera without any. */
export function wearVariation(project: Project, cameraId: string, variationId: string | null): Edit {
  const camera = existing(project, 'camera', cameraId);
  const name = variationId === null ? 'none of its variations' : variationIn(camera, variationId).name;
  return {
    name: `${camera.name} wears ${name}`,
    operations: [patching(project, 'camera', cameraId, { wears: variationId })],
  };
}

/** Changes a variation's name, or what it has of its own. */
export function setVariation(
  project: Project,
  cameraId: string,
  variationId: string,
  what: string,
  parts: Partial<Omit<Variation, 'order'>>,
): Edit {
  const camera = existing(project, 'camera', cameraId);
  const variation = variationIn(camera, variationId);
  const variations = { ...camera.variations, [variationId]: { ...variation, ...parts } };
  return { name: `${what} of ${variation.name}`, operations: [patching(project, 'camera', cameraId, { variations })] };
}

/** The same variation again, with a look of its own, right after it. It is not worn. */
export function duplicateVariation(project: Project, cameraId: string, variationId: string, ids: VariationIds): Edit {
  const camera = existing(project, 'camera', cameraId);
  const variation = variationIn(camera, variationId);
  const row = variationsOf(camera);
  const at = row.findIndex(({ id }) => id === variationId);
  const name = freeVariationName(camera, `${variation.name} copy`);
  const look = project.looks[variation.lookId ?? ''];
  const copy: Variation = {
    ...variation,
    name,
    lookId: look ? ids.look : null,
    order: orderBetween(variation.order, row[at + 1]?.order, ids.variation),
  };
  return {
    name: `Duplicate variation ${variation.name}`,
    operations: [
      ...(look ? [creation('look', { id: ids.look, name: freeLookName(project, name), ...settingsOf(look) })] : []),
      patching(project, 'camera', cameraId, { variations: { ...camera.variations, [ids.variation]: copy } }),
    ],
  };
}

/** Puts a variation at another place of the row. */
export function moveVariation(project: Project, cameraId: string, variationId: string, toIndex: number): Edit {
  const camera = existing(project, 'camera', cameraId);
  const variation = variationIn(camera, variationId);
  const others = variationsOf(camera).filter(({ id }) => id !== variationId);
  const order = orderBetween(others[toIndex - 1]?.order, others[toIndex]?.order, variationId);
  const variations = { ...camera.variations, [variationId]: { ...variation, order } };
  return { name: `Order of ${variation.name}`, operations: [patching(project, 'camera', cameraId, { variations })] };
}

/** Takes a variation away. Its look stays among the looks; shots and takes that showed it show what the camera wears. */
export function deleteVariation(project: Project, cameraId: string, variationId: string): Edit {
  const camera = existing(project, 'camera', cameraId);
  const { name } = variationIn(camera, variationId);
  const { [variationId]: _gone, ...variations } = camera.variations;
  const without = <T extends { readonly variationId: string | null }>(one: T): T =>
    one.variationId === variationId ? { ...one, variationId: null } : one;
  const shots = Object.values(project.shots).filter(
    (shot) => shot.variationId === variationId || shot.takes.some((take) => take.variationId === variationId),
  );
  return {
    name: `Take away variation ${name}`,
    operations: [
      ...shots.map((shot) => {
        const takes = shot.takes.map(without);
        return patching(project, 'shot', shot.id, { variationId: without(shot).variationId, takes });
      }),
      patching(project, 'camera', cameraId, {
        variations,
        ...(camera.wears === variationId && { wears: null }),
      }),
    ],
  };
}

/**
 * Lets a shot, or one of its takes, show a variation of its camera; null is the one that the camera wears, {@link NO_VARIATION} is the
 * camera as it is, whatever it wears.
 */
export function showVariation(
  project: Project,
  shotId: string,
  takeId: string | null,
  variationId: string | null,
): Edit {
  const shot = existing(project, 'shot', shotId);
  const take = shot.takes.find(({ id }) => id === takeId);
  const camera = project.cameras[(takeId === null ? shot : take)?.cameraId ?? ''];
  const name =
    variationId === null || !camera
      ? 'what its camera wears'
      : variationId === NO_VARIATION
        ? 'its camera as it is'
        : variationIn(camera, variationId).name;
  const parts =
    takeId === null
      ? { variationId }
      : { takes: shot.takes.map((one) => (one.id === takeId ? { ...one, variationId } : one)) };
  return { name: `${shot.name} shows ${name}`, operations: [patching(project, 'shot', shotId, parts)] };
}

function variationIn({ variations, name }: Camera, variationId: string): Variation {
  const variation = variations[variationId];
  if (!variation) throw new CoreError('unknown-entity', `${name} has no such variation any more.`);
  return variation;
}

/** A name that no other variation of a camera has. */
function freeVariationName(camera: Camera, wanted: string): string {
  const taken = new Set(Object.values(camera.variations).map(({ name }) => name));
  for (let n = 1; ; n++) {
    const tried = n === 1 ? wanted : `${wanted} ${n}`;
    if (!taken.has(tried)) return tried;
  }
}
