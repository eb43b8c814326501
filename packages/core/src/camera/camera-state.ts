import type { LookSettings } from '../colour';
import type { Exposure } from '../exposure';
import type { LightMix } from '../light';
import type { Guides } from '../model';
import type { Delivery, DeliveryFit, FilmBack, Fit, Iris, KitLens } from '../optics';
import type { HeadAngles, Rotation, Vector } from '../space';
import type { ResolvedFocus } from './resolve-focus';

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
    /** Stops by which the picture is darker than its keyed EV asks, as ISO and neutral density have ends; 0 where it is as asked. */
    readonly missedStops: number;
  };
  readonly framing: {
    readonly delivery: Delivery;
    readonly fit: Fit;
    readonly used: DeliveryFit;
    readonly subjectId: string | null;
  };
  readonly guides: Guides;
  readonly clip: { readonly nearM: number; readonly farM: number };
  /** What becomes of the light that it takes. */
  readonly look: LookSettings;
  /** Level of every light group as this camera sees it. */
  readonly lightMix: LightMix;
}
