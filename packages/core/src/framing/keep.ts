import type { CameraState } from '../camera';
import { distanceAlongAxis } from '../camera';
import type { FilmBack } from '../optics';
import { breathingFocalLengthMm, fitDelivery } from '../optics';
import type { Vector } from '../space';
import { turned } from '../space';

/**
 * Where a camera has to stand to keep a subject as large in the frame with another lens or film back: on its axis, at
 * `z' = z·(f'/f)·(h/h')` from the subject, h being the height of what is used of the film back, f what acts. A lens that is focused
 * on the subject itself breathes alike at both places.
 */
export function positionKeepingSize(
  state: CameraState,
  subjectM: Vector,
  to: { readonly focalLengthMm: number; readonly filmBack: FilmBack },
): Vector {
  const { delivery, fit, used } = state.framing;
  const next = fitDelivery(to.filmBack, delivery, fit);
  const z = distanceAlongAxis(state, subjectM);
  const { focalLengthMm, actingMm } = state.lens;
  const breathes = actingMm !== focalLengthMm && state.focus.drivenBy !== 'follow';
  const acting = (mm: number) => (breathes ? breathingFocalLengthMm(mm, state.focus.distanceM * 1000) : mm);
  const ratio = (acting(to.focalLengthMm) / acting(focalLengthMm)) * (used.heightMm / next.heightMm);
  const [dx, dy, dz] = turned([0, 0, z * ratio - z], state.quaternion);
  const [fromX, fromY, fromZ] = state.positionM;
  return [fromX + dx, fromY + dy, fromZ + dz];
}

/**
 * The same picture middle with a level camera: the tilt becomes shift, so that uprights stay upright. A camera tilted by θ
 * is levelled and shifted up by f·tan θ. `undefined` when it is tilted too far for any lens (60° or more), or rolled.
 */
export function keepVerticals(state: CameraState): { readonly tiltDeg: 0; readonly shiftYMm: number } | undefined {
  if (Math.abs(state.tiltDeg) >= 60 || Math.abs(state.rollDeg) > 1e-6) return undefined;
  // What is in the middle now lies at the tilt plus the angle that the present shift looks up by.
  const up = Math.atan(state.lens.shiftYMm / state.lens.actingMm) + (state.tiltDeg * Math.PI) / 180;
  if (Math.abs(up) > Math.PI / 3) return undefined;
  return { tiltDeg: 0, shiftYMm: state.lens.actingMm * Math.tan(up) };
}

/** Distance of the farthest delivered point from the lens's axis, mm on the film as it lies there: shift counts. */
export function farthestUsedMm({ framing, filmBack, lens }: CameraState): number {
  const halfWidth = framing.used.widthMm / filmBack.squeeze / 2 + Math.abs(lens.shiftXMm);
  return Math.hypot(halfWidth, framing.used.heightMm / 2 + Math.abs(lens.shiftYMm));
}
