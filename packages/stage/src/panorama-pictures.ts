import type { FaceAxes, LookSettings, PanoramaLayout, Vector } from '@arvex/core';
import { CUBE_FACES, eyeOffsetM, FACE_AXES, panoramaDirection } from '@arvex/core';
import type { WebGLRenderer } from 'three';
import { Matrix4, Quaternion, Vector3 } from 'three';
import type { RoundPicture, Tile } from './asked-picture';
import type { Painter, PixelSize, SampleDrawing } from './painter';
import type { LookDrawing } from './passes';
import { PanoramaMap, SampleAccumulator } from './passes';
import type { StageView } from './view';
import { samplePlace } from './view';

/**
 * Two eyes see round in slices of this width, radians: two degrees, in which the way between them hardly turns. From one to the next an
 * eye goes on by a millimetre.
 */
const SLICE_RAD = Math.PI / 90;
/** Places along each side of a tile at which is looked which directions it has. */
const PROBES = 48;
/** A flat picture is so much finer than the panorama that is taken from it. */
const FINER = 1.25;
/** A little more than what is asked for, so that it can be looked up between pixels: pixels. */
const MARGIN_PX = 2;
const FOCAL_MM = 10;
const WHOLE_TURN = [-Math.PI, Math.PI + 1e-6] as const;

interface Asked {
  readonly size: PixelSize;
  readonly tile: Tile;
  readonly samples: number;
  readonly how: SampleDrawing;
}

/** How one eye looks round. */
interface Looking {
  readonly heading: number;
  readonly round: RoundPicture;
  /** How far it is to the right of the middle between both, metres. */
  readonly offset: number;
  readonly turned: number;
  readonly slices: readonly Slice[];
}

/** A flat picture that a tile needs: its axes and the part of its plane at distance 1. */
interface Flat {
  readonly axes: FaceAxes;
  readonly window: readonly [left: number, bottom: number, right: number, top: number];
  readonly size: PixelSize;
}

/** Takes pictures all round a camera: flat ones of all directions that a tile has, laid into it. Everything in them is sharp. */
export class PanoramaPictures {
  private readonly flat: SampleAccumulator;
  private readonly map: PanoramaMap;

  constructor(
    private readonly renderer: WebGLRenderer,
    private readonly painter: Painter,
    looks: LookDrawing,
  ) {
    this.flat = new SampleAccumulator(looks);
    this.map = new PanoramaMap(this.flat.texture);
  }

  /** Takes the samples of a tile. @returns the view by which they are developed: nothing bends it any more. */
  take(into: SampleAccumulator, view: StageView, round: RoundPicture, { size, tile, samples, how }: Asked): StageView {
    const heading = headingOf(view);
    const plain: StageView = {
      ...view,
      aperture: undefined,
      edge: { stops: 0, cornerMm: 1 },
      bars: undefined,
      look: roundLook(view.look),
    };
    const offset = round.stereo && round.eye ? eyeOffsetM(round.stereo, round.eye) : 0;
    // From beside the middle, what lies at the convergence is seen turned by so much: it is turned back.
    const share = round.stereo ? offset / round.stereo.convergenceM : 0;
    const turned = -Math.asin(Math.max(-1, Math.min(1, share)));
    const slices = slicesOf(round, size, tile, turned);
    into.restart(tile.width, tile.height);
    for (let index = 0; index < samples; index++) {
      into.addParts(
        this.renderer,
        this.parts(plain, { heading, round, offset, turned, slices }, { size, tile, samples, how }, index),
      );
    }
    return { ...plain, lens: { ...plain.lens, k1: 0, parallelMPerMm: null } };
  }

  dispose(): void {
    this.flat.dispose();
    this.map.dispose();
  }

  /** Draws one flat picture after another, each ready to be laid into the tile. */
  private *parts(
    view: StageView,
    { heading, round, offset, turned, slices }: Looking,
    { size, tile, how }: Asked,
    index: number,
  ) {
    for (const { range, middle, flats } of slices) {
      for (const { axes, window, size: flatSize } of flats) {
        const face = faceView(view, heading, axes, window, sideOf(offset, middle));
        this.flat.restart(flatSize.width, flatSize.height);
        this.painter.sample(this.flat, face, flatSize, index, { ...how, centred: true });
        this.map.set({
          layout: round.layout,
          wholePx: [size.width, size.height],
          cornerPx: [tile.x, tile.y],
          sizePx: [tile.width, tile.height],
          jitter: samplePlace(index),
          slice: range,
          turned,
          axes,
          window,
          picturePx: [flatSize.width, flatSize.height],
        });
        yield this.map.scene;
      }
    }
  }
}

/** A look without what belongs to a frame: there are no corners all round, and nothing that a frame's width could be a share of. */
function roundLook(look: LookSettings): LookSettings {
  return { ...look, edgeStops: 0, glow: { ...look.glow, amount: 0 }, streaks: { ...look.streaks, amount: 0 } };
}

interface Slice {
  readonly range: readonly [number, number];
  /** Where it is seen from, for two eyes: its middle; straight ahead for one. */
  readonly middle: number;
  readonly flats: readonly Flat[];
}

/** A direction that a tile has, and its longitude. */
interface Probe {
  readonly direction: Vector;
  readonly longitude: number;
}

/** The slices of longitude that a tile has, each seen from one place: for one eye alone a whole turn. */
function slicesOf({ layout, stereo }: RoundPicture, size: PixelSize, tile: Tile, turned: number): Slice[] {
  // A slice is narrow: none is missed where every column is looked at.
  const columns = stereo ? tile.width : Math.min(tile.width, PROBES);
  const rows = Math.min(tile.height, PROBES);
  const probes = probesOf(layout, size, tile, [columns, rows], turned);
  const density = densityOf(layout, size);
  const margin = (MARGIN_PX + 1.5 * Math.max(tile.width / columns, tile.height / rows)) / density;
  if (!stereo) return [{ range: WHOLE_TURN, middle: 0, flats: flatsOf(probes, 0, density, margin) }];
  const count = Math.round((2 * Math.PI) / SLICE_RAD);
  const bySlice = new Map<number, Probe[]>();
  const slack = (1.5 * 2 * Math.PI) / size.width;
  for (const probe of probes) {
    const places = [-slack, 0, slack].map((by) =>
      Math.floor(((probe.longitude + by + Math.PI) / (2 * Math.PI)) * count),
    );
    for (const place of new Set(places.map((one) => (one + count) % count))) {
      const own = bySlice.get(place);
      if (own) own.push(probe);
      else bySlice.set(place, [probe]);
    }
  }
  return [...bySlice].map(([i, own]): Slice => {
    const from = -Math.PI + (i * 2 * Math.PI) / count;
    const range = [from, from + (2 * Math.PI) / count + (i === count - 1 ? 1e-6 : 0)] as const;
    const middle = (range[0] + range[1]) / 2;
    return { range, middle, flats: flatsOf(own, middle, density, margin) };
  });
}

function probesOf(
  layout: PanoramaLayout,
  size: PixelSize,
  tile: Tile,
  [columns, rows]: readonly [number, number],
  turned: number,
): Probe[] {
  const probes: Probe[] = [];
  for (let i = 0; i <= columns; i++) {
    for (let j = 0; j <= rows; j++) {
      const x = (tile.x + (tile.width * i) / columns) / size.width;
      const y = (tile.y + (tile.height * j) / rows) / size.height;
      const seen = panoramaDirection(layout, Math.min(x, 1 - 1e-9), Math.min(y, 1 - 1e-9));
      if (!seen) continue;
      const direction = turnedBy(seen, turned);
      probes.push({ direction, longitude: Math.atan2(direction[0], -direction[2]) });
    }
  }
  return probes;
}

/** Pixels of a panorama in a radian straight ahead. */
function densityOf({ kind }: PanoramaLayout, { width }: PixelSize): number {
  if (kind === 'sphere' || kind === 'cylinder') return width / (2 * Math.PI);
  // A face's plane at distance 1 is 2 wide.
  return (kind === 'cross' ? width / 4 : kind === 'strip' ? width / 6 : width) / 2;
}

/** Which part of each face of the cube about a longitude directions lie in, and how fine a picture of it is. */
function flatsOf(probes: readonly Probe[], base: number, density: number, margin: number): Flat[] {
  return CUBE_FACES.flatMap((name) => {
    const axes = turnedAxes(FACE_AXES[name], base);
    const bounds: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
    for (const { direction } of probes) {
      const depth = along(direction, axes.ahead);
      if (depth <= 0) continue;
      const [u, v] = [along(direction, axes.right) / depth, along(direction, axes.up) / depth];
      // A little beyond the face's own edge: places between the probes belong to it too.
      if (Math.abs(u) > EDGE || Math.abs(v) > EDGE) continue;
      bounds[0] = Math.min(bounds[0], u);
      bounds[1] = Math.min(bounds[1], v);
      bounds[2] = Math.max(bounds[2], u);
      bounds[3] = Math.max(bounds[3], v);
    }
    if (bounds[0] === Infinity) return [];
    const [left, bottom, right, top] = bounds;
    const window = [left - margin, bottom - margin, right + margin, top + margin] as const;
    const px = (length: number) => Math.max(4, Math.ceil(length * density * FINER));
    return [{ axes, window, size: { width: px(window[2] - window[0]), height: px(window[3] - window[1]) } }];
  });
}

/** So far beyond the edge of a face directions still count to it while tiles are looked through. */
const EDGE = 1.12;

const along = (a: Vector, b: Vector) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** A direction turned about the vertical to the right, radians. */
function turnedBy([x, y, z]: Vector, angle: number): Vector {
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  return [x * c - z * s, y, x * s + z * c];
}

function turnedAxes({ ahead, right, up }: FaceAxes, angle: number): FaceAxes {
  return { ahead: turnedBy(ahead, angle), right: turnedBy(right, angle), up: turnedBy(up, angle) };
}

/** Where a camera is headed, radians to the right of −z: its tilt and roll are left out, so that the horizon is level. */
function headingOf({ pose }: StageView): number {
  const [x, y, z, w] = pose.quaternion;
  const ahead = new Vector3(0, 0, -1).applyQuaternion(new Quaternion(x, y, z, w));
  return Math.atan2(ahead.x, -ahead.z);
}

/** From where a slice is seen: so far to the right of the middle, as seen along it. */
function sideOf(offset: number, longitude: number): Vector {
  return [offset * Math.cos(longitude), 0, offset * Math.sin(longitude)];
}

/** The view of a flat picture in a direction, seen from beside the camera. */
function faceView(view: StageView, heading: number, axes: FaceAxes, window: Flat['window'], beside: Vector): StageView {
  const { ahead, right, up } = turnedAxes(axes, heading);
  const basis = new Matrix4().makeBasis(new Vector3(...right), new Vector3(...up), new Vector3(...ahead).negate());
  const { x, y, z, w } = new Quaternion().setFromRotationMatrix(basis);
  const aside = turnedBy(beside, heading);
  const quaternion = [x, y, z, w] as const;
  const at = (p: Vector): Vector => [p[0] + aside[0], p[1] + aside[1], p[2] + aside[2]];
  const { nearM, farM } = view.lens;
  const lens = {
    focalLengthMm: FOCAL_MM,
    squeeze: 1,
    shiftXMm: 0,
    shiftYMm: 0,
    k1: 0,
    nearM,
    farM,
    parallelMPerMm: null,
  };
  const [left, bottom, rightEdge, top] = window.map((value) => value * FOCAL_MM) as [number, number, number, number];
  return {
    ...view,
    pose: { positionM: at(view.pose.positionM), quaternion },
    lens,
    window: { leftMm: left, bottomMm: bottom, rightMm: rightEdge, topMm: top },
    shutter: view.shutter.map((moment) => ({
      ...moment,
      lens,
      pose: { positionM: at(moment.pose.positionM), quaternion },
    })),
  };
}
