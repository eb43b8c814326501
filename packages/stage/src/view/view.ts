import type { CameraState, FilmWindow, Iris, LightMix, LookSettings, ProjectedLens, ProjectedPose } from '@arvex/core';
import {
  breathingFocalLengthMm,
  cameraToWorld,
  deliveredWindow,
  filmBackWindow,
  idealWindow,
  projectedLens,
  projectionMatrix,
} from '@arvex/core';
import type { Camera } from 'three';
import type { Rendering } from './rendering';

/** The opening through which a picture is taken: what gives it depth of field. */
interface Aperture {
  /** Diameter of the entrance pupil, metres. */
  readonly diameterM: number;
  /** Distance of the plane that is sharp, along the axis, metres. */
  readonly focusM: number;
  readonly iris: Iris;
  /** Anamorphic squeeze: the pupil is so many times narrower than it is high. */
  readonly squeeze: number;
}

/** How a picture is shown: as it is, in false colours by stops, or with stripes where it clips. */
export type Display =
  | { readonly kind: 'picture' }
  | { readonly kind: 'stops' }
  /** `level` is the picture value from which stripes are drawn; 1 clips. */
  | { readonly kind: 'zebra'; readonly level: number };

/** Limits within which the picture is marked as sharp, metres along the axis. */
interface SharpBand {
  readonly nearM: number;
  readonly farM: number;
}

/** Where the camera is, and when it is, at one moment while the shutter is open. */
export interface ShutterMoment {
  readonly pose: ProjectedPose;
  readonly lens: ProjectedLens;
  readonly atFlicks: number;
}

/** A colour of so much weight, sRGB as six hexadecimal digits. */
export interface MixedColour {
  readonly hex: string;
  readonly weight: number;
}

/** What a picture is mixed with, in linear light: its own weight, other pictures, a colour. All weights come to 1. */
interface Mixture {
  readonly weight: number;
  readonly others: readonly { readonly view: StageView; readonly weight: number }[];
  readonly colour: MixedColour | undefined;
}

/** Everything that decides a picture of the set beside the set itself. */
export interface StageView {
  readonly pose: ProjectedPose;
  readonly lens: ProjectedLens;
  /** Part of the film plane that fills the picture. */
  readonly window: FilmWindow;
  /** EV100 behind which the set is seen, neutral density added. */
  readonly ev: number;
  /** Scene time at which subjects are seen, flicks. */
  readonly atFlicks: number;
  /** Level of light groups; a group that is not named is as it is. */
  readonly lightMix: LightMix;
  /** Without the sky the picture is transparent where nothing stands. */
  readonly sky: boolean;
  /** Without one everything is sharp. */
  readonly aperture: Aperture | undefined;
  /** What becomes of the light. */
  readonly look: LookSettings;
  /** The delivered frame on the film plane: what glows lies in it, and sizes of a look are shares of its width. */
  readonly frame: FilmWindow;
  /** Darkening of the film back's corners, stops, and how far they are from the axis, mm. */
  readonly edge: { readonly stops: number; readonly cornerMm: number };
  readonly display: Display;
  readonly sharp: SharpBand | undefined;
  /** Half the film back's width and height, mm, where the picture asks for more: what lies beyond it is black. */
  readonly bars: { readonly halfWidthMm: number; readonly halfHeightMm: number } | undefined;
  /** Moments over which the shutter is open, evenly spaced; none gives no motion blur. */
  readonly shutter: readonly ShutterMoment[];
  /** Of a picture that leaves the building; as at work without. */
  readonly rendering?: Rendering;
  /** In a dissolve or a fade. What is measured of a view is measured without it. */
  readonly mix?: Mixture;
}

const PLAIN: Display = { kind: 'picture' };

/** What a camera sees at a scene time, by default exactly what is delivered: black where that goes beyond the film back. */
export function viewOf(
  state: CameraState,
  atFlicks: number,
  window?: FilmWindow,
  how: Partial<Pick<StageView, 'sky' | 'display' | 'sharp' | 'aperture'>> = {},
): StageView {
  const pose = { positionM: state.positionM, quaternion: state.quaternion };
  const ev = state.exposure.ev100 + state.exposure.ndStops;
  const back = filmBackWindow(state);
  const frame = deliveredWindow(state);
  return {
    pose,
    lens: projectedLens(state),
    window: window ?? frame,
    ev,
    atFlicks,
    lightMix: state.lightMix,
    look: state.look,
    frame,
    sky: how.sky ?? true,
    aperture: 'aperture' in how ? how.aperture : apertureOf(state),
    edge: { stops: state.lens.edgeStops, cornerMm: Math.hypot(back.rightMm, back.topMm) },
    display: how.display ?? PLAIN,
    sharp: how.sharp,
    bars: window === undefined && isPadded(state) ? { halfWidthMm: back.rightMm, halfHeightMm: back.topMm } : undefined,
    shutter: [],
  };
}

/** Padding thinner than this is none, mm. */
const SEEN_MM = 1e-6;

/** Whether the delivered frame asks for more than the film back has. */
function isPadded({ framing: { used } }: CameraState): boolean {
  return used.cropXMm < -SEEN_MM || used.cropYMm < -SEEN_MM;
}

/**
 * The opening of a camera's lens; parallel sight has none. The film stands behind a thin lens at f d / (d − f), and blurs
 * are as large as that makes them even where the picture itself does not breathe.
 */
function apertureOf({ focus, lens, filmBack }: CameraState): Aperture | undefined {
  if (lens.parallelWidthM !== null || !Number.isFinite(focus.distanceM)) return undefined;
  const { apertureMm, distanceM: focusM } = focus;
  const extended = breathingFocalLengthMm(lens.focalLengthMm, focusM * 1000) / lens.actingMm;
  return { diameterM: (apertureMm / 1000) * extended, focusM, iris: lens.iris, squeeze: filmBack.squeeze };
}

/** Gives a three.js camera the matrices of a view. There is no other place where a picture's projection is made. */
export function aim(camera: Camera, { pose, lens, window }: Pick<StageView, 'pose' | 'lens' | 'window'>): void {
  camera.matrixAutoUpdate = false;
  camera.matrixWorldAutoUpdate = false;
  camera.matrix.copy(cameraToWorld(pose));
  camera.matrixWorld.copy(camera.matrix);
  camera.matrixWorldInverse.copy(camera.matrixWorld).invert();
  camera.projectionMatrix.copy(projectionMatrix(lens, window));
  camera.projectionMatrixInverse.copy(camera.projectionMatrix).invert();
}

/** The view as it is drawn before distortion bends it: through the larger window that holds all of it. */
export function idealView(view: StageView): StageView {
  return view.lens.k1 === 0 ? view : { ...view, window: idealWindow(view.lens, view.window) };
}

/** The same view seen through a window that lies `x`, `y` pixels to the right and up, for samples within a pixel. */
export function offsetByPixels(view: StageView, x: number, y: number, widthPx: number, heightPx: number): StageView {
  const { leftMm, rightMm, bottomMm, topMm } = view.window;
  return shiftedWindow(view, (x * (rightMm - leftMm)) / widthPx, (y * (topMm - bottomMm)) / heightPx);
}

/**
 * The same view from a point of the aperture, `x` to the right and `y` up from the axis (metres): the eye moves there and
 * the window the other way, so that the plane in focus stays where it is (a sheared frustum).
 */
export function throughAperture(view: StageView, focusM: number, x: number, y: number): StageView {
  const { pose, lens } = view;
  const [qx, qy, qz, qw] = pose.quaternion;
  const right = [1 - 2 * (qy * qy + qz * qz), 2 * (qx * qy + qz * qw), 2 * (qx * qz - qy * qw)] as const;
  const up = [2 * (qx * qy - qz * qw), 1 - 2 * (qx * qx + qz * qz), 2 * (qy * qz + qx * qw)] as const;
  const moved = pose.positionM.map((value, i) => value + x * (right[i] ?? 0) + y * (up[i] ?? 0));
  if (lens.parallelMPerMm !== null)
    return { ...view, pose: { ...pose, positionM: moved as unknown as StageView['pose']['positionM'] } };
  const perMetre = lens.focalLengthMm / focusM;
  const seen = { ...view, pose: { ...pose, positionM: moved as unknown as StageView['pose']['positionM'] } };
  return shiftedWindow(seen, -x * perMetre, -y * perMetre);
}

function shiftedWindow(view: StageView, dx: number, dy: number): StageView {
  const { leftMm, rightMm, bottomMm, topMm } = view.window;
  const window = { leftMm: leftMm + dx, rightMm: rightMm + dx, bottomMm: bottomMm + dy, topMm: topMm + dy };
  return { ...view, window };
}
