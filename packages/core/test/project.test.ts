import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { findingsOf } from '../src/checks';
import type { Edit } from '../src/edits';
import { deleteCamera, duplicateCamera, makeCamera, setCamera } from '../src/edits/camera';
import { setMark } from '../src/edits/move';
import { setHead } from '../src/edits/project';
import { addMarkers, addShot, deleteSequence, deleteShots, duplicateSequence, moveShots } from '../src/edits/sequence';
import { CAMERA_COLUMNS, cameraRows, csvLine, frameName, sequenceRows } from '../src/facts';
import type { Project } from '../src/model';
import {
  applied,
  applyChange,
  CAMERA_DEFAULTS,
  KINDS,
  markersInOrder,
  moveOf,
  projectFrom,
  referencesOf,
  shotsInOrder,
  TABLE_KINDS,
} from '../src/model';
import { cutOf, frameSeeing, pictureAt } from '../src/sequence';
import { flicksAtFrame } from '../src/time';
import { after, emptyProject, nextId, projectWithCamera, SEQUENCE_ID } from './sample-project';

const RATE = { frames: 24, seconds: 1 };
const seconds = (s: number) => s * 705_600_000;

/** Two cameras, cut 1-2-1: 48, 24 and 12 frames, over scene time 0 to 48, 48 to 72 and again from 12. */
function cutProject() {
  const [one, two] = [nextId(), nextId()];
  const pose = { positionM: [1, 2, 3] as [number, number, number], panDeg: 0, tiltDeg: 0, rollDeg: 0 };
  let project = emptyProject();
  for (const id of [one, two]) project = after(project, makeCamera(project, id, pose));
  const shots: [string, number, number][] = [
    [one, 0, 2],
    [two, 2, 1],
    [one, 0.5, 0.5],
  ];
  for (const [cameraId, start, length] of shots) {
    const shot = { id: nextId(), cameraId, sceneStartFlicks: seconds(start), durationFlicks: seconds(length) };
    project = after(project, addShot(project, SEQUENCE_ID, shot));
  }
  return { project, one, two };
}

describe('the cut', () => {
  it('changes camera on the exact frame', () => {
    const { project, one, two } = cutProject();
    expect(cutOf(project, SEQUENCE_ID).frameCount).toBe(84);
    const seen = (frame: number) => pictureAt(project, SEQUENCE_ID, frame);
    expect([seen(47)?.cameraId, seen(48)?.cameraId, seen(71)?.cameraId, seen(72)?.cameraId]).toEqual([
      one,
      two,
      two,
      one,
    ]);
    expect(seen(48)).toMatchObject({ shotFrame: 0, sceneFlicks: seconds(2) });
    expect(seen(72)?.sceneFlicks).toBe(seconds(0.5)); // scene time may jump back
    expect(seen(84)).toBeUndefined();
    expect(seen(-1)).toBeUndefined();
  });

  it('finds the frame that shows a camera at a scene time', () => {
    const { project, one, two } = cutProject();
    expect(frameSeeing(project, SEQUENCE_ID, two, seconds(2.5))).toBe(60);
    expect(frameSeeing(project, SEQUENCE_ID, one, seconds(2.5))).toBeUndefined();
  });

  it('keeps its seconds when the rate changes', () => {
    const { project } = cutProject();
    const faster = after(project, setHead(project, 'Rate', { rate: { frames: 30, seconds: 1 } }));
    expect(cutOf(faster, SEQUENCE_ID).frameCount).toBe(105);
  });

  it('takes shots in another order', () => {
    const { project } = cutProject();
    const names = (p: Project) => shotsInOrder(p, SEQUENCE_ID).map((shot) => shot.name);
    expect(names(project)).toEqual(['SH_010', 'SH_020', 'SH_030']);
    const last = shotsInOrder(project, SEQUENCE_ID)[2]?.id ?? '';
    expect(names(after(project, moveShots(project, [last], 0)))).toEqual(['SH_030', 'SH_010', 'SH_020']);
    expect(names(after(project, moveShots(project, [last], 1)))).toEqual(['SH_010', 'SH_030', 'SH_020']);
  });

  it('names its frames by shot and number', () => {
    expect(frameName(cutProject().project, SEQUENCE_ID, 48)).toBe('SH_020.1049');
  });
});

describe('changes', () => {
  const edits: ((project: Project, pick: number) => Edit | undefined)[] = [
    (project) => makeCamera(project, nextId(), { positionM: [1, 2, 3], panDeg: 4, tiltDeg: 5, rollDeg: 6 }),
    (project, pick) => {
      const id = Object.keys(project.cameras)[pick % 3];
      return id ? setMark(project, id, pick, nextId()) : undefined;
    },
    (project, pick) => {
      const id = Object.keys(project.cameras)[pick % 3];
      return id ? duplicateCamera(project, id, nextId()) : undefined;
    },
    (project, pick) => {
      const id = Object.keys(project.cameras)[pick % 3];
      return id ? deleteCamera(project, id) : undefined;
    },
    (project, pick) => {
      const cameraId = Object.keys(project.cameras)[pick % 3];
      const shot = { id: nextId(), sceneStartFlicks: pick, durationFlicks: 1 + pick };
      return cameraId ? addShot(project, SEQUENCE_ID, { ...shot, cameraId }) : undefined;
    },
    (project, pick) => {
      const id = Object.keys(project.shots)[pick % 3];
      return id ? deleteShots(project, [id], { close: pick % 2 === 0 }) : undefined;
    },
  ];
  /** A project without the revisions, which undo rightly renews. */
  const content = (project: Project) =>
    JSON.stringify(project, (key, value: unknown) => (key === 'revision' ? '' : sorted(value)));
  const sorted = (value: unknown) =>
    value && typeof value === 'object' && !Array.isArray(value)
      ? Object.fromEntries(Object.entries(value).sort(([a], [b]) => a.localeCompare(b)))
      : value;

  it('are taken back by their inverse, whatever they were', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(edits.length - 1), fc.nat(1000)), { maxLength: 20 }), (steps) => {
        let project = emptyProject();
        for (const [which, pick] of steps) {
          const edit = edits[which]?.(project, pick);
          if (!edit) continue;
          const change = { id: nextId(), name: edit.name, operations: [...edit.operations] };
          const { project: next, inverse } = applied(project, change);
          const undo = { id: nextId(), name: 'Undo', operations: inverse };
          expect(content(applyChange(next, undo))).toBe(content(project));
          project = next;
        }
      }),
      { numRuns: 60 },
    );
  });

  it('made from an old revision are refused and change nothing', () => {
    const { project, cameraId } = projectWithCamera();
    const mine = setCamera(project, cameraId, 'Name', { name: 'Mine' });
    const theirs = after(project, setCamera(project, cameraId, 'Name', { name: 'Theirs' }));
    expect(() => after(theirs, mine)).toThrow('changed meanwhile');
    expect(theirs.cameras[cameraId]?.name).toBe('Theirs');
  });

  it('name the field that is out of range', () => {
    const { project, cameraId } = projectWithCamera();
    const lens = { ...CAMERA_DEFAULTS.lens, focalLengthMm: -5 };
    expect(() => after(project, setCamera(project, cameraId, 'Lens', { lens }))).toThrow('camera.lens.focalLengthMm');
  });
});

describe('the frames table', () => {
  it('gives what cameraAt gives, by project frame number', () => {
    const { project, cameraId } = projectWithCamera();
    const rows = [...cameraRows(project, cameraId, 1001, 1025)];
    expect(rows).toHaveLength(25);
    expect(Object.keys(rows[0] ?? {})).toEqual([...CAMERA_COLUMNS]);
    expect(rows[24]).toMatchObject({ frame: 1025, seconds: 1, timecode: '00:00:01:00', y_m: 1.6, qw: 1, t_stop: null });
    expect(rows[0]?.['aov_h_deg']).toBeCloseTo(39.15, 2);
  });

  it('puts shot and camera in front for a sequence, and stays inside the cut', () => {
    const { project } = cutProject();
    const rows = [...sequenceRows(project, SEQUENCE_ID, 1, 99_999)];
    expect(rows).toHaveLength(84);
    expect(rows[48]).toMatchObject({ sequence_frame: 1049, shot: 'SH_020', camera: 'Camera 2', scene_seconds: 2 });
  });

  it('quotes what CSV needs quoted', () => {
    expect(csvLine(['a,b', 'say "x"', null, 0.1])).toBe('"a,b","say ""x""",,0.1\r\n');
  });
});

describe('a project that was written before there was a kind', () => {
  it.each(TABLE_KINDS)('has nothing of it: %s', (kind) => {
    const { table } = KINDS[kind];
    const { [table]: _gone, ...before } = emptyProject();
    expect(projectFrom(JSON.parse(JSON.stringify(before)))[table]).toEqual({});
  });
});

describe('what belongs to what', () => {
  /** Fields that name a sequence, a camera or a set without belonging to it, and why. */
  const SHOWN = {
    'shot.cameraId': 'shows it, and outlives it',
    'shot.insideId': 'shows it',
  };

  it('is said of every kind that names a sequence, a camera or a set', () => {
    const unsaid = TABLE_KINDS.flatMap((kind) =>
      referencesOf(kind)
        .filter(([field, to]) => ['sequence', 'camera', 'set'].includes(to) && !(`${kind}.${field}` in SHOWN))
        .filter(([field]) => (KINDS[kind] as { owner?: string }).owner !== field)
        .map(([field]) => `${kind}.${field}`),
    );
    expect(unsaid).toEqual([]);
  });

  it('is copied with a sequence and goes with it, and a camera takes its move along', () => {
    const { project: cut, one } = cutProject();
    let project = after(cut, setMark(cut, one, 0, nextId()));
    const marker = { id: nextId(), atFlicks: seconds(1), name: 'bell' };
    project = after(project, addMarkers(project, SEQUENCE_ID, [marker]));
    const [copyId, cameraCopy] = [nextId(), nextId()];
    const copied = after(project, duplicateSequence(project, SEQUENCE_ID, copyId, nextId));
    const of = (whole: Project, id: string) =>
      [shotsInOrder(whole, id), markersInOrder(whole, id)].map((all) => all.length);
    expect([of(copied, SEQUENCE_ID), of(copied, copyId)]).toEqual([
      [3, 1],
      [3, 1],
    ]);
    expect(cutOf(copied, copyId).frameCount).toBe(cutOf(copied, SEQUENCE_ID).frameCount);
    const gone = after(copied, deleteSequence(copied, SEQUENCE_ID));
    expect([of(gone, SEQUENCE_ID), of(gone, copyId)]).toEqual([
      [0, 0],
      [3, 1],
    ]);
    const twice = after(gone, duplicateCamera(gone, one, cameraCopy));
    expect(moveOf(twice, cameraCopy)).toMatchObject({ cameraId: cameraCopy, marks: moveOf(twice, one)?.marks });
    expect(moveOf(after(twice, deleteCamera(twice, cameraCopy)), cameraCopy)).toBeUndefined();
  });
});

describe('checks', () => {
  it('find a shot without a camera and a camera at the origin', () => {
    const { project, two } = cutProject();
    const codes = findingsOf(after(project, deleteCamera(project, two))).map((finding) => finding.code);
    expect(codes).toContain('shot-without-camera');
    const lost = projectWithCamera({ pose: { positionM: [0, 0, 0], panDeg: 0, tiltDeg: 0, rollDeg: 0 } });
    expect(findingsOf(lost.project).some((finding) => finding.cameraId === lost.cameraId)).toBe(true);
  });

  it('find a move that no shot of its camera shows', () => {
    const { project, two } = cutProject();
    let moved = project;
    for (const frame of [200, 300]) {
      moved = after(moved, setMark(moved, two, flicksAtFrame(frame, RATE), nextId()));
    }
    expect(findingsOf(moved).map((finding) => finding.code)).toContain('move-outside-shots');
  });
});
