import type { CameraState } from '../camera';
import { cameraAt } from '../camera';
import { chosenSubject } from '../framing';
import type { CameraPart, Project } from '../model';
import { deliveryAspect, filmBackName } from '../optics';
import type { DisplayUnit } from '../units';
import { lengthText } from '../units';
import { sceneEv } from '../exposure';

/** One setting of a camera in words. */
export interface CameraFact {
  readonly part: CameraPart;
  readonly label: string;
  readonly text: string;
}

/**
 * Every setting of a camera at a scene time, line by line, for comparing and for reports.
 * @param variationId the variation it is seen with; the one that it wears when left out.
 */
export function cameraFacts(
  project: Project,
  cameraId: string,
  atFlicks: number,
  variationId?: string | null,
): CameraFact[] {
  const state = cameraAt(project, cameraId, atFlicks, undefined, variationId);
  const unit = project.head.displayUnit;
  return [
    ...backFacts(state),
    ...lensFacts(state),
    ...exposureFacts(state),
    ...focusFacts(project, state, unit),
    ...framingFacts(project, state, atFlicks),
    ...guideFacts(state),
    ...lightFacts(project, state),
    ...placeFacts(state, unit),
  ];
}

const fact = (part: CameraPart, label: string, text: string): CameraFact => ({ part, label, text });

const mm = (value: number, decimals = 2): string => `${Number(value.toFixed(decimals))} mm`;

const degrees = (value: number): string => `${value.toFixed(1)}°`;

function backFacts({ filmBack }: CameraState): CameraFact[] {
  return [
    fact('back', 'Format', filmBackName(filmBack)),
    fact('back', 'Size', `${filmBack.widthMm} × ${filmBack.heightMm} mm`),
    fact('back', 'Squeeze', `${filmBack.squeeze}×`),
  ];
}

function lensFacts({ lens }: CameraState): CameraFact[] {
  return [
    fact('lens', 'Lens', lens.kitLens?.name ?? 'none of the kit'),
    fact('lens', 'Focal length', mm(lens.focalLengthMm)),
    fact(
      'lens',
      'Angle across, upright',
      lens.parallelWidthM === null ? `${degrees(lens.horizontalDeg)}, ${degrees(lens.verticalDeg)}` : 'none',
    ),
    fact('lens', 'Shift right, up', `${mm(lens.shiftXMm)}, ${mm(lens.shiftYMm)}`),
    fact('lens', 'Edge darkening', `${lens.edgeStops.toFixed(1)} stops`),
    fact('lens', 'Sight', lens.parallelWidthM === null ? 'perspective' : `parallel, ${lens.parallelWidthM} m wide`),
    fact(
      'lens',
      'Iris',
      lens.iris.blades === 0 ? 'round' : `${lens.iris.blades} blades, ${degrees(lens.iris.rotationDeg)}`,
    ),
  ];
}

function exposureFacts({ exposure, focus }: CameraState): CameraFact[] {
  const stop = `ƒ${Number(focus.fStop.toFixed(1))}`;
  return [
    fact('exposure', 'f-stop', focus.tStop === null ? stop : `${stop} (T${Number(focus.tStop.toFixed(1))})`),
    fact(
      'exposure',
      'Shutter',
      `${degrees(exposure.shutterAngleDeg)}, 1/${(1 / exposure.shutterSeconds).toFixed(0)} s`,
    ),
    fact('exposure', 'ISO', String(Math.round(exposure.iso))),
    fact('exposure', 'ND', `${exposure.ndStops.toFixed(1)} stops`),
    fact('exposure', 'EV', sceneEv(exposure).toFixed(1)),
  ];
}

function focusFacts(project: Project, { focus }: CameraState, unit: DisplayUnit): CameraFact[] {
  const subject = focus.subjectId === null ? undefined : project.placements[focus.subjectId];
  const driver = focus.drivenBy === 'follow' ? `follows ${subject?.name ?? '?'}` : focus.drivenBy;
  return [
    fact('focus', 'Driven by', driver),
    fact('focus', 'Distance', lengthText(focus.distanceM, unit)),
    fact('focus', 'Sharp', `${lengthText(focus.nearM, unit)} to ${lengthText(focus.farM, unit)}`),
    fact('focus', 'Blur limit', mm(focus.blurLimitMm, 4)),
  ];
}

function framingFacts(project: Project, state: CameraState, atFlicks: number): CameraFact[] {
  const { delivery, fit } = state.framing;
  const subject = chosenSubject(project, state, atFlicks);
  return [
    fact('framing', 'Delivery', `${delivery.widthPx} × ${delivery.heightPx}, ${deliveryAspect(delivery).toFixed(2)}`),
    fact('framing', 'Fit', fit.replace('-', ' ')),
    fact('framing', 'Shot size', subject ? `${subject.size} on ${subject.placement.name}` : 'nobody in frame'),
  ];
}

function guideFacts({ guides }: CameraState): CameraFact[] {
  const shown = [
    ...guides.aspects.map(({ aspect }) => aspect.toFixed(2)),
    ...guides.divisions,
    ...(guides.safe === 'none' ? [] : ['safe areas']),
    ...(guides.diagonals ? ['diagonals'] : []),
    ...(guides.cross ? ['cross'] : []),
    ...(guides.level ? ['level'] : []),
  ];
  return [fact('guides', 'Guides', shown.join(', ') || 'none')];
}

function lightFacts(project: Project, { lightMix }: CameraState): CameraFact[] {
  return Object.values(project.lightGroups).map(({ id, name }) => {
    const level = lightMix[id];
    const stops = level?.stops ?? 0;
    return fact('light', name, level?.on === false ? 'off' : `${stops > 0 ? '+' : ''}${stops.toFixed(1)} stops`);
  });
}

function placeFacts(state: CameraState, unit: DisplayUnit): CameraFact[] {
  const { positionM, panDeg, tiltDeg, rollDeg } = state;
  return [
    fact('place', 'Place', positionM.map((value) => lengthText(value, unit)).join(', ')),
    fact('place', 'Pan, tilt, roll', [panDeg, tiltDeg, rollDeg].map(degrees).join(', ')),
  ];
}
