import type { CameraState } from '../../camera';
import type { Exposure, ExposurePart, ExposureValues, HeldExposure } from '../../exposure';
import { EXPOSURE_ENDS, setHolding, shiftEv } from '../../exposure';
import { SMALLEST_STOP } from '../../optics';

/** What of a camera an edit of its exposure changes: the settings, and the f-stop where that absorbed something. */
export interface ExposureEdit {
  readonly exposure: Partial<Exposure>;
  readonly fStop: number | undefined;
  readonly held: HeldExposure;
}

/** The parts of a camera's exposure in their own units. */
export function exposureValues({ exposure, focus }: CameraState): ExposureValues {
  return { stop: focus.fStop, shutter: exposure.shutterAngleDeg, iso: exposure.iso, nd: exposure.ndStops };
}

/** Sets one part of a camera's exposure; while EV is held the chosen absorbers take the change up. */
export function changeExposure(state: CameraState, part: ExposurePart, value: number): ExposureEdit {
  const { hold, absorbers } = state.exposure;
  const held = setHolding(exposureValues(state), part, value, hold ? absorbers : [], endsOf(state));
  return exposureEdit(state, held);
}

/** Changes a camera's EV by so many stops; the absorbers take it up. */
export function changeEv(state: CameraState, stops: number): ExposureEdit {
  return exposureEdit(state, shiftEv(exposureValues(state), stops, state.exposure.absorbers, endsOf(state)));
}

function endsOf({ lens }: CameraState) {
  return { ...EXPOSURE_ENDS, stop: [lens.kitLens?.widestStop ?? EXPOSURE_ENDS.stop[0], SMALLEST_STOP] as const };
}

function exposureEdit(state: CameraState, held: HeldExposure): ExposureEdit {
  const { stop, shutter, iso, nd } = held.values;
  return {
    exposure: { shutterAngleDeg: shutter, iso, ndStops: nd },
    fStop: stop === state.focus.fStop ? undefined : stop,
    held,
  };
}
