import type { Exposure } from '../exposure';
import { ISO_RANGE, MOST_ND_STOPS } from '../exposure';
import type { CameraState } from './camera-state';

/**
 * Exposure with its EV keyed over time: neutral density takes the difference up, and ISO what lies below none, each as far as it
 * goes. `missedStops` says how much darker (below 0: brighter) than asked that leaves the picture.
 */
export function exposed(exposure: Exposure, openEv100: number, ev: number, seconds: number): CameraState['exposure'] {
  const { shutterAngleDeg, hold, absorbers } = exposure;
  const keyed = !Number.isNaN(ev);
  const wanted = keyed ? openEv100 - ev : 0;
  const gain = Math.min(Math.max(0, wanted), Math.log2(ISO_RANGE.max / exposure.iso));
  const ndStops = keyed ? Math.min(Math.max(0, -wanted), MOST_ND_STOPS) : exposure.ndStops;
  return {
    shutterAngleDeg,
    iso: gain === 0 ? exposure.iso : exposure.iso * 2 ** gain,
    ndStops,
    hold,
    absorbers,
    shutterSeconds: seconds,
    ev100: openEv100 - gain,
    missedStops: keyed ? wanted - gain + ndStops : 0,
  };
}
