import { dequal } from 'dequal/lite';
import type { AllChannelValues, Camera, ChannelValues, NamedChannel } from '../model';
import type { Vector } from '../space';

/** Nothing of its own over time: the camera's settings decide. */
const AS_SET = NaN;

/** The camera's own values, in force for channels without keys. */
export function restingValues({ pose, lens, focus, rig, aim, handheld }: Camera): Record<NamedChannel, number> {
  // Written out in full: this runs for every frame of every camera, and spreading parts together costs half of it.
  const values: Record<NamedChannel, number> = {
    positionX: pose.positionM[0],
    positionY: pose.positionM[1],
    positionZ: pose.positionM[2],
    pan: pose.panDeg,
    tilt: pose.tiltDeg,
    roll: pose.rollDeg,
    rigX: 0,
    rigY: 0,
    rigZ: 0,
    rigTurn: 0,
    along: 0,
    swing: 0,
    pitch: 0,
    arm: 0,
    orbit: 0,
    radius: 0,
    height: 0,
    offsetX: 0,
    offsetY: 0,
    offsetZ: 0,
    aimX: 0,
    aimY: 0,
    aimZ: 0,
    aimAlong: 0,
    handheld: handheld.amount,
    focalLength: lens.focalLengthMm,
    shiftX: lens.shiftXMm,
    shiftY: lens.shiftYMm,
    focusDistance: focus.distanceM,
    fStop: focus.fStop,
    ev: AS_SET,
    compensation: AS_SET,
    kelvin: AS_SET,
    tint: AS_SET,
    saturation: AS_SET,
    glow: AS_SET,
    timeWarp: AS_SET,
  };
  if (aim.kind === 'point') [values.aimX, values.aimY, values.aimZ] = aim.positionM;
  if (rig.kind === 'sticks') return values;
  [values.rigX, values.rigY, values.rigZ] = rig.atM;
  values.rigTurn = rig.turnDeg;
  if (rig.kind === 'rail') values.along = rig.along;
  else if (rig.kind === 'crane') [values.swing, values.pitch, values.arm] = [rig.swingDeg, rig.pitchDeg, rig.armM];
  else if (rig.kind === 'orbit')
    [values.orbit, values.radius, values.height] = [rig.angleDeg, rig.radiusM, rig.heightM];
  else [values.offsetX, values.offsetY, values.offsetZ] = rig.offsetM;
  return values;
}

/** Parts of a camera that differ once these channels have these values at rest. */
export function restingParts(camera: Camera, values: ChannelValues): Partial<Camera> {
  const all = { ...restingValues(camera), ...values };
  const parts: Partial<Camera> = {
    pose: {
      positionM: [all.positionX, all.positionY, all.positionZ],
      panDeg: all.pan,
      tiltDeg: all.tilt,
      rollDeg: all.roll,
    },
    rig: restingRig(camera.rig, all),
    handheld: { ...camera.handheld, amount: all.handheld },
    aim: camera.aim.kind === 'point' ? { kind: 'point', positionM: [all.aimX, all.aimY, all.aimZ] } : camera.aim,
    lens: { ...camera.lens, focalLengthMm: all.focalLength, shiftXMm: all.shiftX, shiftYMm: all.shiftY },
    focus: { ...camera.focus, distanceM: all.focusDistance, fStop: all.fStop },
  };
  return Object.fromEntries(Object.entries(parts).filter(([key, part]) => !dequal(part, camera[key as keyof Camera])));
}

/** A rig with its numbers at rest. */
export function restingRig(rig: Camera['rig'], values: AllChannelValues): Camera['rig'] {
  if (rig.kind === 'sticks') return rig;
  const atM: Vector = [values.rigX, values.rigY, values.rigZ];
  const base = { atM, turnDeg: values.rigTurn };
  if (rig.kind === 'rail') return { ...rig, ...base, along: values.along };
  if (rig.kind === 'crane') {
    return { ...rig, ...base, swingDeg: values.swing, pitchDeg: values.pitch, armM: values.arm };
  }
  if (rig.kind === 'orbit') {
    return { ...rig, ...base, angleDeg: values.orbit, radiusM: values.radius, heightM: values.height };
  }
  return { ...rig, ...base, offsetM: [values.offsetX, values.offsetY, values.offsetZ] };
}
