import { CoreError } from '../core-error';
import type { Exposure } from '../exposure';
import { ev100, shutterSeconds } from '../exposure';
import { flicksFromSeconds } from '../time/rate';
import type { Guides } from '../framing/guides';
import type { LightMix } from '../light/light-mix';
import type { Delivery, DeliveryFit, FilmBack, Fit, Iris, KitLens } from '../optics';
import { LEVEL_AS_IT_IS } from '../light/light-mix';
import { angleOfViewDeg, breathingFocalLengthMm, distortionK1, fitDelivery, unsqueezedWidthMm } from '../optics';
import type { Camera, Move, Project } from '../project';
import { kitLensOf, moveOf } from '../project';
import type { AllChannelValues, Channel, ChannelValues, LightChannel, NamedChannel } from './channel';
import { isLightChannel, lightGroupOf } from './channel';
import type { AfterLast, CurveReader } from './curve';
import { readerOf } from './curve';
import { straying } from './handheld';
import { aimed } from './resolve-aim';
import type { ResolvedFocus } from './resolve-focus';
import { resolveFocus } from './resolve-focus';
import { carriedBy, headAngles } from './resolve-rig';
import type { HeadAngles, Rotation, Vector } from './rotation';
import { rotationOf, turned } from './rotation';

/** A camera at one time with everything resolved. The picture, plan, read-outs, checks and exports read only this. */
export interface CameraState {
  readonly cameraId: string;
  readonly positionM: Vector;
  /** Unwrapped degrees. */
  readonly panDeg: number;
  readonly tiltDeg: number;
  readonly rollDeg: number;
  readonly quaternion: Rotation;
  /** How what carries the head is turned. */
  readonly carrier: HeadAngles;
  /** The point it is aimed at, when it is. */
  readonly aimM: Vector | undefined;
  readonly filmBack: FilmBack;
  readonly lens: {
    readonly focalLengthMm: number;
    /** What acts at this focus distance; the focal length itself unless the lens breathes. */
    readonly actingMm: number;
    readonly shiftXMm: number;
    readonly shiftYMm: number;
    readonly horizontalDeg: number;
    readonly verticalDeg: number;
    readonly diagonalDeg: number;
    /** Radial distortion on coordinates x = X/Z. */
    readonly k1: number;
    readonly edgeStops: number;
    readonly parallelWidthM: number | null;
    readonly iris: Iris;
    /** The lens of a kit that it is. */
    readonly kitLens: KitLens | undefined;
  };
  readonly focus: ResolvedFocus;
  readonly exposure: Exposure & {
    readonly shutterSeconds: number;
    /** At ISO 100, without neutral density; from the T-stop where the lens has one. */
    readonly ev100: number;
  };
  readonly framing: {
    readonly delivery: Delivery;
    readonly fit: Fit;
    readonly used: DeliveryFit;
    readonly subjectId: string | null;
  };
  readonly guides: Guides;
  readonly clip: { readonly nearM: number; readonly farM: number };
  /** Level of every light group as this camera sees it. */
  readonly lightMix: LightMix;
}

/** What of a project decides how its cameras are. */
export type CameraSurroundings = Pick<Project, 'head' | 'lightGroups' | 'lensKits' | 'placements' | 'assets'>;

/**
 * Where a camera is and how it is set at a time: the one function that says so.
 * @param atFlicks scene time in flicks; before the first and after the last key the camera rests there.
 * @param trial channel values tried out but not kept; they win over the move.
 * @throws CoreError `unknown-entity` when the project has no such camera.
 */
export function cameraAt(project: Project, cameraId: string, atFlicks: number, trial?: ChannelValues): CameraState {
  const camera = project.cameras[cameraId];
  if (!camera) throw new CoreError('unknown-entity', `There is no camera ${cameraId} in this project.`, 'cameraId');
  const values = channelValuesAt(camera, moveOf(project, cameraId), atFlicks, trial);
  return resolveCamera(camera, values, project, atFlicks);
}

/** Values of the named channels and of light channels; `lights` lists the latter by group, where there are any. */
export type CameraValues = AllChannelValues &
  Readonly<Partial<Record<LightChannel, number>>> & { readonly lights?: readonly (readonly [string, number])[] };

/** Value of every channel of a camera at a time: the trial's, else the move's, else the camera's own. */
export function channelValuesAt(
  camera: Camera,
  move: Move | undefined,
  atFlicks: number,
  trial?: ChannelValues,
): CameraValues {
  const values: Partial<Record<Channel, number>> & { lights?: (readonly [string, number])[] } = restingValues(camera);
  if (move) {
    const { moveTime, tracks } = tracksOf(move);
    const clock = trial?.moveTime ?? moveTime?.at(atFlicks);
    const flicks = clock === undefined ? atFlicks : flicksFromSeconds(clock);
    for (const { channel, reader, after, light } of tracks) {
      const value = reader.onward(after, flicks);
      if (value === undefined) continue;
      if (light) set(values, channel, value);
      else values[channel] = value;
    }
    if (clock !== undefined) values.moveTime = clock;
  }
  if (trial) {
    for (const channel in trial) {
      const value = trial[channel as Channel];
      if (value !== undefined) set(values, channel as Channel, value);
    }
  }
  return values as CameraValues;
}

function set(
  values: Partial<Record<Channel, number>> & { lights?: (readonly [string, number])[] },
  channel: Channel,
  value: number,
): void {
  values[channel] = value;
  if (isLightChannel(channel)) {
    const groupId = lightGroupOf(channel);
    values.lights = [...(values.lights ?? []).filter(([id]) => id !== groupId), [groupId, value]];
  }
}

interface MoveTracks {
  readonly moveTime: CurveReader | undefined;
  readonly tracks: readonly {
    readonly channel: Channel;
    readonly reader: CurveReader;
    readonly after: AfterLast;
    readonly light: boolean;
  }[];
}

const knownTracks = new WeakMap<Move, MoveTracks>();

/** The curves of a move as they are read for every frame, sorted out once. */
function tracksOf(move: Move): MoveTracks {
  let found = knownTracks.get(move);
  if (!found) {
    const { moveTime, ...curves } = move.curves;
    const tracks = Object.entries(curves).map(([name, curve]) => {
      const channel = name as Channel;
      const after = move.after[name] ?? 'stay';
      return { channel, reader: readerOf(curve), after, light: isLightChannel(channel) };
    });
    found = { moveTime: moveTime && readerOf(moveTime), tracks };
    knownTracks.set(move, found);
  }
  return found;
}

/** No exposure of its own over time: the camera's settings decide. */
const AS_SET = NaN;

/** The camera's own values, in force for channels without keys. */
function restingValues({ pose, lens, focus, rig, aim, handheld }: Camera): Record<NamedChannel, number> {
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
    moveTime: AS_SET,
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

/** A camera's settings and the values of its channels, resolved against its project at a scene time. */
export function resolveCamera(
  camera: Camera,
  values: CameraValues,
  project: CameraSurroundings,
  atFlicks: number,
): CameraState {
  const { filmBack, own } = camera;
  const { head } = project;
  const carried = carriedBy(camera.rig, values, project, atFlicks);
  const turnedTo = headAngles(
    camera.rig,
    { panDeg: values.pan, tiltDeg: values.tilt, rollDeg: values.roll },
    carried.turn,
  );
  const { angles: steady, aimM } = aimed(camera.aim, carried.positionM, turnedTo, values, project, atFlicks);
  const { positionM, angles, quaternion } = held(camera, carried.positionM, steady, values, atFlicks);
  const delivery = own.includes('delivery') ? camera.framing.delivery : head.delivery;
  const used = fitDelivery(filmBack, delivery, camera.framing.fit);
  const kitLens = kitLensOf(project, camera.lens.lensId);
  const pose = { positionM, quaternion };
  const pixelMm = used.widthMm / delivery.widthPx;
  const focus = resolveFocus(camera, values, { pose, kitLens, pixelMm }, project, atFlicks);
  const exposure = own.includes('exposure') ? camera.exposure : head.exposure;
  const seconds = shutterSeconds(exposure.shutterAngleDeg, head.rate);
  const openEv100 = ev100({ stop: focus.tStop ?? focus.fStop, shutterSeconds: seconds, iso: exposure.iso });
  return {
    cameraId: camera.id,
    positionM,
    panDeg: angles.panDeg,
    tiltDeg: angles.tiltDeg,
    rollDeg: angles.rollDeg,
    quaternion,
    carrier: carried.turn,
    aimM,
    filmBack,
    lens: resolveLens(camera, values, focus.distanceM, kitLens),
    focus,
    exposure: exposed(exposure, openEv100, values.ev, seconds),
    framing: { delivery, fit: camera.framing.fit, used, subjectId: camera.framing.subjectId },
    guides: own.includes('guides') ? camera.guides : head.guides,
    clip: camera.clip,
    lightMix: mixAt(camera, values, project.lightGroups),
  };
}

/** The camera with the hand that holds it: it strays along its own axes, and its head turns. */
function held({ handheld }: Camera, positionM: Vector, steady: HeadAngles, values: CameraValues, atFlicks: number) {
  const hand = straying(handheld, values.handheld, atFlicks);
  if (!hand) return { positionM, angles: steady, quaternion: rotationOf(steady) };
  const [dx, dy, dz] = turned(hand.moveM, rotationOf(steady));
  const angles: HeadAngles = {
    panDeg: steady.panDeg + hand.turn.panDeg,
    tiltDeg: steady.tiltDeg + hand.turn.tiltDeg,
    rollDeg: steady.rollDeg + hand.turn.rollDeg,
  };
  const at: Vector = [positionM[0] + dx, positionM[1] + dy, positionM[2] + dz];
  return { positionM: at, angles, quaternion: rotationOf(angles) };
}

/** Exposure with its EV keyed over time: neutral density takes the difference up, and ISO what lies below none. */
function exposed(exposure: Exposure, openEv100: number, ev: number, seconds: number): CameraState['exposure'] {
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

/** The light mix in force, with the groups whose stops are keyed. */
function mixAt(camera: Camera, values: CameraValues, groups: Project['lightGroups']): LightMix {
  const common = projectMix(groups);
  const mix = camera.own.includes('lightMix') ? { ...common, ...camera.lightMix } : common;
  if (!values.lights) return mix;
  const keyed: Record<string, LightMix[string]> = { ...mix };
  for (const [groupId, stops] of values.lights) {
    keyed[groupId] = { ...(mix[groupId] ?? LEVEL_AS_IT_IS), stops, on: stops > DARK_STOPS };
  }
  return keyed;
}

/** A light group keyed as low as this does not burn. */
export const DARK_STOPS = -19.9;

function resolveLens(
  { lens, filmBack }: Camera,
  { focalLength: focalLengthMm, shiftX, shiftY }: CameraValues,
  focusM: number,
  kitLens: KitLens | undefined,
): CameraState['lens'] {
  const actingMm = lens.breathing ? breathingFocalLengthMm(focalLengthMm, focusM * 1000) : focalLengthMm;
  const corner = Math.hypot(unsqueezedWidthMm(filmBack), filmBack.heightMm) / 2;
  return {
    focalLengthMm,
    actingMm,
    shiftXMm: shiftX,
    shiftYMm: shiftY,
    horizontalDeg: angleOfViewDeg(actingMm, filmBack, 'horizontal'),
    verticalDeg: angleOfViewDeg(actingMm, filmBack, 'vertical'),
    diagonalDeg: angleOfViewDeg(actingMm, filmBack, 'diagonal'),
    k1: lens.distortionPercent === 0 ? 0 : distortionK1(lens.distortionPercent, corner / actingMm),
    edgeStops: lens.edgeStops,
    parallelWidthM: lens.parallelWidthM,
    iris: { blades: lens.blades, roundness: lens.roundness, rotationDeg: lens.irisDeg },
    kitLens,
  };
}
