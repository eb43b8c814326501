import type { Camera, Key, Move, Placement, Project, Shot } from '@arvex/core';
import {
  CAMERA_DEFAULTS,
  flicksAtFrame,
  markChannels,
  newProject,
  PLACEMENT_DEFAULTS,
  SHOT_DEFAULTS,
} from '@arvex/core';

const RATE = { frames: 24, seconds: 1 };

export const benchId = (n: number): string => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;

/** Channels that the moves of the large project key: those of a mark. */
export const BENCH_CHANNELS = markChannels(CAMERA_DEFAULTS);

/** A project of so many cameras, each with a move of so many keys on every channel of a mark, cut into so many shots. */
export function largeProject(cameraCount: number, shotCount: number, keysAChannel: number): Project {
  const empty = newProject({ project: benchId(1), set: benchId(2), sequence: benchId(3) }, 'Large');
  const cameras: Record<string, Camera> = {};
  const moves: Record<string, Move> = {};
  const shots: Record<string, Shot> = {};
  for (let i = 0; i < cameraCount; i++) {
    const cameraId = benchId(1000 + i);
    cameras[cameraId] = { ...CAMERA_DEFAULTS, id: cameraId, revision: 'first', number: i + 1, name: `Camera ${i + 1}` };
    const keys = (channel: number): Key[] =>
      Array.from({ length: keysAChannel }, (_, k) => ({
        atFlicks: flicksAtFrame(k * 6, RATE),
        value: 20 + Math.sin(k * 0.7 + i + channel) * 9,
        shape: 'smooth',
      }));
    const curves = Object.fromEntries(BENCH_CHANNELS.map((channel, c) => [channel, keys(c)]));
    moves[cameraId] = { id: cameraId, revision: 'first', cameraId, curves, after: {}, marks: [] };
  }
  for (let i = 0; i < shotCount; i++) {
    const id = benchId(10_000 + i);
    const shot = {
      ...SHOT_DEFAULTS,
      sequenceId: benchId(3),
      cameraId: benchId(1000 + (i % cameraCount)),
      name: `SH_${i}`,
      order: `f${String(i).padStart(6, '0')}`,
    };
    shots[id] = {
      ...shot,
      id,
      revision: 'first',
      sceneStartFlicks: flicksAtFrame(i % 50, RATE),
      durationFlicks: flicksAtFrame(48, RATE),
    };
  }
  return { ...empty, cameras, moves, shots };
}

/** The project with so many blocks in its set, every tenth one carrying the nine after it. */
export function withPieces(project: Project, count: number): Project {
  const idOf = (i: number) => benchId(100_000 + i);
  const placements = Object.fromEntries(
    Array.from({ length: count }, (_, i): [string, Placement] => [
      idOf(i),
      {
        ...PLACEMENT_DEFAULTS,
        id: idOf(i),
        revision: 'first',
        setId: benchId(2),
        name: `block ${i}`,
        piece: { kind: 'box', widthM: 1, heightM: 1, depthM: 1 },
        positionM: [i % 40, 0, Math.floor(i / 40)],
        parentId: i % 10 === 0 ? null : idOf(i - (i % 10)),
      },
    ]),
  );
  return { ...project, placements };
}
