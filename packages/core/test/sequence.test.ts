import fc from 'fast-check';
import { beforeEach, describe, expect, it } from 'vitest';
import { CoreError } from '../src/error';
import type { Edit } from '../src/edits';
import { deleteCamera, makeCamera } from '../src/edits/camera';
import {
  addMarkers,
  addSequence,
  addShot,
  addSound,
  addTake,
  closeGap,
  copiedShots,
  cutToCameras,
  deleteSequence,
  deleteShots,
  fitAction,
  holdFrame,
  moveShots,
  nameAfter,
  pickTake,
  promoteTake,
  putShots,
  renumberShots,
  reverseShot,
  rollJoint,
  setContinues,
  setEntry,
  setFadeOut,
  setRamp,
  setShot,
  setSound,
  setSpeed,
  shotOfCamera,
  showingOf,
  slideShot,
  slipShots,
  splitShot,
  trimEnd,
  trimStart,
  withAction,
  withoutSound,
} from '../src/edits/sequence';
import { keyChannels } from '../src/edits/move';
import { changeRate } from '../src/edits/project';
import type { Project, Retime, Shot, SoundFile } from '../src/model';
import { applied, applyChange, CUT, shotsInOrder, TRUE_SPEED } from '../src/model';
import type { CameraLayer, CutShot } from '../src/sequence';
import {
  cameraLane,
  cutOf,
  dissolveWeight,
  pictureAt,
  sceneEndOf,
  sceneGoneBy,
  sceneTimeAround,
  sceneTimeOf,
  shotFrameAt,
  speedAfter,
  whenGoneBy,
} from '../src/sequence';
import { flicksAtFrame, framesInFlicks, framesPerSecond } from '../src/time';
import { after, emptyProject, nextId, SEQUENCE_ID } from './sample-project';

const RATE = { frames: 24, seconds: 1 };
const frame = (index: number) => flicksAtFrame(index, RATE);

/** Four cameras, and a cut of them over one action: lengths in frames; all but the first go on from the one before. */
function covered(lengths: readonly number[]) {
  let project = emptyProject();
  const cameras = [0, 1, 2, 3].map(() => nextId());
  for (const id of cameras) {
    project = after(project, makeCamera(project, id, { positionM: [1, 2, 3], panDeg: 0, tiltDeg: 0, rollDeg: 0 }));
  }
  let start = 100;
  lengths.forEach((length, i) => {
    const cameraId = cameras[i % 4] ?? null;
    const shot = { id: nextId(), cameraId, sceneStartFlicks: frame(start), durationFlicks: frame(length) };
    project = after(project, addShot(project, SEQUENCE_ID, { ...shot, continues: i > 0 }));
    start += length;
  });
  return { project, cameras };
}

let project: Project;
let cameras: string[];
beforeEach(() => ({ project, cameras } = covered([50, 40, 30, 60])));

const shots = (of = project) => cutOf(of, SEQUENCE_ID).shots;
const shotAt = (index: number, of = project) => shots(of)[index] as CutShot;
const idAt = (index: number, of = project) => shotAt(index, of).shot.id;
const lengths = (of = project) => shots(of).map(({ frameCount }) => frameCount);
const starts = (of = project) => shots(of).map(({ sceneStartFlicks }) => sceneStartFlicks / frame(1));
const take = (edit: Edit) => (project = after(project, edit));
const layersAt = (at: number) => pictureAt(project, SEQUENCE_ID, at)?.layers ?? [];

describe('tightening a cut', () => {
  it('changes one shot: what goes on with its action shows what it showed, unless it is asked to go along', () => {
    take(trimEnd(project, idAt(0), -10, { ripple: true }));
    expect([lengths(), starts()]).toEqual([
      [40, 40, 30, 60],
      [100, 150, 190, 220],
    ]);
    take(trimStart(project, idAt(1), 5, { ripple: true }));
    expect([lengths(), starts()]).toEqual([
      [40, 35, 30, 60],
      [100, 155, 190, 220],
    ]);
    expect(shots().map(({ shot }) => shot.continues)).toEqual([false, false, true, true]);
    ({ project } = covered([50, 40, 30, 60]));
    for (const edit of [
      slipShots(project, [idAt(1)], 21),
      reverseShot(project, idAt(1)),
      setSpeed(project, idAt(1), 0.5, 'length'),
    ]) {
      expect(starts(after(project, edit)).slice(2), edit.name).toEqual([190, 220]);
    }
    const slipped = withAction(project, SEQUENCE_ID, slipShots(project, [idAt(1)], 21));
    expect([slipped.name, starts(after(project, slipped))]).toEqual([
      `Slip ${shotAt(1).shot.name} by +21 frames (2 shots go along)`,
      [100, 171, 211, 241],
    ]);
  });

  it('takes sound and markers along with the picture they begin in', () => {
    const file: SoundFile = { kind: 'sound', hash: 'a'.repeat(64), bytes: 1, durationS: 9, mediaType: 'audio/wav' };
    const [line, music, marker] = [nextId(), nextId(), nextId()];
    const laid = (soundId: string, at: number) =>
      addSound(project, SEQUENCE_ID, { soundId, assetId: nextId(), name: 'it', file, startFlicks: frame(at) });
    take(laid(line, 95));
    take(setSound(project, line, 'Length', { lengthS: 0.5 }));
    take(laid(music, 0));
    take(addMarkers(project, SEQUENCE_ID, [{ id: marker, atFlicks: frame(125) }]));
    const heard = (of: Project) =>
      [line, music]
        .map((id) => (of.sounds[id]?.startFlicks ?? 0) / frame(1))
        .concat((of.markers[marker]?.atFlicks ?? 0) / frame(1));
    const told = (edit: Edit) => heard(after(project, edit));
    // The line is 5 frames into the third shot, the marker 5 into the fourth; the music lies under all of them.
    expect(heard(project)).toEqual([95, 0, 125]);
    expect(told(trimEnd(project, idAt(0), -10, { ripple: true }))).toEqual([85, 0, 115]);
    expect(told(trimStart(project, idAt(2), 3, { ripple: true }))).toEqual([92, 0, 122]);
    expect(told(trimStart(project, idAt(2), 3, { ripple: false }))).toEqual([95, 0, 125]);
    expect(told(deleteShots(project, [idAt(1)], { close: true }))).toEqual([55, 0, 85]);
    expect(told(deleteShots(project, [idAt(2)], { close: true }))).toEqual([90, 0, 95]);
    expect(told(deleteShots(project, [idAt(1)], { close: false }))).toEqual([95, 0, 125]);
    expect(told(setSpeed(project, idAt(1), 0.5, 'action'))).toEqual([135, 0, 165]);
    // The first shot moved to the end: the line goes with its picture, the music stays.
    expect(told(moveShots(project, [idAt(0)], 3))).toEqual([45, 0, 75]);
    expect(told(withoutSound(trimEnd(project, idAt(0), -10, { ripple: true })))).toEqual([95, 0, 125]);
  });

  it('rolls, slips and slides without touching anything else', () => {
    take(rollJoint(project, idAt(1), 8));
    expect([lengths(), starts()]).toEqual([
      [58, 32, 30, 60],
      [100, 158, 190, 220],
    ]);
    expect(shotAt(1).shot.continues).toBe(true);
    take(slipShots(project, [idAt(3)], -12));
    expect([lengths(), starts()]).toEqual([
      [58, 32, 30, 60],
      [100, 158, 190, 208],
    ]);
    take(slideShot(project, idAt(2), 6));
    expect([lengths(), starts()]).toEqual([
      [58, 38, 30, 54],
      [100, 158, 190, 214],
    ]);
  });

  it('opens a gap without ripple, and closes it again', () => {
    take(trimEnd(project, idAt(1), -10, { ripple: false }));
    expect(shotAt(2)).toMatchObject({ startFrame: 90, gapFrames: 10 });
    expect(pictureAt(project, SEQUENCE_ID, 85)).toMatchObject({ shot: undefined, cameraId: null });
    expect(layersAt(85)).toEqual([{ kind: 'colour', weight: 1, colour: '#000000' }]);
    expect(() => trimEnd(project, idAt(1), 11, { ripple: false })).toThrow(/begins 10 frames after/);
    take(trimEnd(project, idAt(1), 4, { ripple: false }));
    take(closeGap(project, idAt(2)));
    expect(lengths().reduce((sum, one) => sum + one)).toBe(cutOf(project, SEQUENCE_ID).frameCount);
  });

  it('refuses what leaves no frame, and says whose', () => {
    expect(() => trimEnd(project, idAt(2), -30, { ripple: true })).toThrow('SH_030 would have no frame left');
    expect(() => rollJoint(project, idAt(0), 3)).toThrow('no joint to roll');
    expect(() => trimStart(project, idAt(0), -101, { ripple: true })).toThrow('has not begun');
  });

  it('lets shots that are left show what they showed when others go or change places', () => {
    const shown = (of: Project) =>
      new Map(shots(of).map(({ shot, sceneStartFlicks }) => [shot.name, sceneStartFlicks]));
    const before = shown(project);
    for (const close of [true, false]) {
      const left = after(project, deleteShots(project, [idAt(1)], { close }));
      for (const [name, start] of shown(left)) expect(start, name).toBe(before.get(name));
      expect(cutOf(left, SEQUENCE_ID).frameCount).toBe(close ? 140 : 180);
    }
    expect(shown(after(project, moveShots(project, [idAt(3), idAt(2)], 0)))).toEqual(before);
    expect(starts(after(project, moveShots(project, [idAt(3), idAt(2)], 0)))).toEqual([190, 220, 100, 150]);
  });

  it('of any edits in any order, it stays without a gap where they ripple, is as long as they say, and is taken back', () => {
    type Step = (of: Project, pick: number, by: number) => readonly [Edit, number] | undefined;
    const steps: readonly Step[] = [
      (of, pick, by) => [trimEnd(of, idAt(pick, of), by, { ripple: true }), by],
      (of, pick, by) => [trimStart(of, idAt(pick, of), by, { ripple: true }), -by],
      (of, pick, by) => [rollJoint(of, idAt(pick, of), by), 0],
      (of, pick, by) => [slipShots(of, [idAt(pick, of)], by), 0],
      (of, pick) => [moveShots(of, [idAt(pick, of)], (pick * 7) % shots(of).length), 0],
      (of, pick) => [deleteShots(of, [idAt(pick, of)], { close: true }), -shotAt(pick, of).frameCount],
      (of, pick, by) => {
        const { startFrame, frameCount } = shotAt(pick, of);
        return frameCount < 2
          ? undefined
          : [splitShot(of, SEQUENCE_ID, startFrame + 1 + (Math.abs(by) % (frameCount - 1)), nextId()), 0];
      },
      (of, pick) => [
        putShots(of, SEQUENCE_ID, copiedShots(of, [idAt(pick, of)]), idAt(pick, of), nextId),
        shotAt(pick, of).frameCount,
      ],
      (of, pick, by) => [
        cutToCameras(
          of,
          SEQUENCE_ID,
          [{ frame: shotAt(pick, of).startFrame + (Math.abs(by) % 9), cameraId: cameras[Math.abs(by) % 4] ?? '' }],
          nextId,
        ),
        0,
      ],
      (of, pick) => [setContinues(of, idAt(pick, of), true), 0],
      (of, pick) => [reverseShot(of, idAt(pick, of)), 0],
    ];
    const content = (of: Project) => ({
      shots: shotsInOrder(of, SEQUENCE_ID).map((shot) => ({ ...shot, revision: '' })),
    });
    const step = fc.tuple(
      fc.nat(steps.length - 1),
      fc.nat(100),
      fc.integer({ min: -20, max: 20 }).filter((by) => by !== 0),
    );
    fc.assert(
      fc.property(fc.array(step, { maxLength: 12 }), (taken) => {
        let now = project;
        for (const [which, pick, by] of taken) {
          if (shots(now).length === 0) break;
          let made: readonly [Edit, number] | undefined;
          try {
            made = steps[which]?.(now, pick % shots(now).length, by);
          } catch (error) {
            expect(error).toBeInstanceOf(CoreError); // refused in words: nothing has changed
          }
          if (!made || made[0].operations.length === 0) continue;
          const change = { id: nextId(), name: made[0].name, operations: [...made[0].operations] };
          const { project: next, inverse } = applied(now, change);
          expect(cutOf(next, SEQUENCE_ID).frameCount).toBe(cutOf(now, SEQUENCE_ID).frameCount + made[1]);
          expect(shots(next).every(({ gapFrames }) => gapFrames === 0)).toBe(true);
          const back = applyChange(next, { id: nextId(), name: 'Undo', operations: inverse });
          expect(content(back)).toEqual(content(now));
          now = next;
        }
      }),
      { numRuns: 150 },
    );
  });
});

describe('cutting among cameras on one action', () => {
  it('changes on the frame of the stroke, the action going on, and leaves no joint that nobody sees', () => {
    const { project: whole, cameras: four } = covered([200]);
    const [one, two, three] = four as [string, string, string];
    const strokes = [
      { frame: 40, cameraId: two },
      { frame: 90, cameraId: three },
      { frame: 120, cameraId: one },
      { frame: 150, cameraId: one },
    ];
    project = after(whole, cutToCameras(whole, SEQUENCE_ID, strokes, nextId));
    expect(shots().map(({ startFrame, shot }) => [startFrame, shot.cameraId])).toEqual([
      [0, one],
      [40, two],
      [90, three],
      [120, one],
    ]);
    for (const at of [0, 39, 40, 89, 90, 119, 120, 199]) {
      expect(pictureAt(project, SEQUENCE_ID, at)?.sceneFlicks).toBe(frame(100 + at));
    }
    // A second pass goes over the first from its first stroke to its last, and to the end of the shot there.
    take(
      cutToCameras(
        project,
        SEQUENCE_ID,
        [
          { frame: 40, cameraId: one },
          { frame: 100, cameraId: two },
        ],
        nextId,
      ),
    );
    expect(shots().map(({ startFrame, shot }) => [startFrame, shot.cameraId])).toEqual([
      [0, one],
      [100, two],
      [120, one],
    ]);
  });

  it('shows of a camera that comes next what its move has to show: the rest of it, or all of it', () => {
    const [cameraId = ''] = cameras;
    const before = shotAt(3); // its action ends at frame 280
    const next = (from: number, to: number, comesAfter?: CutShot) => {
      const keyed = [from, to].reduce(
        (now, at) => after(now, keyChannels(now, cameraId, { positionX: at }, frame(at))),
        project,
      );
      const made = shotOfCamera(keyed, cameraId, nextId(), comesAfter, frame(7));
      return [made.sceneStartFlicks / frame(1), made.durationFlicks / frame(1), made.continues];
    };
    expect(next(200, 339, before)).toEqual([280, 60, true]);
    expect(next(280, 339, before)).toEqual([280, 60, true]);
    expect(next(300, 339, before)).toEqual([300, 40, false]);
    expect(next(10, 280, before)).toEqual([10, 271, false]);
    expect(next(10, 280)).toEqual([10, 271, false]);
    expect(next(10, 10, before)).toEqual([280, 96, true]);
    expect(next(10, 10)).toEqual([7, 96, false]);
  });

  it('names what is split so that it sorts between its neighbours', () => {
    take(splitShot(project, SEQUENCE_ID, 60, nextId()));
    expect(shots().map(({ shot }) => shot.name)).toEqual(['SH_010', 'SH_020', 'SH_025', 'SH_030', 'SH_040']);
    expect(nameAfter('wide', new Set(['wide', 'widea']))).toBe('wideb');
    expect(() => splitShot(project, SEQUENCE_ID, 50, nextId())).toThrow('at a joint');
    take(renumberShots(project, SEQUENCE_ID, { pattern: 'SL_###', first: 10, step: 10 }));
    expect(shots().map(({ shot }) => shot.name)).toEqual(['SL_010', 'SL_020', 'SL_030', 'SL_040', 'SL_050']);
    expect(() => renumberShots(project, SEQUENCE_ID, { pattern: 'SL', first: 1, step: 1 })).toThrow('one place');
  });
});

describe('another frame rate', () => {
  it('keeps every joint within half a frame of its second, however many shots come before it', () => {
    // Each shot has a scene time of its own, on round marks: what rounds there says nothing of the cut.
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 1, max: 90 }), fc.integer({ min: 0, max: 20 })), {
          minLength: 1,
          maxLength: 60,
        }),
        fc.constantFrom(
          { frames: 30, seconds: 1 },
          { frames: 25, seconds: 1 },
          { frames: 60, seconds: 1 },
          { frames: 24000, seconds: 1001 },
        ),
        (lengths, rate) => {
          let many = emptyProject();
          lengths.forEach(([length, gap], i) => {
            const shot = {
              id: nextId(),
              cameraId: null,
              sceneStartFlicks: frame(100 * i),
              durationFlicks: frame(length),
            };
            many = after(many, addShot(many, SEQUENCE_ID, { ...shot, gapFlicks: frame(gap) }));
          });
          const joints = (of: Project) =>
            cutOf(of, SEQUENCE_ID).shots.map(({ startFrame }) => startFrame / framesPerSecond(of.head.rate));
          const next = after(many, changeRate(many, rate, 'seconds', { along: 'both' }));
          const half = 0.5 / framesPerSecond(rate) + 1e-9;
          joints(next).forEach((second, i) =>
            expect(Math.abs(second - (joints(many)[i] ?? NaN))).toBeLessThanOrEqual(half),
          );
        },
      ),
      { numRuns: 40 },
    );
  });
});

describe('a sequence inside another', () => {
  it('goes on in the handles of the shot that shows it, so a dissolve out of it has its frames', () => {
    const outer = nextId();
    take(addSequence(project, outer, 'Outer'));
    const [inside, next] = [nextId(), nextId()];
    const length = shots().reduce((sum, { frameCount }) => sum + frameCount, 0);
    const shot = { cameraId: null, sceneStartFlicks: 0, durationFlicks: frame(length) };
    take(addShot(project, outer, { ...shot, id: inside, insideId: SEQUENCE_ID }));
    take(addShot(project, outer, { ...shot, id: next, cameraId: cameras[0] ?? null, durationFlicks: frame(40) }));
    take(setEntry(project, next, { kind: 'dissolve', durationFlicks: frame(12), place: 'centred', ease: 0 }));
    for (let at = length - 8; at < length + 8; at++) {
      const layers = pictureAt(project, outer, at)?.layers ?? [];
      expect(
        layers.map(({ kind }) => kind),
        String(at),
      ).not.toContain('colour');
    }
    // Its own last shot goes on there: two frames past its end is two frames later in the scene.
    const past = pictureAt(project, outer, length + 2)?.layers[0] as CameraLayer;
    expect(past.cameraId).toBe(shotAt(3).shot.cameraId);
    expect(past.sceneFlicks - shotAt(3).sceneStartFlicks).toBe(frame(shotAt(3).frameCount + 2));
  });
});

describe('takes', () => {
  it('come into the cut at the length that is chosen, and what was there waits', () => {
    const shot = () => project.shots[idAt(1)] as Shot;
    const other = { ...showingOf(shot()), cameraId: cameras[3] ?? null, durationFlicks: frame(55) };
    const takeId = nextId();
    take(addTake(project, shot().id, takeId, other));
    expect(shot().takes.map(({ name }) => name)).toEqual(['b']);
    const longer = after(project, pickTake(project, shot().id, takeId, 'its own', nextId()));
    expect(lengths(longer)).toEqual([50, 55, 30, 60]);
    expect(starts(longer)).toEqual([100, 150, 190, 220]);
    const ownId = nextId();
    take(pickTake(project, shot().id, takeId, 'the shot’s', ownId));
    expect([lengths(), shot().takeName, shot().cameraId]).toEqual([[50, 40, 30, 60], 'b', cameras[3]]);
    expect(shot().takes[0]).toMatchObject({ id: ownId, name: 'a', cameraId: cameras[1] });
    take(promoteTake(project, shot().id, ownId, nextId()));
    expect([lengths(), shotAt(2).shot.name, shotAt(1).shot.takes]).toEqual([[50, 40, 40, 30, 60], 'SH_025', []]);
  });

  it('whose camera is deleted say whose it was', () => {
    const shotId = idAt(0);
    take(addTake(project, shotId, nextId(), { ...showingOf(shotAt(0).shot), cameraId: cameras[3] ?? null }));
    const { name } = project.cameras[cameras[3] ?? '']!;
    take(deleteCamera(project, cameras[3] ?? ''));
    expect(project.shots[shotId]?.takes[0]).toMatchObject({ cameraId: null, lostCamera: name });
    expect(shotAt(3).shot).toMatchObject({ cameraId: null, lostCamera: name });
  });
});

/** Speeds as people type them: six digits are more than anybody does. */
const anySpeed = (most: number) =>
  fc.integer({ min: -most * 1e6, max: most * 1e6 }).map((millionths) => millionths / 1e6);

const anyRetime: fc.Arbitrary<Retime> = fc.record({
  speed: anySpeed(4),
  ramp: fc
    .array(
      fc.tuple(
        fc.integer({ min: -20, max: 120 }),
        anySpeed(3),
        fc.constantFrom('even' as const, 'eased' as const, 'held' as const),
      ),
      { maxLength: 4 },
    )
    .map((keys) =>
      [...new Map(keys.map((key) => [key[0], key])).values()]
        .sort((a, b) => a[0] - b[0])
        .map(([at, speed, ease]) => ({ afterFlicks: frame(at), speed, ease })),
    ),
  holds: fc
    .array(fc.tuple(fc.integer({ min: 0, max: 90 }), fc.integer({ min: 1, max: 20 })), { maxLength: 2 })
    .map((holds) => holds.map(([at, long]) => ({ afterFlicks: frame(at), durationFlicks: frame(long) }))),
});

describe('retiming', () => {
  it('goes by as the area under the speed says: 24 frames from 100 % to 0 are 12', () => {
    for (const ease of ['even', 'eased'] as const) {
      const ramp = [
        { afterFlicks: 0, speed: 1, ease },
        { afterFlicks: frame(24), speed: 0, ease },
      ];
      expect(sceneGoneBy({ ...TRUE_SPEED, ramp }, frame(24))).toBeCloseTo(frame(12), 0);
      expect(sceneGoneBy({ ...TRUE_SPEED, ramp }, frame(40))).toBeCloseTo(frame(12), 0);
    }
    // A quarter of the way u − u²/2, and u − u³ + u⁴/2.
    const quarter = (ease: 'even' | 'eased') =>
      sceneGoneBy(
        {
          ...TRUE_SPEED,
          ramp: [
            { afterFlicks: 0, speed: 1, ease },
            { afterFlicks: frame(24), speed: 0, ease },
          ],
        },
        frame(6),
      ) / frame(24);
    expect(quarter('even')).toBeCloseTo(0.21875, 9);
    expect(quarter('eased')).toBeCloseTo(0.236328125, 9);
  });

  it('is the sum of its speeds, and its inverse finds the first time', () => {
    fc.assert(
      fc.property(anyRetime, fc.integer({ min: 1, max: 150 }), (retime, length) => {
        const until = frame(length);
        const parts = 4000;
        let sum = 0;
        for (let i = 0; i < parts; i++) sum += speedAfter(retime, ((i + 0.5) * until) / parts) * (until / parts);
        expect(Math.abs(sceneGoneBy(retime, until) - sum)).toBeLessThan(until / 400);
        const at = until * 0.6180339;
        const gone = sceneGoneBy(retime, at);
        const found = whenGoneBy(retime, gone, until);
        expect(found).toBeDefined();
        expect(Math.abs(sceneGoneBy(retime, found ?? NaN) - gone)).toBeLessThan(1);
        expect(found).toBeLessThanOrEqual(at + 1);
      }),
    );
  });

  it('turns a shot round: every frame is shown again, last first', () => {
    fc.assert(
      fc.property(anyRetime, fc.integer({ min: 2, max: 80 }), (retime, length) => {
        const base = shotAt(0);
        const shot = { ...base.shot, retime, durationFlicks: frame(length), sceneStartFlicks: frame(4000) };
        const begun: Project = { ...project, shots: { [shot.id]: shot } };
        const turned = after(begun, reverseShot(begun, shot.id));
        const [was, is] = [
          cutOf(begun, SEQUENCE_ID).shots[0] as CutShot,
          cutOf(turned, SEQUENCE_ID).shots[0] as CutShot,
        ];
        for (let i = 0; i < length; i += 7) {
          const difference = sceneTimeOf(is, i, RATE) - sceneTimeOf(was, length - 1 - i, RATE);
          expect(Math.abs(difference)).toBeLessThan(20); // a jump of speed is two keys a flick apart
        }
      }),
      { numRuns: 60 },
    );
  });

  it('holds frames, fits an action into a length, and blurs as much less as it is slower', () => {
    take(holdFrame(project, idAt(0), 10, 6));
    const seen = (at: number) => (pictureAt(project, SEQUENCE_ID, at)?.sceneFlicks ?? NaN) / frame(1);
    expect([9, 10, 13, 16, 17, 55].map(seen)).toEqual([109, 110, 110, 110, 111, 149]);
    expect(seen(56)).toBe(150);
    take(setSpeed(project, idAt(1), 0.5, 'action'));
    expect(shotAt(1).frameCount).toBe(80);
    take(fitAction(project, idAt(1), 100));
    expect([shotAt(1).frameCount, shotAt(1).shot.retime.speed, sceneEndOf(shotAt(1))]).toEqual([100, 0.4, frame(190)]);
    const [layer] = layersAt(70) as CameraLayer[];
    expect(sceneTimeAround(layer!, frame(0.5)) - layer!.sceneFlicks).toBe(frame(0.2));
    expect(shotFrameAt(shotAt(1), sceneTimeOf(shotAt(1), 33, RATE), RATE)).toBe(33);
    const held = layersAt(12)[0] as CameraLayer;
    expect(sceneTimeAround(held, frame(0.5))).toBe(held.sceneFlicks);
    expect(() => setSpeed(project, idAt(1), 0, 'action')).toThrow('A still shows no action');
    take(setRamp(project, idAt(2), [{ afterFlicks: 0, speed: 2, ease: 'even' }]));
    expect(sceneEndOf(shotAt(2)) - shotAt(2).sceneStartFlicks).toBe(frame(60));
  });
});

describe('a retimed shot', () => {
  it('is found again by the scene time of each of its frames, however slow', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 400 }), fc.nat(39), (percent, at) => {
        const slow = after(project, setSpeed(project, idAt(1), percent / 100, 'length'));
        const placed = shotAt(1, slow);
        expect(shotFrameAt(placed, sceneTimeOf(placed, at, RATE), RATE)).toBe(at);
      }),
    );
  });

  it('shows of a sequence within it the frame that it stands on', () => {
    const outer = nextId();
    take(addSequence(project, outer, 'Outer'));
    const whole = {
      id: nextId(),
      insideId: SEQUENCE_ID,
      cameraId: null,
      sceneStartFlicks: 0,
      durationFlicks: frame(180),
    };
    take(addShot(project, outer, whole));
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 400 }), fc.nat(179), (percent, at) => {
        const slow = after(project, setSpeed(project, whole.id, percent / 100, 'length'));
        const [layer] = (pictureAt(slow, outer, at)?.layers ?? []) as CameraLayer[];
        const shown = Math.floor((at * percent) / 100);
        const [first] = (pictureAt(slow, SEQUENCE_ID, shown)?.layers ?? []) as CameraLayer[];
        if (first) expect([layer?.cameraId, layer?.shotFrame]).toEqual([first.cameraId, first.shotFrame]);
      }),
    );
    // Where it begins may be a rounded flick off, as after a change of rate that keeps seconds.
    const offGrid = after(project, setShot(project, whole.id, 'Start', { sceneStartFlicks: frame(10) - 1 }));
    expect((pictureAt(offGrid, outer, 5)?.layers[0] as CameraLayer).shotFrame).toBe(15);
    const back = after(project, reverseShot(project, whole.id));
    for (const at of [0, 1, 59, 60, 179]) {
      const [layer] = (pictureAt(back, outer, at)?.layers ?? []) as CameraLayer[];
      const [first] = (pictureAt(back, SEQUENCE_ID, 179 - at)?.layers ?? []) as CameraLayer[];
      expect([layer?.cameraId, layer?.shotFrame], `frame ${at}`).toEqual([first?.cameraId, first?.shotFrame]);
    }
  });
});

describe('transitions', () => {
  const dissolve = { kind: 'dissolve', durationFlicks: frame(12), place: 'centred', ease: 0 } as const;

  it('dissolve evenly about the joint, from handles of both shots', () => {
    take(setEntry(project, idAt(1), dissolve));
    expect(layersAt(43)).toHaveLength(1);
    const weights = Array.from({ length: 12 }, (_, i) => layersAt(44 + i).map(({ weight }) => weight));
    for (const [i, [out = 0, into = 0]] of weights.entries()) {
      expect(out + into).toBeCloseTo(1, 12);
      expect(into).toBeCloseTo((i + 1) / 13, 12);
    }
    expect(layersAt(56)).toHaveLength(1);
    const [first, second] = layersAt(45) as CameraLayer[];
    expect([first?.shotFrame, second?.shotFrame]).toEqual([45, -5]);
    expect([first?.sceneFlicks, second?.sceneFlicks]).toEqual([frame(145), frame(145)]); // the action goes on in both
    expect(dissolveWeight(5, 11, 1)).toBeCloseTo(0.5, 12);
    // One of an odd length has the frame more after its joint.
    const odd = after(project, setEntry(project, idAt(1), { ...dissolve, durationFlicks: frame(5) }));
    const both = (at: number) => pictureAt(odd, SEQUENCE_ID, at)?.layers.length === 2;
    expect([47, 48, 49, 50, 51, 52, 53].map(both)).toEqual([false, true, true, true, true, true, false]);
    expect(() => setEntry(project, idAt(0), dissolve)).toThrow('Use a fade');
    expect(() => setEntry(project, idAt(2), { ...dissolve, durationFlicks: frame(70) })).toThrow('SH_030 is shorter');
  });

  it('fade to a colour that stands alone on the last frame, and out of one from the first', () => {
    const fade = { durationFlicks: frame(10), place: 'before', ease: 0, colour: '#102030' } as const;
    take(setFadeOut(project, idAt(3), fade));
    take(setEntry(project, idAt(0), { kind: 'fade', ...fade, place: 'after' }));
    const colours = (at: number) => layersAt(at).find(({ kind }) => kind === 'colour')?.weight ?? 0;
    expect([169, 170, 174, 179].map(colours)).toEqual([0, 0.1, 0.5, 1]);
    expect([0, 5, 9, 10].map(colours).map((weight) => Number(weight.toFixed(9)))).toEqual([1, 0.5, 0.1, 0]);
    expect(() => setFadeOut(project, idAt(3), { ...fade, durationFlicks: frame(61) })).toThrow('shorter than its fade');
  });

  it('weigh 1 altogether whatever meets, and never show a frame of another shot after a cut', () => {
    const entry = fc.oneof(
      fc.constant(CUT),
      fc.record({
        kind: fc.constantFrom('dissolve' as const, 'fade' as const),
        durationFlicks: fc.integer({ min: 1, max: 24 }).map(frame),
        place: fc.constantFrom('before' as const, 'centred' as const, 'after' as const),
        ease: fc.double({ min: 0, max: 1, noNaN: true }),
        colour: fc.constant('#ffffff'),
      }),
    );
    fc.assert(
      fc.property(fc.array(entry, { minLength: 4, maxLength: 4 }), fc.boolean(), (entries, fades) => {
        let now = project;
        entries.forEach((one, i) => {
          now = after(
            now,
            setShot(now, idAt(i, now), 'Into', { entry: i === 0 && one.kind === 'dissolve' ? CUT : one }),
          );
          if (fades)
            now = after(
              now,
              setFadeOut(now, idAt(i, now), { durationFlicks: frame(8), place: 'centred', ease: 0, colour: '#000000' }),
            );
        });
        for (let at = 0; at < 180; at++) {
          const { layers = [] } = pictureAt(now, SEQUENCE_ID, at) ?? {};
          expect(layers.reduce((sum, { weight }) => sum + weight, 0)).toBeCloseTo(1, 9);
          expect(layers.every(({ weight }) => weight >= 0 && weight <= 1)).toBe(true);
        }
      }),
      { numRuns: 60 },
    );
  });
});

describe('sequences', () => {
  it('hold each other as shots, at any speed, and never themselves', () => {
    const inner = nextId();
    take(addSequence(project, inner, 'Arrival'));
    const holds = {
      id: nextId(),
      cameraId: null,
      insideId: SEQUENCE_ID,
      sceneStartFlicks: frame(40),
      durationFlicks: frame(40),
    };
    take(addShot(project, inner, holds));
    const seen = pictureAt(project, inner, 15);
    expect([seen?.cameraId, seen?.sceneFlicks]).toEqual([cameras[1], frame(155)]);
    take(setSpeed(project, holds.id, 0.5, 'length'));
    const [slow] = pictureAt(project, inner, 31)?.layers as CameraLayer[];
    expect([slow?.cameraId, slow?.sceneFlicks]).toEqual([cameras[1], frame(155.5)]);
    expect(sceneTimeAround(slow!, frame(1)) - slow!.sceneFlicks).toBe(frame(0.5));
    // It shows frames 40 to 59 at half the speed: the first camera's last ten, then ten of the second one.
    const lanes = cameras.slice(0, 2).map((id) => cameraLane(project, inner, id).used);
    expect(lanes.map(([span]) => [span?.from, span?.to])).toEqual([
      [0, 20],
      [20, 40],
    ]);
    const back = { ...holds, id: nextId(), insideId: inner };
    expect(() => after(project, addShot(project, SEQUENCE_ID, back))).toThrow('cannot be inside itself');
    expect(() => deleteSequence(project, SEQUENCE_ID)).toThrow('SH_010 shows');
    take(deleteSequence(project, inner));
    expect(Object.keys(project.sequences)).toEqual([SEQUENCE_ID]);
    expect(framesInFlicks(shotAt(0).shot.durationFlicks, RATE)).toBe(50);
  });
});
