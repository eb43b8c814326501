import type { Edit } from '../src/edits';
import type { Camera, Placement, Project } from '../src/model';
import { applyChange, CAMERA_DEFAULTS, newProject, PLACEMENT_DEFAULTS } from '../src/model';

let count = 0;

/** A fresh, valid id: the core takes ids from outside. */
export function nextId(): string {
  count += 1;
  return `00000000-0000-4000-8000-${String(count).padStart(12, '0')}`;
}

export const SEQUENCE_ID = nextId();

/** An empty project at 24/s. */
export function emptyProject(): Project {
  return newProject({ project: nextId(), set: nextId(), sequence: SEQUENCE_ID }, 'Saltmarsh Light');
}

/** The project after an edit, as the store would apply it. */
export function after(project: Project, edit: Edit): Project {
  return applyChange(project, { id: nextId(), name: edit.name, operations: [...edit.operations] });
}

/** A project with one camera of these parts. */
export function projectWithCamera(parts: Partial<Camera> = {}): { project: Project; cameraId: string } {
  const cameraId = nextId();
  const project = emptyProject();
  const camera: Camera = {
    id: cameraId,
    revision: 'first',
    number: 1,
    name: 'Pier ride',
    ...CAMERA_DEFAULTS,
    ...parts,
  };
  return { project: { ...project, cameras: { [cameraId]: camera } }, cameraId };
}

/** The project with a figure of 1.82 m in it, standing or walking sideways at 0.8 m/s. */
export function withFigure(
  project: Project,
  at: [number, number, number],
  walks = false,
): { project: Project; id: string } {
  const id = nextId();
  const [x, y, z] = at;
  const figure: Placement = {
    ...PLACEMENT_DEFAULTS,
    id,
    revision: 'first',
    setId: Object.keys(project.sets)[0] ?? '',
    name: `figure ${id}`,
    piece: { kind: 'figure', heightM: 1.82, pose: 'standing' },
    positionM: at,
    subject: true,
    motion: walks
      ? {
          kind: 'path',
          nodesM: [at, [x + 3, y, z - 2]],
          groundM: [],
          speedMps: 0.8,
          startFlicks: 0,
          closed: false,
          facing: 'along',
        }
      : { kind: 'still' },
  };
  return { project: { ...project, placements: { ...project.placements, [id]: figure } }, id };
}
