import type { LookSettings } from '../colour';
import { settingsOf } from '../colour';
import type { Camera, LookChannel, Project, Variation } from '../model';
import type { CameraValues } from './channel-values';

/** In the place of a variation's id: the camera without any. */
export const NO_VARIATION = '';

/**
 * Which of its variations a camera is seen with; null is none. @param variationId another than it wears, as a shot or an order may name one,
 * or {@link NO_VARIATION}; what is not there any more, or null, is the one that the camera wears.
 */
export function wornId({ variations, wears }: Camera, variationId?: string | null): string | null {
  if (variationId === NO_VARIATION) return null;
  if (variationId != null && variations[variationId]) return variationId;
  return wears !== null && variations[wears] ? wears : null;
}

/** The variation that a camera is seen with: see {@link wornId}. */
export function wornVariation(camera: Camera, variationId?: string | null): Variation | undefined {
  const id = wornId(camera, variationId);
  return id === null ? undefined : camera.variations[id];
}

/** The look a camera wears, by its id; null where it is one that leaves everything as it is. */
export function lookIdOf({ head }: Pick<Project, 'head'>, camera: Camera, worn: Variation | undefined): string | null {
  return worn?.lookId ?? (camera.own.includes('look') ? camera.lookId : head.lookId);
}

/** The look in force, with what of it is keyed. A variation's own look holds: keys are the camera's as it is. */
export function lookAt(
  camera: Camera,
  worn: Variation | undefined,
  values: CameraValues,
  project: Pick<Project, 'head' | 'looks'>,
): LookSettings {
  const look = settingsOf(project.looks[lookIdOf(project, camera, worn) ?? '']);
  if (worn?.lookId != null) return look;
  const { compensation, kelvin, tint, saturation, glow } = values;
  // Written out: this runs for every frame of every camera.
  const rests =
    Number.isNaN(compensation) &&
    Number.isNaN(kelvin) &&
    Number.isNaN(tint) &&
    Number.isNaN(saturation) &&
    Number.isNaN(glow);
  if (rests) return look;
  const keyed = (value: number, own: number) => (Number.isNaN(value) ? own : value);
  return {
    ...look,
    compensationStops: keyed(compensation, look.compensationStops),
    white: { kelvin: keyed(kelvin, look.white.kelvin), tint: keyed(tint, look.white.tint) },
    cdl: { ...look.cdl, saturation: keyed(saturation, look.cdl.saturation) },
    glow: { ...look.glow, amount: keyed(glow, look.glow.amount) },
  };
}

/** What a look has of a channel, in the channel's unit. */
export function lookValue({ compensationStops, white, cdl, glow }: LookSettings, channel: LookChannel): number {
  switch (channel) {
    case 'compensation':
      return compensationStops;
    case 'kelvin':
      return white.kelvin;
    case 'tint':
      return white.tint;
    case 'saturation':
      return cdl.saturation;
    case 'glow':
      return glow.amount;
  }
}
