import { cameraAt, rigBody } from '../camera';
import type { Project } from '../model';
import type { CutShot } from '../sequence';
import { sceneTimeOf } from '../sequence';
import type { Vector } from '../space';
import { distanceBetween } from '../space';
import type { RigTrouble } from './rigging';
import { CAMERA_BODY_M, isComputed } from './rigging';

/** Lines of a rig that take room, and how far over the ground its track is looked along, metres. */
const TAKES_ROOM: ReadonlySet<string> = new Set(['arm', 'column', 'track']);
const OVER_GROUND_M = 0.2;
/** A column stands on the ground, and an arm ends at the head: so much of each end may touch, metres. */
const ENDS_M = 0.15;

/** A straight part of a rig, metres. */
interface RigPart {
  readonly kind: string;
  readonly fromM: Vector;
  readonly toM: Vector;
}

/** A frame of a shot (from 0) whose room is to be measured in the set: where the camera is, and what its rig takes. */
export interface RigRoom {
  readonly shotFrame: number;
  readonly atFlicks: number;
  readonly atM: Vector;
  readonly parts: readonly RigPart[];
}

/** What stands in the room that a camera takes at a frame: what is too near, and what each part of its rig goes through. */
export interface RoomMet {
  readonly near: { readonly placementId: string | undefined; readonly distanceM: number } | undefined;
  /** As the parts are, what each meets. */
  readonly through: readonly (string | undefined)[];
}

/** The room that a shot's camera and rig take, at so many of its frames at most. A track lies still: it is in the first alone. */
export function rigRooms(project: Project, placed: CutShot, mostFrames: number): RigRoom[] {
  const { cameraId } = placed.shot;
  if (cameraId === null || placed.shot.insideId !== null || !project.cameras[cameraId]) return [];
  const step = Math.max(1, Math.ceil(placed.frameCount / mostFrames));
  return Array.from({ length: Math.ceil(placed.frameCount / step) }, (_, i) => {
    const atFlicks = sceneTimeOf(placed, i * step, project.head.rate);
    const lines = rigBody(project, cameraId, atFlicks).lines.filter(({ kind }) => TAKES_ROOM.has(kind));
    const parts = lines
      .filter(({ kind }) => kind !== 'track' || i === 0)
      .flatMap(({ kind, points }) => partsOf(kind, points));
    return { shotFrame: i * step, atFlicks, atM: cameraAt(project, cameraId, atFlicks).positionM, parts };
  });
}

function partsOf(kind: string, points: readonly Vector[]): RigPart[] {
  const lifted = ([x, y, z]: Vector): Vector => (kind === 'track' ? [x, y + OVER_GROUND_M, z] : [x, y, z]);
  return points.slice(1).flatMap((to, i) => {
    const from = points[i] ?? to;
    const length = distanceBetween(from, to);
    if (kind === 'track') return [{ kind, fromM: lifted(from), toM: lifted(to) }];
    if (length <= 2 * ENDS_M) return [];
    const at = (metres: number): Vector => {
      const share = metres / length;
      return [
        from[0] + (to[0] - from[0]) * share,
        from[1] + (to[1] - from[1]) * share,
        from[2] + (to[2] - from[2]) * share,
      ];
    };
    return [{ kind, fromM: at(ENDS_M), toM: at(length - ENDS_M) }];
  });
}

/**
 * What was met in that room, put together by what it is: over which frames, and where it is worst. Pieces that are too near are left
 * to `riggingOf`, which knows them exactly.
 */
export function rigRoomTroubles(
  project: Project,
  placed: CutShot,
  taken: readonly RigRoom[],
  met: readonly RoomMet[],
): RigTrouble[] {
  const number = (frame: number) => project.head.firstFrame + placed.startFrame + frame;
  const nameOf = (id: string) => project.placements[id]?.name ?? 'something';
  const found = new Map<
    string,
    { awayM: number; words: (awayM: number) => string; frames: number[]; worst: RigRoom }
  >();
  const note = (key: string, awayM: number, room: RigRoom, words: (awayM: number) => string) => {
    const known = found.get(key);
    const isWorse = !known || awayM < known.awayM;
    const frames = [...(known?.frames ?? []), room.shotFrame];
    found.set(key, { awayM: isWorse ? awayM : known.awayM, words, frames, worst: isWorse ? room : known.worst });
  };
  for (const [i, room] of taken.entries()) {
    const { near, through } = met[i] ?? { near: undefined, through: [] };
    const nearId = near?.placementId;
    const thing = project.placements[nearId ?? ''];
    if (near && nearId !== undefined && !(thing && isComputed(thing))) {
      const words = (awayM: number) =>
        `${nameOf(nearId)} is ${awayM.toFixed(2)} m from the camera, which takes ${CAMERA_BODY_M} m`;
      note(`near ${nearId}`, near.distanceM, room, words);
    }
    through.forEach((id, part) => {
      const kind = room.parts[part]?.kind ?? 'rig';
      if (id !== undefined) note(`${kind} ${id}`, 0, room, () => `the ${kind} goes through ${nameOf(id)}`);
    });
  }
  return [...found.values()].map(({ awayM, words, frames, worst }) => {
    const [first = 0, last = first] = [frames[0], frames.at(-1)];
    return {
      kind: 'too-near',
      message: `${words(awayM)}, frames ${number(first)} to ${number(last)}`,
      fromFrame: number(first),
      toFrame: number(last),
      atM: worst.atM,
      shotFrame: worst.shotFrame,
    };
  });
}
