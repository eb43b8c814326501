import type { CameraState } from '../camera';
import { cameraAt } from '../camera';
import { sceneEv, shutterOpensS } from '../exposure';
import type { Project, ShutterOpens } from '../model';
import { existing } from '../model';
import type { CutPicture } from '../sequence';
import { cutOf, cutTimecode, pictureAt } from '../sequence';
import { facingDegAt, placementAt } from '../set';
import { anglesOf, unwrappedNear } from '../space';
import { flicksAtFrame, secondsFromFlicks, timecodeAtFrame } from '../time';

export type Cell = string | number | null;

export type FrameRow = Readonly<Record<string, Cell>>;

/** Columns of a camera's table, in their order. */
export const CAMERA_COLUMNS = [
  'frame',
  'seconds',
  'timecode',
  'x_m',
  'y_m',
  'z_m',
  'pan_deg',
  'tilt_deg',
  'roll_deg',
  'qx',
  'qy',
  'qz',
  'qw',
  'focal_length_mm',
  'film_back_width_mm',
  'film_back_height_mm',
  'squeeze',
  'shift_x_mm',
  'shift_y_mm',
  'used_width_mm',
  'used_height_mm',
  'aov_h_deg',
  'aov_v_deg',
  'aov_d_deg',
  'f_stop',
  't_stop',
  'focus_m',
  'near_m',
  'far_m',
  'hyperfocal_m',
  'coc_mm',
  'shutter_s',
  'shutter_angle_deg',
  'iso',
  'nd_stops',
  'ev',
  'ev_behind_nd',
  'clip_near_m',
  'clip_far_m',
  'acting_focal_length_mm',
  'distortion_k1',
  'shutter_opens_s',
] as const;

/** Columns that a sequence's table puts in front of the camera's. */
export const SEQUENCE_COLUMNS = [
  'sequence_frame',
  'shot',
  'camera',
  'take',
  'scene_seconds',
  'transition',
  'transition_weight',
  ...CAMERA_COLUMNS,
] as const;

/**
 * A camera's state as cells; infinite distances are empty. Widths are as they lie on the film back, squeezed. The picture is rebuilt
 * from what acts: the focal length with breathing, and the distortion r_d = r(1 + k1·r²) on coordinates x = X/Z.
 */
function stateCells(state: CameraState, opens: ShutterOpens): FrameRow {
  const { positionM, quaternion, filmBack, lens, focus, exposure, framing, clip } = state;
  return {
    x_m: positionM[0],
    y_m: positionM[1],
    z_m: positionM[2],
    pan_deg: state.panDeg,
    tilt_deg: state.tiltDeg,
    roll_deg: state.rollDeg,
    qx: quaternion[0],
    qy: quaternion[1],
    qz: quaternion[2],
    qw: quaternion[3],
    focal_length_mm: lens.focalLengthMm,
    film_back_width_mm: filmBack.widthMm,
    film_back_height_mm: filmBack.heightMm,
    squeeze: filmBack.squeeze,
    shift_x_mm: lens.shiftXMm,
    shift_y_mm: lens.shiftYMm,
    used_width_mm: framing.used.widthMm / filmBack.squeeze,
    used_height_mm: framing.used.heightMm,
    aov_h_deg: lens.parallelWidthM === null ? lens.horizontalDeg : null,
    aov_v_deg: lens.parallelWidthM === null ? lens.verticalDeg : null,
    aov_d_deg: lens.parallelWidthM === null ? lens.diagonalDeg : null,
    f_stop: focus.fStop,
    t_stop: focus.tStop,
    focus_m: finite(focus.distanceM),
    near_m: finite(focus.nearM),
    far_m: finite(focus.farM),
    hyperfocal_m: finite(focus.hyperfocalM),
    coc_mm: focus.blurLimitMm,
    shutter_s: exposure.shutterSeconds,
    shutter_angle_deg: exposure.shutterAngleDeg,
    iso: exposure.iso,
    nd_stops: exposure.ndStops,
    ev: sceneEv(exposure),
    ev_behind_nd: exposure.ev100,
    clip_near_m: clip.nearM,
    clip_far_m: clip.farM,
    acting_focal_length_mm: lens.actingMm,
    distortion_k1: lens.k1,
    shutter_opens_s: shutterOpensS(exposure.shutterSeconds, opens),
  };
}

const finite = (value: number): number | null => (Number.isFinite(value) ? value : null);

/** Empty cells for frames that no camera sees. */
const NO_STATE: FrameRow = Object.fromEntries(CAMERA_COLUMNS.slice(3).map((column) => [column, null]));

/** The frame, its time in seconds from the project's first frame, and its timecode. `index` is counted from 0. */
function timeCells(project: Project, index: number): FrameRow {
  const { rate, firstFrame } = project.head;
  return {
    frame: firstFrame + index,
    seconds: secondsFromFlicks(flicksAtFrame(index, rate)),
    timecode: timecodeAtFrame(index, rate),
  };
}

/** A camera's rows for project frame numbers `from` to `to`, both included. */
export function* cameraRows(project: Project, cameraId: string, from: number, to: number): Generator<FrameRow> {
  const { rate, firstFrame } = project.head;
  for (let frame = from; frame <= to; frame++) {
    const state = cameraAt(project, cameraId, flicksAtFrame(frame - firstFrame, rate));
    yield { ...timeCells(project, frame - firstFrame), ...stateCells(state, project.head.shutterOpens) };
  }
}

/** A sequence's rows for project frame numbers `from` to `to`; frames outside the cut are left out. */
export function* sequenceRows(project: Project, sequenceId: string, from: number, to: number): Generator<FrameRow> {
  const { firstFrame } = project.head;
  const last = firstFrame + cutOf(project, sequenceId).frameCount - 1;
  for (let frame = Math.max(from, firstFrame); frame <= Math.min(to, last); frame++) {
    const picture = pictureAt(project, sequenceId, frame - firstFrame);
    if (!picture) continue;
    yield {
      sequence_frame: frame,
      shot: picture.shot?.name ?? null,
      camera: picture.cameraId === null ? null : (project.cameras[picture.cameraId]?.name ?? null),
      take: picture.shot?.takeName ?? null,
      scene_seconds: secondsFromFlicks(picture.sceneFlicks),
      ...transitionCells(picture),
      ...timeCells(project, frame - firstFrame),
      timecode: cutTimecode(project, sequenceId, frame - firstFrame),
      ...(picture.cameraId === null
        ? NO_STATE
        : stateCells(
            cameraAt(project, picture.cameraId, picture.sceneFlicks, undefined, picture.variationId),
            project.head.shutterOpens,
          )),
    };
  }
}

/** How the frame is mixed, and how much of it is the row's camera. */
function transitionCells({ layers, shot }: CutPicture): FrameRow {
  const own = layers.find((layer) => layer.kind === 'camera' && layer.shot.id === shot?.id);
  const isFade = layers.some(({ kind }) => kind === 'colour');
  const transition = layers.length < 2 ? 'cut' : isFade ? 'fade' : 'dissolve';
  return { transition, transition_weight: layers.length < 2 ? 1 : (own?.weight ?? 0) };
}

/** Columns of a placement's table, in their order. */
export const PLACEMENT_COLUMNS = CAMERA_COLUMNS.slice(0, CAMERA_COLUMNS.indexOf('focal_length_mm'));

/** A placement's rows in the world for project frame numbers `from` to `to`, both included. */
export function* placementRows(project: Project, placementId: string, from: number, to: number): Generator<FrameRow> {
  const { rate, firstFrame } = project.head;
  for (let frame = from; frame <= to; frame++) {
    const { positionM, quaternion } = placementAt(project, placementId, flicksAtFrame(frame - firstFrame, rate));
    const { panDeg, tiltDeg, rollDeg } = anglesOf(quaternion);
    const near = facingDegAt(
      project,
      existing(project, 'placement', placementId),
      flicksAtFrame(frame - firstFrame, rate),
    );
    const [qx, qy, qz, qw] = quaternion.map((part) => (quaternion[3] < 0 ? -part : part));
    yield {
      ...timeCells(project, frame - firstFrame),
      x_m: positionM[0],
      y_m: positionM[1],
      z_m: positionM[2],
      pan_deg: unwrappedNear(panDeg, near),
      tilt_deg: tiltDeg,
      roll_deg: rollDeg,
      qx,
      qy,
      qz,
      qw,
    } as FrameRow;
  }
}

/** Characters that force a field into quotes (RFC 4180, section 2, rules 6 and 7). */
const NEEDS_QUOTES = /[",\r\n]/;

/** A name that a table program would take for a formula. */
const FORMULA = /^[=+@\t]|^-(?!\d)/;

/**
 * One line of CSV (RFC 4180), with its CRLF. Numbers are the shortest text that reads back as the same number; what is not finite is
 * empty. A name that a table program would take for a formula gets an apostrophe before it.
 */
export function csvLine(cells: readonly Cell[]): string {
  const texts = cells.map((cell) => {
    const blank = cell === null || (typeof cell === 'number' && !Number.isFinite(cell));
    const plain = blank ? '' : String(cell);
    const text = typeof cell === 'string' && FORMULA.test(plain) ? `'${plain}` : plain;
    return NEEDS_QUOTES.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
  });
  return `${texts.join(',')}\r\n`;
}
