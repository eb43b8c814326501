import { CoreError } from '../error';
import type { Rate } from '../time';
import { framesPerSecond } from '../time';

/** Settings that decide how much light a frame gets. */
export interface ExposureSettings {
  /** f-stop, or T-stop where the lens has one. */
  readonly stop: number;
  readonly shutterSeconds: number;
  readonly iso: number;
}

/** Saturation constant of ISO 12232 (q = 0.65): luminance that clips is this times 2^EV100, cd/m². */
export const SATURATION_LUMINANCE = 1.2;

/** Exposure time in seconds of a shutter angle in degrees: 180° at 24/s is 1/48 s. */
export function shutterSeconds(angleDeg: number, rate: Rate): number {
  return angleDeg / (360 * framesPerSecond(rate));
}

/** When a shutter that is open for so long opens, seconds from its frame's time: at it, or half of that before it. */
export function shutterOpensS(seconds: number, opens: 'at-frame' | 'centred'): number {
  return opens === 'centred' ? -seconds / 2 : 0;
}

/** Exposure value at ISO 100 of these settings, without neutral density: N 16, 1/125 s, ISO 100 is 14.9658. */
export function ev100(settings: ExposureSettings): number {
  return Math.log2(settings.stop ** 2 / settings.shutterSeconds) - Math.log2(settings.iso / 100);
}

/**
 * EV of the scene that is exposed for: at ISO 100, neutral density counted in. The one EV that is shown, written and compared anywhere;
 * `ev100` is that of the settings behind the filters.
 */
export function sceneEv({ ev100: behind, ndStops }: { readonly ev100: number; readonly ndStops: number }): number {
  return behind + ndStops;
}

/** ISO that gives `ev` with this stop and shutter. */
export function isoForEv(ev: number, stop: number, shutter: number): number {
  return (100 * stop ** 2) / (shutter * 2 ** ev);
}

/** Luminance in cd/m² that just clips at `ev100` behind `ndStops` of neutral density (ISO 12232). */
export function clippingLuminance(ev: number, ndStops: number): number {
  return SATURATION_LUMINANCE * 2 ** (ev + ndStops);
}

/**
 * Shutter angle that gives an exposure time at a frame rate: 1/48 s at 24/s is 180°.
 * @throws CoreError `out-of-range` when the shutter would be open longer than a frame lasts.
 */
export function angleForShutter(seconds: number, rate: Rate): number {
  const whole = shutterSeconds(360, rate);
  if (!(seconds > 0 && seconds <= whole + 1e-9)) {
    const most = (1 / framesPerSecond(rate)).toFixed(4);
    throw new CoreError('out-of-range', `At this rate a frame lasts ${most} s; no shutter is open longer.`);
  }
  return Number(((360 * seconds) / whole).toPrecision(10));
}
