import type { CameraState } from '../camera';
import { cameraAt, deliveredWindow, projectedLens, rigBody, sceneSpanOf, statesOf } from '../camera';
import type { Guides, Project } from '../model';
import { aspectWithin, cameraColour, camerasInOrder, DIVISIONS, moveOf, SAFE_AREAS } from '../model';
import { deliveryAspect, projectPoint } from '../optics';
import type { Vector } from '../space';
import { sum, turned } from '../space';
import type { Visible } from './order';

/** A line drawn over a picture: points as shares of its width and height from the top left. */
export interface LineOver {
  readonly points: readonly (readonly [x: number, y: number])[];
  readonly colour: string;
  readonly opacity: number;
  /** Times as thick as a hairline. */
  readonly weight: number;
}

const CHALK = '#ece8e1';
/** The grid goes so far, with a line each so many metres. */
const [GRID_REACH_M, GRID_STEP_M] = [60, 2];
/** A line in the world is drawn in so many pieces: those behind the eye are left out. */
const PIECES = 30;
/** Size of a camera's body, and how far the lines of its frame reach, metres. */
const [BODY_M, SIGHT_M] = [0.25, 1.2];

/** What of the work is drawn over a camera's picture, as an order asks. */
export function linesOver(project: Project, state: CameraState, atFlicks: number, visible: Visible): LineOver[] {
  return [
    ...(visible.grid ? grid(state) : []),
    ...(visible.paths ? paths(project, state) : []),
    ...(visible.rigs ? rigs(project, state, atFlicks) : []),
    ...(visible.cameras ? cameras(project, state, atFlicks) : []),
    ...(visible.guides ? guideLines(state) : []),
  ];
}

/** Lines in the world as they are seen; those parts are left out that lie behind the eye. */
function seen(state: CameraState, points: readonly Vector[], style: Omit<LineOver, 'points'>): LineOver[] {
  const [lens, window] = [projectedLens(state), deliveredWindow(state)];
  const lines: LineOver[] = [];
  let line: (readonly [number, number])[] = [];
  const end = () => {
    if (line.length > 1) lines.push({ points: line, ...style });
    line = [];
  };
  for (const point of points) {
    const found = projectPoint(point, state, lens, window);
    // Far outside the picture a line says nothing, and its numbers grow without end.
    if (!found || found.depthM < lens.nearM || Math.abs(found.x) > 20 || Math.abs(found.y) > 20) end();
    else line.push([found.x, found.y]);
  }
  end();
  return lines;
}

function straight(from: Vector, to: Vector): Vector[] {
  return Array.from({ length: PIECES + 1 }, (_, i) => {
    const share = i / PIECES;
    return from.map((value, axis) => value + ((to[axis] ?? 0) - value) * share) as unknown as Vector;
  });
}

function grid(state: CameraState): LineOver[] {
  const count = Math.floor(GRID_REACH_M / GRID_STEP_M);
  return Array.from({ length: 2 * count + 1 }, (_, i) => (i - count) * GRID_STEP_M).flatMap((at) => {
    const style = { colour: CHALK, opacity: at === 0 ? 0.45 : 0.2, weight: 1 };
    return [
      ...seen(state, straight([at, 0, -GRID_REACH_M], [at, 0, GRID_REACH_M]), style),
      ...seen(state, straight([-GRID_REACH_M, 0, at], [GRID_REACH_M, 0, at]), style),
    ];
  });
}

/** Every other camera: the one that is looked through does not see itself. */
function others(project: Project, { cameraId }: CameraState) {
  return camerasInOrder(project).filter(({ id, disabled }) => id !== cameraId && !disabled);
}

function paths(project: Project, state: CameraState): LineOver[] {
  return others(project, state).flatMap(({ id, number }) => {
    const span = sceneSpanOf(moveOf(project, id));
    if (!span || span[1] <= span[0]) return [];
    const way = statesOf(project, id, span[0], span[1]).map(({ positionM }) => positionM);
    return seen(state, way, { colour: cameraColour(number), opacity: 0.8, weight: 1.5 });
  });
}

function rigs(project: Project, state: CameraState, atFlicks: number): LineOver[] {
  return others(project, state).flatMap(({ id, number }) =>
    rigBody(project, id, atFlicks).lines.flatMap(({ points }) =>
      seen(state, points.length === 2 ? straight(points[0] as Vector, points[1] as Vector) : points, {
        colour: cameraColour(number),
        opacity: 0.7,
        weight: 1,
      }),
    ),
  );
}

/** A camera as a small body with the lines of its frame. */
function cameras(project: Project, state: CameraState, atFlicks: number): LineOver[] {
  return others(project, state).flatMap(({ id, number }) => {
    const { positionM, quaternion, lens, framing } = cameraAt(project, id, atFlicks);
    const at = (right: number, up: number, ahead: number) => sum(positionM, turned([right, up, -ahead], quaternion));
    const [w, h] = [framing.used.widthMm, framing.used.heightMm].map(
      (mm) => (mm / 2 / lens.focalLengthMm) * SIGHT_M,
    ) as [number, number];
    const corners = [at(-w, -h, SIGHT_M), at(w, -h, SIGHT_M), at(w, h, SIGHT_M), at(-w, h, SIGHT_M)];
    const frame = [...corners, corners[0] as Vector];
    const half = BODY_M / 2;
    const body = [at(-half, -half, 0), at(half, -half, 0), at(half, half, 0), at(-half, half, 0), at(-half, -half, 0)];
    const style = { colour: cameraColour(number), opacity: 1, weight: 1.5 };
    return [frame, body, ...corners.map((corner) => straight(positionM, corner))].flatMap((line) =>
      seen(state, line, style),
    );
  });
}

/** The guides that frame a camera's picture, within its delivered frame. */
function guideLines({ guides, framing }: CameraState): LineOver[] {
  const style = { colour: CHALK, opacity: 0.7, weight: 1 };
  const line = (...points: (readonly [number, number])[]): LineOver => ({ points, ...style });
  const box = ({ x, y, width, height }: { x: number; y: number; width: number; height: number }) =>
    line([x, y], [x + width, y], [x + width, y + height], [x, y + height], [x, y]);
  const upright = (x: number) => line([x, 0], [x, 1]);
  const across = (y: number) => line([0, y], [1, y]);
  const aspect = deliveryAspect(framing.delivery);
  return [
    ...guides.divisions.flatMap((one) => DIVISIONS[one]).flatMap((share) => [upright(share), across(share)]),
    ...(guides.diagonals ? [line([0, 0], [1, 1]), line([1, 0], [0, 1])] : []),
    ...(guides.cross ? crossLines(aspect).map((points) => line(...points)) : []),
    ...SAFE_AREAS[guides.safe].map((share) =>
      box({ x: (1 - share) / 2, y: (1 - share) / 2, width: share, height: share }),
    ),
    ...guides.aspects.map((guide) => box(aspectWithin(guide.aspect, aspect))),
    ...ownLines(guides).map(([axis, share]) => (axis === 'upright' ? upright(share) : across(share))),
  ];
}

const ownLines = ({ lines }: Guides) => lines.map(({ axis, percent }) => [axis, percent / 100] as const);

/** Half the length of the centre cross, as a share of the frame's height. */
const CROSS = 0.02;

function crossLines(aspect: number): (readonly [number, number])[][] {
  const across = CROSS / aspect;
  return [
    [
      [0.5 - across, 0.5],
      [0.5 + across, 0.5],
    ],
    [
      [0.5, 0.5 - CROSS],
      [0.5, 0.5 + CROSS],
    ],
  ];
}
