import type { Exposure } from '../exposure';
import type { CameraState } from './camera-state';

/** Exposure with its EV keyed over time: neutral density takes the difference up, and ISO what lies below none. */
export function exposed(exposure: Exposure, openEv100: number, ev: number, seconds: number): CameraState['exposure'] {
  const { shutterAngleDeg, hold, absorbers } = exposure;
  const keyed = !Number.isNaN(ev);
  const gain = keyed ? Math.max(0, openEv100 - ev) : 0;
  return {
    shutterAngleDeg,
    iso: gain === 0 ? exposure.iso : exposure.iso * 2 ** gain,
    ndStops: keyed ? Math.max(0, ev - openEv100) : exposure.ndStops,
    hold,
    absorbers,
    shutterSeconds: seconds,
    ev100: openEv100 - gain,
  };
}
