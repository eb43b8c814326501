import type { LightMix } from '../light';
import { LEVEL_AS_IT_IS, tintShare } from '../light';
import type { Camera, Project, Variation } from '../model';
import { isTintChannel, lightGroupOf } from '../model';
import type { CameraValues } from './channel-values';

const mixes = new WeakMap<Project['lightGroups'], LightMix>();

/** Levels of the light groups for cameras that follow the project. */
export function projectMix(lightGroups: Project['lightGroups']): LightMix {
  let mix = mixes.get(lightGroups);
  if (!mix) {
    mix = Object.fromEntries(Object.values(lightGroups).map(({ id, level }) => [id, level]));
    mixes.set(lightGroups, mix);
  }
  return mix;
}

/** The light mix in force: a variation's, the camera's own, or the project's. */
export function mixInForce(
  { lightGroups }: Pick<Project, 'lightGroups'>,
  camera: Camera,
  worn: Variation | undefined,
): LightMix {
  const common = projectMix(lightGroups);
  const own = worn?.lightMix ?? (camera.own.includes('lightMix') ? camera.lightMix : undefined);
  return own ? { ...common, ...own } : common;
}

/** The light mix in force, with the groups whose stops or tint are keyed. A variation's own mix holds: keys are the camera's as it is. */
export function mixAt(
  camera: Camera,
  worn: Variation | undefined,
  values: CameraValues,
  groups: Project['lightGroups'],
): LightMix {
  const mix = mixInForce({ lightGroups: groups }, camera, worn);
  if (!values.lights || worn?.lightMix) return mix;
  const keyed: Record<string, LightMix[string]> = { ...mix };
  for (const [channel, value] of values.lights) {
    const groupId = lightGroupOf(channel);
    const level = keyed[groupId] ?? LEVEL_AS_IT_IS;
    keyed[groupId] = isTintChannel(channel)
      ? { ...level, tint: tintShare(level.tint, value) }
      : { ...level, stops: value, on: value > DARK_STOPS };
  }
  return keyed;
}

/** A light group keyed as low as this does not burn. */
export const DARK_STOPS = -19.9;
