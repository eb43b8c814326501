import type { AssetFile, Footprint, Piece, PieceOf } from '../model';
import type { Vector } from '../space';

/** A box along a piece's own axes, metres. */
export interface Box {
  readonly minM: Vector;
  readonly maxM: Vector;
}

/** Eye height as share of stature, standing (mean of adults, ISO 7250-1: eye height 5.1.5 over stature 5.1.2). */
const EYES_STANDING = 0.936;

/** How far before the axis of the body a figure's eyes are, share of stature: on the face, not in the middle of the head. */
const EYES_FORWARD = 0.063;

/** Seat height and eyes above the seat as shares of stature (ISO 7250-1: popliteal height, eye height sitting). */
const SEAT_HEIGHT = 0.25;

const EYES_ABOVE_SEAT = 0.455;

/** Top of the head above the seat, share of stature. */
const SITTING_HEIGHT = 0.52;

/** Shoulder width and depth of a figure, shares of stature; knees and reaching arms go further forward. */
const FIGURE_HALF_WIDTH = 0.13;

const FIGURE_HALF_DEPTH = 0.08;

const FIGURE_REACH = 0.42;

const FIGURE_KNEES = 0.34;

/** Eyes, length and width of an animal as shares of its height at the shoulder. */
const ANIMAL = { eyes: 1.28, eyesForward: 0.75, top: 1.45, halfLength: 0.95, halfWidth: 0.22 } as const;

/** Radius at which a bulb or lamp is drawn and picked, metres. */
export const LAMP_RADIUS_M = 0.08;

const OUTLINE_SIDES = 20;

const standing = (halfWidth: number, height: number, halfDepth: number): Box => ({
  minM: [-halfWidth, 0, -halfDepth],
  maxM: [halfWidth, height, halfDepth],
});

/** The box round a piece along its own axes; the middle of its foot is the origin. `file` is its asset's, if it has one. */
export function pieceBox(piece: Piece, file?: AssetFile): Box {
  switch (piece.kind) {
    case 'geometry':
      return file?.kind === 'geometry' ? { minM: file.minM, maxM: file.maxM } : standing(0.5, 1, 0.5);
    case 'group':
      return standing(0, 0, 0);
    case 'ground':
      return standing(piece.widthM / 2, 0, piece.depthM / 2);
    case 'box':
    case 'wall':
    case 'ramp':
    case 'vehicle':
      return standing(piece.widthM / 2, piece.heightM, piece.depthM / 2);
    case 'steps':
      return standing(piece.widthM / 2, piece.riseM * piece.count, (piece.goingM * piece.count) / 2);
    case 'cylinder':
    case 'column':
      return standing(piece.radiusM, piece.heightM, piece.radiusM);
    case 'card':
      return standing(piece.widthM / 2, piece.heightM, 0.01);
    case 'figure':
      return figureBox(piece.heightM, piece.pose);
    case 'animal':
      return standing(
        ANIMAL.halfWidth * piece.shoulderM,
        ANIMAL.top * piece.shoulderM,
        ANIMAL.halfLength * piece.shoulderM,
      );
    case 'practical': {
      const [x, y] = piece.lamp === 'area' ? [piece.widthM / 2, piece.heightM / 2] : [LAMP_RADIUS_M, LAMP_RADIUS_M];
      return { minM: [-x, -y, -LAMP_RADIUS_M], maxM: [x, y, LAMP_RADIUS_M] };
    }
  }
}

function figureBox(heightM: number, pose: 'standing' | 'sitting' | 'reaching'): Box {
  const top = pose === 'sitting' ? (SEAT_HEIGHT + SITTING_HEIGHT) * heightM : heightM;
  const forward = { standing: FIGURE_HALF_DEPTH, sitting: FIGURE_KNEES, reaching: FIGURE_REACH }[pose] * heightM;
  const half = FIGURE_HALF_WIDTH * heightM;
  return { minM: [-half, 0, -forward], maxM: [half, top, FIGURE_HALF_DEPTH * heightM] };
}

/** Height of the eyes above the foot, metres, before any scale; `undefined` for what has no eyes. */
export function eyesAboveFootM(piece: Piece): number | undefined {
  switch (piece.kind) {
    case 'figure':
      return (piece.pose === 'sitting' ? SEAT_HEIGHT + EYES_ABOVE_SEAT : EYES_STANDING) * piece.heightM;
    case 'animal':
      return ANIMAL.eyes * piece.shoulderM;
    case 'geometry':
      return piece.eyesM ?? undefined;
    default:
      return undefined;
  }
}

/** How far the eyes are before the origin, toward where the piece looks (its own −Z), metres, before any scale. */
export function eyesForwardM(piece: Piece): number {
  switch (piece.kind) {
    case 'figure':
      return EYES_FORWARD * piece.heightM;
    case 'animal':
      return ANIMAL.eyesForward * piece.shoulderM;
    default:
      return 0; // of imported geometry only the height of the eyes is known
  }
}

/** Outlines from above of a piece's parts in its own axes, with their height span, for the plan. */
export function pieceFootprints(piece: Piece, file?: AssetFile): readonly Footprint[] {
  if (piece.kind === 'geometry') return file?.kind === 'geometry' ? file.footprints : [];
  if (piece.kind === 'group' || piece.kind === 'practical') return [];
  const { minM, maxM } = pieceBox(piece);
  if (piece.kind === 'wall' && piece.openings.length > 0) return wallFootprints(piece);
  const round = piece.kind === 'cylinder' || piece.kind === 'column' || piece.kind === 'figure';
  const outline: [number, number][] = round
    ? oval((maxM[0] - minM[0]) / 2, (maxM[2] - minM[2]) / 2, (minM[2] + maxM[2]) / 2)
    : [
        [minM[0], minM[2]],
        [maxM[0], minM[2]],
        [maxM[0], maxM[2]],
        [minM[0], maxM[2]],
      ];
  return [{ name: '', outline, bottomM: minM[1], topM: maxM[1] }];
}

/** A window in plan is as thick as this share of its wall; through a doorway one goes. */
const GLASS = 0.3;

/** An opening with a higher sill than this is no way through, metres. */
const THRESHOLD_M = 0.05;

/** The solid stretches of a wall between its openings, and its windows as thin ones. */
function wallFootprints({ widthM, heightM, depthM, openings }: PieceOf<'wall'>): Footprint[] {
  const inside = (atM: number) => Math.max(0, Math.min(widthM, atM));
  const holes = openings.map(({ atM, widthM: wide, sillM }) => ({
    from: inside(atM),
    to: inside(atM + wide),
    isDoor: sillM <= THRESHOLD_M,
  }));
  const cuts = [...new Set([0, widthM, ...holes.flatMap(({ from, to }) => [from, to])])].sort((a, b) => a - b);
  return cuts.slice(0, -1).flatMap((from, i) => {
    const to = cuts[i + 1] ?? from;
    const over = holes.filter((hole) => hole.from <= from && hole.to >= to);
    if (to - from < 1e-6 || over.some(({ isDoor }) => isDoor)) return [];
    const half = (depthM / 2) * (over.length > 0 ? GLASS : 1);
    const [left, right] = [from - widthM / 2, to - widthM / 2];
    const outline: [number, number][] = [
      [left, -half],
      [right, -half],
      [right, half],
      [left, half],
    ];
    return [{ name: '', outline, bottomM: 0, topM: heightM }];
  });
}

function oval(radiusX: number, radiusZ: number, z: number): [number, number][] {
  return Array.from({ length: OUTLINE_SIDES }, (_, i) => {
    const angle = (i / OUTLINE_SIDES) * 2 * Math.PI;
    return [Math.cos(angle) * radiusX, z + Math.sin(angle) * radiusZ];
  });
}

/** A piece made `factors` times as large along its own axes, as far as its kind can be. */
export function pieceSized(piece: Piece, [x, y, z]: Vector): Piece {
  switch (piece.kind) {
    case 'geometry':
    case 'group':
      return piece;
    case 'ground':
      return { ...piece, widthM: piece.widthM * x, depthM: piece.depthM * z };
    case 'box':
    case 'wall':
    case 'ramp':
    case 'vehicle':
      return { ...piece, widthM: piece.widthM * x, heightM: piece.heightM * y, depthM: piece.depthM * z };
    case 'steps':
      return { ...piece, widthM: piece.widthM * x, riseM: piece.riseM * y, goingM: piece.goingM * z };
    case 'cylinder':
    case 'column':
      return { ...piece, radiusM: piece.radiusM * (x === 1 ? z : x), heightM: piece.heightM * y };
    case 'card':
    case 'practical':
      return { ...piece, widthM: piece.widthM * x, heightM: piece.heightM * y };
    case 'figure':
      return { ...piece, heightM: Math.min(3, Math.max(0.3, piece.heightM * y)) };
    case 'animal':
      return { ...piece, shoulderM: Math.min(5, Math.max(0.1, piece.shoulderM * y)) };
  }
}
