import fc from 'fast-check';
import { beforeEach, describe, expect, it } from 'vitest';
import { cameraAt } from '../src/camera';
import { findingsOf } from '../src/checks';
import { continuityOf, degreesOffLine, riggingOf, rigRooms, rigRoomTroubles } from '../src/continuity';
import type { Edit } from '../src/edits';
import { makeCamera, setCamera } from '../src/edits/camera';
import { keyChannels, setCurves } from '../src/edits/move';
import {
  addShot,
  addSound,
  addTake,
  conformCut,
  joinToMarkers,
  addMarkers,
  setEntry,
  setShot,
  setSequence,
  setSound,
  setSpeed,
  showingOf,
  slipShots,
  splitShot,
  splitSound,
  throwPiece,
} from '../src/edits/sequence';
import { shotFacts, shotListCsv } from '../src/facts';
import type { Placement, Project, RigOf, SoundFile } from '../src/model';
import { PLACEMENT_DEFAULTS, RIG_DEFAULTS } from '../src/model';
import type { HeardPart } from '../src/sequence';
import { audible, cutOf, heardBetween, sceneTimeOf, SOUND_RATE } from '../src/sequence';
import type { Vector } from '../src/space';
import { FLICKS_PER_SECOND, flicksAtFrame } from '../src/time';
import { after, emptyProject, nextId, SEQUENCE_ID } from './sample-project';

const RATE = { frames: 24, seconds: 1 };
const frame = (index: number) => flicksAtFrame(index, RATE);
const EYES_M = 1.705;

/** Two who stand 2 m apart on the x axis and look at each other: A at the west looks east. */
function twoFigures() {
  let project = emptyProject();
  const figure = (name: string, x: number, panDeg: number): Placement => ({
    ...PLACEMENT_DEFAULTS,
    id: nextId(),
    revision: 'first',
    setId: Object.keys(project.sets)[0] ?? '',
    name,
    piece: { kind: 'figure', heightM: 1.82, pose: 'standing' },
    positionM: [x, 0, 0],
    panDeg,
    subject: true,
  });
  const [a, b] = [figure('A', -1, 90), figure('B', 1, -90)];
  project = { ...project, placements: { [a.id]: a, [b.id]: b } };
  return { project, a, b };
}

let project: Project;
let a: Placement;
let b: Placement;
const take = (edit: Edit) => (project = after(project, edit));
beforeEach(() => ({ project, a, b } = twoFigures()));

/** A camera at an angle round somebody (0 is south of them, 90 east), looking at them; `own` says what else it has. */
function shotOn(
  who: Placement,
  angleDeg: number,
  distanceM: number,
  own: { heightM?: number; mm?: number; frames?: number } = {},
) {
  const { heightM = EYES_M, mm = 50, frames = 96 } = own;
  const [x, , z] = who.positionM;
  const turn = (angleDeg * Math.PI) / 180;
  const positionM: [number, number, number] = [x + Math.sin(turn) * distanceM, heightM, z + Math.cos(turn) * distanceM];
  const tiltDeg = (Math.atan2(EYES_M - heightM, distanceM) * 180) / Math.PI;
  const id = nextId();
  take(makeCamera(project, id, { positionM, panDeg: -angleDeg, tiltDeg, rollDeg: 0 }));
  const camera = project.cameras[id]!;
  const framing = { ...camera.framing, subjectId: who.id };
  project = {
    ...project,
    cameras: { ...project.cameras, [id]: { ...camera, framing, lens: { ...camera.lens, focalLengthMm: mm } } },
  };
  const shot = { id: nextId(), cameraId: id, sceneStartFlicks: frame(240), durationFlicks: frame(frames) };
  take(addShot(project, SEQUENCE_ID, shot));
  return { cameraId: id, shotId: shot.id };
}
const codes = () => continuityOf(project, SEQUENCE_ID).map(({ code }) => code);
const advice = (code: string) => continuityOf(project, SEQUENCE_ID).find((one) => one.code === code);

describe('continuity', () => {
  it('names a jump below the limits of angle and size, and not beside them', () => {
    shotOn(a, 0, 3);
    shotOn(a, 29, 3);
    expect(codes()).toEqual(['jump']);
    expect(advice('jump')?.message).toContain('by 29° and keeps the size');
    for (const [angle, distance, jumps] of [
      [29.5, 3, true],
      [30.5, 3, false],
      [331, 3, true],
      [329, 3, false],
      [5, 14, false],
    ] as const) {
      ({ project, a, b } = twoFigures());
      shotOn(a, 0, 3);
      shotOn(a, angle, distance);
      expect(codes().includes('jump'), `${angle}° at ${distance} m`).toBe(jumps);
    }
  });

  it('says nothing of a joint that nobody sees, nor of the same side from far above', () => {
    const { shotId } = shotOn(a, 0, 3);
    take(splitShot(project, SEQUENCE_ID, 40, nextId()));
    expect(codes()).toEqual([]);
    const [, second] = cutOf(project, SEQUENCE_ID).shots;
    take(setSpeed(project, second!.shot.id, 0.5, 'action'));
    expect(codes()).toEqual([]);
    // Ten frames of the action left out: now it is seen.
    take(slipShots(project, [second!.shot.id], 10));
    expect(codes()).toEqual(['jump']);
    ({ project, a, b } = twoFigures());
    expect(shotId).not.toBe('');
    shotOn(a, 0, 3);
    const up = (70 * Math.PI) / 180;
    shotOn(a, 0, 3 * Math.cos(up), { heightM: EYES_M + 3 * Math.sin(up) });
    expect(codes()).not.toContain('jump');
  });

  it('obeys limits that are set, and says nothing of what dissolves', () => {
    shotOn(a, 0, 3);
    const { shotId } = shotOn(a, 20, 3);
    const continuity = { ...project.sequences[SEQUENCE_ID]!.continuity, angleDeg: 15 };
    expect(
      continuityOf(after(project, setSequence(project, SEQUENCE_ID, 'Limits', { continuity })), SEQUENCE_ID),
    ).toEqual([]);
    take(setEntry(project, shotId, { kind: 'dissolve', durationFlicks: frame(6), place: 'centred', ease: 0 }));
    expect(codes()).toEqual([]);
  });

  it('finds the line of action crossed to the degree, between the subjects or set by hand', () => {
    const line = { fromM: [-1, 0], toM: [1, 0] } as const;
    // Along the line its right is the south.
    expect(degreesOffLine(line, [0, 0, 5])).toBeCloseTo(90, 9);
    expect(degreesOffLine(line, [5, 0, 5])).toBeCloseTo(45, 9);
    ({ project, a, b } = twoFigures());
    shotOn(a, 60, 3);
    const { cameraId } = shotOn(b, -60, 3);
    expect(codes()).not.toContain('line-crossed');
    const moved = (z: number) => {
      const camera = project.cameras[cameraId]!;
      const positionM: Vector = [0.5, EYES_M, z];
      return {
        ...project,
        cameras: {
          ...project.cameras,
          [cameraId]: { ...camera, pose: { ...camera.pose, positionM: [...positionM] as [number, number, number] } },
        },
      };
    };
    const crosses = (of: Project) => continuityOf(of, SEQUENCE_ID).some(({ code }) => code === 'line-crossed');
    // A degree off the line seen from its middle is 0.0087 m here.
    expect([crosses(moved(0.009)), crosses(moved(-0.009))]).toEqual([false, true]);
    const north = { fromM: [-1, 5], toM: [1, 5] } as const;
    take(setSequence(project, SEQUENCE_ID, 'Line', { actionLine: north }));
    expect(crosses(moved(-0.009))).toBe(false); // both are on one side of the line that was set
  });

  it('finds who look at each other looking the same way, and pairs that do not match', () => {
    shotOn(a, 50, 3);
    shotOn(b, -50, 3);
    expect(codes()).toEqual([]);
    for (const [own, words] of [
      [{ mm: 40 }, 'lens 50 mm and 40 mm'],
      [{ heightM: 2.1 }, 'height over the eyes 0.00 m and'],
      [{}, 'distance 2.91 m and 3.91 m'], // to the eyes, which are on the face
    ] as const) {
      ({ project, a, b } = twoFigures());
      shotOn(a, 50, 3);
      shotOn(b, -50, words.startsWith('distance') ? 4 : 3, own);
      expect(advice('pair-differs')?.message, words).toContain(words);
    }
    ({ project, a, b } = twoFigures());
    shotOn(a, 50, 3);
    shotOn(b, 230, 3);
    expect(codes()).toEqual(expect.arrayContaining(['line-crossed', 'eyelines']));
  });

  it('finds who goes one way before a cut and the other way after it', () => {
    const walking = () => {
      const positionX = [0, 480].map((at, i) => ({
        atFlicks: frame(at),
        value: -12 + 24 * i,
        shape: 'linear' as const,
      }));
      const still = { shape: 'linear' as const, atFlicks: 0 };
      const curves = { positionX, positionZ: [{ ...still, value: 0 }], pan: [{ ...still, value: 90 }] };
      a = { ...a, motion: { kind: 'keys', curves } };
      project = { ...project, placements: { ...project.placements, [a.id]: a } };
    };
    walking();
    for (const angle of [0, 20]) shotOn(a, angle, 9);
    expect(advice('screen-direction')).toBeUndefined();
    ({ project, a, b } = twoFigures());
    walking();
    for (const angle of [0, 180]) shotOn(a, angle, 9);
    expect(advice('screen-direction')?.message).toContain('going right before the cut, left after it');
  });

  it('finds a shot too short to be read, by its size and its motion', () => {
    shotOn(a, 0, 3, { frames: 20 });
    expect(codes()).toEqual(['too-short']);
    ({ project, a, b } = twoFigures());
    const { cameraId } = shotOn(a, 0, 14, { frames: 50 });
    expect(codes()).toEqual([]);
    const pushed = [0, 96].map((at, i) => ({ atFlicks: frame(240 + at), value: 14 - i * 3, shape: 'linear' as const }));
    take(setCurves(project, cameraId, 'Push', { positionZ: pushed }, 0));
    expect(advice('too-short')?.message).toContain('a wide shot that moves takes 2.50 s');
  });

  it('finds a cut from a camera that moves to one that stands', () => {
    const { cameraId } = shotOn(a, 0, 6);
    shotOn(a, 60, 3);
    expect(codes()).toEqual([]);
    const pushed = [0, 96].map((at, i) => ({ atFlicks: frame(240 + at), value: 6 - i * 2, shape: 'linear' as const }));
    take(setCurves(project, cameraId, 'Push', { positionZ: pushed }, 0));
    expect(advice('cut-on-move')?.message).toContain('0.50 m/s');
  });

  it('finds a cut from a camera that zooms to one that stands', () => {
    const { cameraId } = shotOn(a, 0, 6);
    shotOn(a, 60, 3);
    const zoomed = [0, 96].map((at, i) => ({
      atFlicks: frame(240 + at),
      value: 50 + i * 50,
      shape: 'linear' as const,
    }));
    take(setCurves(project, cameraId, 'Zoom', { focalLength: zoomed }, 0));
    expect(advice('cut-on-move')?.message).toContain('turns 0°/s and zooms by 1');
  });
});

/** Puts a piece into the set. */
function put(name: string, piece: Placement['piece'], positionM: Placement['positionM']): void {
  const setId = Object.keys(project.sets)[0] ?? '';
  const placement: Placement = {
    ...PLACEMENT_DEFAULTS,
    id: nextId(),
    revision: 'first',
    setId,
    name,
    piece,
    positionM,
  };
  project = { ...project, placements: { ...project.placements, [placement.id]: placement } };
}

describe('could it be rigged', () => {
  it('finds a wall that is nearer than a camera takes, and how near, in which frames', () => {
    put('wall', { kind: 'box', widthM: 4, heightM: 3, depthM: 0.2 }, [0, 0, 5]);
    const { cameraId } = shotOn(a, 0, 4);
    const back = [0, 95].map((at, i) => ({ atFlicks: frame(240 + at), value: 4 + i * 0.8, shape: 'linear' as const }));
    take(setCurves(project, cameraId, 'Back', { positionZ: back }, 0));
    const [trouble] = riggingOf(project, cutOf(project, SEQUENCE_ID).shots[0]!);
    // The wall's face is at 4.9 m, and the camera comes to 4.8.
    expect(trouble).toMatchObject({ kind: 'too-near', toFrame: 1001 + 95, shotFrame: 95 });
    expect(trouble?.message).toContain('wall is 0.10 m from the camera, which takes 0.25 m');
    // It is nearer than 0.25 m from 4.65 m on: 0.65 of 0.8 m of 95 frames.
    expect(Math.abs((trouble?.fromFrame ?? 0) - 1001 - (0.65 / 0.8) * 95)).toBeLessThan(1);
  });

  it('finds a camera that is lower over the ground than its body takes, and none that is beside it', () => {
    const lowAt = (heightM: number, widthM = 30) => {
      ({ project, a, b } = twoFigures());
      put('floor', { kind: 'ground', widthM, depthM: 30 }, [0, 0, 0]);
      shotOn(a, 0, 4, { heightM });
      return riggingOf(project, cutOf(project, SEQUENCE_ID).shots[0]!).map(({ message }) => message);
    };
    expect(lowAt(0.2)).toEqual([expect.stringContaining('the camera has 0.20 m over floor, and takes 0.25 m')]);
    expect(lowAt(0.26)).toEqual([]);
    // The camera stands a metre west of the middle: 0.2 m off a ground of 1.6 m, 0.3 m off one of 1.4 m.
    expect(lowAt(-0.5, 1.6)).toHaveLength(1);
    expect(lowAt(-0.5, 1.4)).toEqual([]);
  });

  it.each(['distance', 'share'] as const)('finds a dolly that would leave its track, by %s', (by) => {
    const { cameraId } = shotOn(a, 0, 4);
    const track: RigOf<'rail'> = {
      kind: 'rail',
      ...RIG_DEFAULTS.base,
      nodesM: [
        [0, 0, 4],
        [4, 0, 4],
      ],
      straight: [true],
      closed: false,
      by,
      along: 0,
      cameraM: RIG_DEFAULTS.railCameraM,
    };
    project = {
      ...project,
      cameras: { ...project.cameras, [cameraId]: { ...project.cameras[cameraId]!, rig: track } },
    };
    const at = (along: number) => {
      const there = after(
        project,
        keyChannels(project, cameraId, { along: by === 'share' ? along * 25 : along }, frame(240)),
      );
      return riggingOf(there, cutOf(there, SEQUENCE_ID).shots[0]!).filter(({ kind }) => kind === 'off-the-rail');
    };
    expect([at(0), at(4)]).toEqual([[], []]);
    expect([at(-0.5), at(4.4)].map(([one]) => one?.message)).toEqual([
      expect.stringContaining('0.50 m past the end'),
      expect.stringContaining('0.40 m past the end'),
    ]);
  });

  it('names what the arm of a crane goes through, over the frames in which it does', () => {
    const { cameraId } = shotOn(a, 0, 4);
    const crane = {
      kind: 'crane',
      ...RIG_DEFAULTS.base,
      atM: [3, 0, 6],
      columnM: 1.5,
      riserM: 0.3,
      swingDeg: -60,
      pitchDeg: 5,
      armM: 4,
    };
    take(setCamera(project, cameraId, 'Rig', { rig: crane as never }));
    const [placed] = cutOf(project, SEQUENCE_ID).shots;
    const taken = rigRooms(project, placed!, 12);
    expect(taken.map(({ shotFrame }) => shotFrame)).toEqual(Array.from({ length: 12 }, (_, i) => i * 8));
    expect(new Set(taken[0]?.parts.map(({ kind }) => kind))).toEqual(new Set(['arm', 'column']));
    const met = taken.map(({ parts }, i) => ({
      near: undefined,
      through: parts.map(({ kind }) => (kind === 'arm' && i > 2 && i < 6 ? b.id : undefined)),
    }));
    const [trouble] = rigRoomTroubles(project, placed!, taken, met);
    expect(trouble?.message).toBe('the arm goes through B, frames 1025 to 1041');
  });
});

describe('coverage', () => {
  const found = (code: string) => findingsOf(project).find((one) => one.code === code);

  it('names what is missing, and each mend takes it away', () => {
    const one = shotOn(a, 0, 3);
    const two = shotOn(a, 60, 3);
    const push = [100, 130].map((at, i) => ({ atFlicks: frame(at), value: i, shape: 'linear' as const }));
    take(setCurves(project, one.cameraId, 'Move', { positionX: push }, 0));
    expect(found('still-shot')?.message).toContain('does not move in SH_010');
    take(found('still-shot')!.fix!(project));
    expect(found('still-shot')).toBeUndefined();
    expect(found('past-move')?.message).toContain('goes on for 65 frames after the move');
    take(found('past-move')!.fix!(project));
    expect(cutOf(project, SEQUENCE_ID).shots[0]?.frameCount).toBe(31);
    take(
      addShot(project, SEQUENCE_ID, {
        id: nextId(),
        cameraId: two.cameraId,
        sceneStartFlicks: frame(300),
        durationFlicks: frame(48),
      }),
    );
    expect(found('same-frames')?.message).toContain('shows 36 frames that SH_020 has shown');
    take(found('same-frames')!.fix!(project));
    expect(found('same-frames')).toBeUndefined();
    take(setEntry(project, two.shotId, { kind: 'dissolve', durationFlicks: frame(12), place: 'centred', ease: 0 }));
    while (found('handles-short')) take(found('handles-short')!.fix!(project));
    const lost = { ...showingOf(project.shots[two.shotId]!), cameraId: null, lostCamera: 'Old camera' };
    take(addTake(project, two.shotId, nextId(), lost));
    expect(found('take-lost')?.message).toContain('Old camera was deleted');
    take(found('take-lost')!.fix!(project));
    take(setShot(project, two.shotId, 'Name', { name: 'sh_010' }));
    expect(found('same-name')?.message).toBe('Two shots are called sh_010');
    take(found('same-name')!.fix!(project));
    const topics = findingsOf(project).filter(({ topic }) => topic === 'sequence');
    expect(topics).toEqual([]);
  });

  it('hands a piece that is thrown away to the next camera whose move goes on there, or to nobody', () => {
    const one = shotOn(a, 0, 3);
    const two = shotOn(a, 60, 3);
    const push = [240, 330].map((at, i) => ({ atFlicks: frame(at), value: i, shape: 'linear' as const }));
    take(setCurves(project, two.cameraId, 'Move', { positionX: push }, 0));
    take(throwPiece(project, one.shotId, one.cameraId, true));
    expect(project.shots[one.shotId]).toMatchObject({ cameraId: two.cameraId, without: [one.cameraId] });
    take(throwPiece(project, one.shotId, two.cameraId, true));
    expect(project.shots[one.shotId]).toMatchObject({ cameraId: null, without: [one.cameraId, two.cameraId] });
    expect(found('shot-without-camera')).toBeDefined();
  });
});

describe('one camera of a cut', () => {
  it('is where the cut is at every frame, and steps at the joint', () => {
    const one = shotOn(a, 0, 3, { mm: 35 });
    const two = shotOn(b, -50, 3, { mm: 85 });
    const push = [240, 336].map((at, i) => ({ atFlicks: frame(at), value: 3 - i, shape: 'smooth' as const }));
    take(setCurves(project, one.cameraId, 'Move', { positionZ: push }, 0));
    take(setSpeed(project, one.shotId, 0.5, 'length'));
    const id = nextId();
    const { edit, leftOut } = conformCut(project, SEQUENCE_ID, id);
    take(edit);
    expect(leftOut).toEqual([]);
    const { shots } = cutOf(project, SEQUENCE_ID);
    for (const [index, placed, within] of [
      [0, shots[0], 0],
      [57, shots[0], 57],
      [95, shots[0], 95],
      [96, shots[1], 0],
      [191, shots[1], 95],
    ] as const) {
      const is = cameraAt(project, id, frame(index));
      const was = cameraAt(project, placed!.shot.cameraId ?? '', sceneTimeOf(placed!, within, RATE));
      is.positionM.forEach((value, axis) => expect(value).toBeCloseTo(was.positionM[axis] ?? NaN, 9));
      expect([is.lens.focalLengthMm, is.focus.fStop]).toEqual([was.lens.focalLengthMm, was.focus.fStop]);
    }
    // Between the last frame of one shot and the first of the next nothing moves.
    const between = cameraAt(project, id, frame(95) + frame(1) - 1);
    expect(between.positionM).toEqual(cameraAt(project, id, frame(95)).positionM);
    expect(two.cameraId).toBeDefined();
  });
});

describe('the shot list', () => {
  it('says what each shot is, the move in words, as CSV too', () => {
    const { cameraId } = shotOn(a, 0, 3, { mm: 35, frames: 72 });
    const push = [240, 311].map((at, i) => ({ atFlicks: frame(at), value: 3 - 1.5 * i, shape: 'linear' as const }));
    take(setCurves(project, cameraId, 'Push', { positionZ: push }, 0));
    const facts = shotFacts(project, SEQUENCE_ID);
    expect(facts[0]).toMatchObject({ lensMm: 35, subject: 'A', move: 'push in 1.50 m, 3 s', frames: 72 });
    expect(shotListCsv(project, facts, ['name', 'lens', 'move', 'frames'])).toBe(
      'Shot,Lens,Move,Frames\r\nSH_010,35,"push in 1.50 m, 3 s",72\r\n',
    );
  });
});

describe('sound', () => {
  const file: SoundFile = { kind: 'sound', hash: 'a'.repeat(64), bytes: 1, durationS: 10, mediaType: 'audio/wav' };
  let soundId: string;
  beforeEach(() => {
    shotOn(a, 0, 3, { frames: 240 });
    soundId = nextId();
    take(addSound(project, SEQUENCE_ID, { soundId, assetId: nextId(), name: 'bell', file, startFlicks: frame(48) }));
  });
  const sounds = () => audible(Object.values(project.sounds), project.sequences[SEQUENCE_ID]!);
  const at = (seconds: number) => seconds * FLICKS_PER_SECOND;
  const places = (parts: readonly HeardPart[]) =>
    parts.map(({ at: begins, fileFrom, count }) => [begins, fileFrom, count].map((samples) => samples / SOUND_RATE));

  it('is heard where it lies, faded evenly at its ends, round and round where it loops', () => {
    take(setSound(project, soundId, 'Fades', { trimS: 1, lengthS: 4, fadeInS: 2, fadeOutS: 1, gainDb: -6 }));
    const played = { firstFlicks: 0, endFlicks: at(10), startFlicks: at(3), loops: true };
    const [part] = heardBetween(sounds(), played, 0, 2 * SOUND_RATE);
    expect(part).toMatchObject({ at: 0, count: 2 * SOUND_RATE, fileFrom: 2 * SOUND_RATE });
    const half = 10 ** (-6 / 20) / 2;
    expect(part?.gains).toEqual([
      [0, expect.closeTo(half, 9)],
      [SOUND_RATE, expect.closeTo(2 * half, 9)],
      [2 * SOUND_RATE, expect.closeTo(2 * half, 9)],
    ]);
    // It ends at 6 s of the cut, and is heard again a round later.
    expect(heardBetween(sounds(), played, 3 * SOUND_RATE, 8.5 * SOUND_RATE)).toEqual([]);
    expect(places(heardBetween(sounds(), played, 8 * SOUND_RATE, 10 * SOUND_RATE))).toEqual([[9, 1, 1]]);
  });

  it('follows itself to the sample at any seam of any loop, at any rate, and never strays from the pictures', () => {
    take(setSound(project, soundId, 'All of it', { startFlicks: 0, fadeInS: 0, fadeOutS: 0, trimS: 0, lengthS: 10 }));
    const rates = [
      ...[24, 30, 60].map((frames) => ({ frames, seconds: 1 })),
      ...[24_000, 30_000, 60_000].map((frames) => ({ frames, seconds: 1001 })),
    ] as const;
    fc.assert(
      fc.property(
        fc.constantFrom(...rates),
        fc.integer({ min: 0, max: 100 }),
        fc.integer({ min: 1, max: 120 }),
        fc.integer({ min: 0, max: 119 }),
        fc.integer({ min: 1, max: 70_000 }),
        (rate, first, length, into, chunk) => {
          const [firstFlicks, endFlicks] = [first, first + length].map((one) => flicksAtFrame(one, rate)) as [
            number,
            number,
          ];
          const startFlicks = flicksAtFrame(first + (into % length), rate);
          const played = { firstFlicks, endFlicks, startFlicks, loops: true };
          const parts = Array.from({ length: 40 }, (_, i) =>
            heardBetween(sounds(), played, i * chunk, (i + 1) * chunk),
          ).flat();
          let heard = 0;
          for (const { at: begins, count, fileFrom } of parts) {
            expect(begins).toBe(heard);
            heard += count;
            const sceneFlicks = (startFlicks - firstFlicks + begins * 14_700) % (endFlicks - firstFlicks);
            const apart = Math.abs(fileFrom * 14_700 - firstFlicks - sceneFlicks);
            expect(Math.min(apart, endFlicks - firstFlicks - apart)).toBeLessThanOrEqual(14_700);
          }
          expect(heard).toBe(40 * chunk);
        },
      ),
      { numRuns: 300 },
    );
  });

  it('is divided without a gap, and what is muted is not heard', () => {
    const rest = nextId();
    take(splitSound(project, soundId, frame(96), rest));
    const played = { firstFlicks: 0, endFlicks: at(20), startFlicks: 0, loops: false };
    expect(places(heardBetween(sounds(), played, 0, 20 * SOUND_RATE))).toEqual([
      [2, 0, 2],
      [4, 2, 8],
    ]);
    take(setSequence(project, SEQUENCE_ID, 'Mute', { mutedLanes: [0] }));
    expect(sounds()).toEqual([]);
  });

  it('gives markers that joints are rolled to', () => {
    shotOn(a, 60, 3, { frames: 100 });
    take(
      addMarkers(project, SEQUENCE_ID, [
        { id: nextId(), atFlicks: frame(233) },
        { id: nextId(), atFlicks: frame(20) },
      ]),
    );
    take(joinToMarkers(project, SEQUENCE_ID, 10));
    expect(cutOf(project, SEQUENCE_ID).shots.map(({ frameCount }) => frameCount)).toEqual([233, 107]);
  });
});
