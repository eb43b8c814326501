import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cameraAt } from '../src/camera';
import { setCamera } from '../src/edits/camera';
import { chosenSubject, composedAs, SHOT_SIZES, subjectFraming, subjectMeant, usualHeadroom } from '../src/framing';
import type { Camera, Piece, Placement, Project } from '../src/model';
import { CAMERA_DEFAULTS } from '../src/model';
import { after, projectWithCamera, withFigure as withFigureIn } from './sample-project';

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });

/** A camera at the origin, eye high, that looks north at a figure 5 m away. */
function withFigure(parts: Partial<Camera> = {}) {
  const pose = { positionM: [0, 1.6, 0] as [number, number, number], panDeg: 0, tiltDeg: 0, rollDeg: 0 };
  const { project, cameraId } = projectWithCamera({ pose, ...parts });
  const { project: with1, id: figureId } = withFigureIn(project, [0, 0, -5]);
  return { project: with1, cameraId, figureId };
}

/** One more figure, by itself. */
function figureAt(project: Project, at: [number, number, number]): Record<string, Placement> {
  const { project: made, id } = withFigureIn({ ...project, placements: {} }, at);
  return { [id]: made.placements[id] as Placement };
}

describe('whom a camera is about', () => {
  it('means who is sharp or nearest the middle, whoever is first in the list, and nobody behind it', () => {
    const { project, cameraId, figureId } = withFigure();
    const [behind, aside] = [figureAt(project, [0, 0, 6]), figureAt(project, [2, 0, -9])];
    const all = { ...project, placements: { ...project.placements, ...behind, ...aside } };
    const state = cameraAt(all, cameraId, 0);
    expect(subjectMeant(all, state, 0)?.id).toBe(figureId);
    const farther = { ...state, focus: { ...state.focus, nearM: 8, farM: 10 } };
    expect(subjectMeant(all, farther, 0)?.id).toBe(Object.keys(aside)[0]);
    expect(subjectMeant({ ...project, placements: behind }, state, 0)).toBeUndefined();
  });

  it('says who stands before somebody, and sees through an opening', () => {
    const { project, cameraId, figureId } = withFigure();
    const state = cameraAt(project, cameraId, 0);
    const before = (piece: Piece) => {
      const [wall] = Object.values(figureAt(project, [0, 0, -3]));
      if (!wall) throw new Error('gone');
      const placements = { ...project.placements, [wall.id]: { ...wall, piece, subject: false } };
      const framed = subjectFraming({ ...project, placements }, project.placements[figureId] as Placement, state, 0);
      return framed?.hidden?.id === wall.id;
    };
    const wall = { kind: 'wall', widthM: 4, heightM: 2.6, depthM: 0.2 } as const;
    expect(before({ ...wall, openings: [] })).toBe(true);
    expect(before({ ...wall, openings: [{ atM: 1.5, widthM: 1, sillM: 0, heightM: 2.1 }] })).toBe(false);
    expect(before({ kind: 'figure', heightM: 1.8, pose: 'standing' })).toBe(true);
  });
});

describe('framing by words', () => {
  it('composes a subject at any size, by camera or lens, with its usual headroom', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...SHOT_SIZES.slice(1, 7)),
        fc.constantFrom('camera' as const, 'lens' as const),
        number(-20, 20),
        (size, by, tiltDeg) => {
          const { project, cameraId } = withFigure({
            pose: { positionM: [0, 1.6, 0], panDeg: 4, tiltDeg, rollDeg: 0 },
          });
          const state = cameraAt(project, cameraId, 0);
          const before = chosenSubject(project, state, 0);
          fc.pre(before !== undefined);
          const { positionM, panDeg, tiltDeg: tilt, focalLengthMm } = composedAs(project, state, before, size, by, 0);
          const [x, y, z] = positionM;
          const made = after(
            project,
            setCamera(project, cameraId, 'Compose', {
              lens: { ...CAMERA_DEFAULTS.lens, focalLengthMm },
              pose: { positionM: [x, y, z], panDeg, tiltDeg: tilt, rollDeg: 0 },
            }),
          );
          const now = chosenSubject(made, cameraAt(made, cameraId, 0), 0);
          expect(now?.size).toBe(size);
          expect(now?.headroom).toBeCloseTo(usualHeadroom(size), 6);
        },
      ),
    );
  });
});
