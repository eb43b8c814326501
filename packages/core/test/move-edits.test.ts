import { describe, expect, it } from 'vitest';
import { cameraAt, deliveredWindow, projectedLens, sceneOfMark } from '../src/camera';
import { comfortOf } from '../src/comfort';
import {
  addNamedMove,
  addOrbit,
  changeRig,
  isMovedOff,
  marksWithKeys,
  moveMark,
  refitRail,
  restOf,
  rigAround,
  setCurves,
  setMark,
  setRest,
  settle,
  trackThrough,
} from '../src/edits/move';
import type { Move, Project } from '../src/model';
import { moveOf } from '../src/model';
import { projectPoint } from '../src/optics';
import { subjectPointAt } from '../src/set';
import type { Vector } from '../src/space';
import { flicksAtFrame } from '../src/time';
import { after, nextId, projectWithCamera, withFigure } from './sample-project';

const frame = (index: number) => flicksAtFrame(index, { frames: 24, seconds: 1 });
const AT: Vector = [6, 1.6, 0];

/** A camera 6 m east of the middle, that looks at it. */
function begin(): { project: Project; cameraId: string } {
  const pose = { positionM: [...AT] as Vector, panDeg: -90, tiltDeg: 0, rollDeg: 0 };
  return projectWithCamera({ pose, focus: FOCUS });
}
const FOCUS = {
  mode: 'manual' as const,
  distanceM: 6,
  fStop: 4,
  subjectId: null,
  point: 'eyes' as const,
  racks: [],
  criterion: { kind: 'back' as const },
  auto: { x: 0.5, y: 0.5 },
};
const theMove = (project: Project, cameraId: string) => moveOf(project, cameraId) as Move;

/** Two marks, five metres and three seconds apart. */
function twoMarks() {
  const { project, cameraId } = begin();
  const first = after(project, setMark(project, cameraId, 0, nextId()));
  const second = setMark(first, cameraId, frame(72), nextId(), { positionX: 1, pan: -73 });
  return { project: after(first, second), cameraId };
}

describe('a rail that a camera is put on', () => {
  it('is bent along a half circle with few nodes, and the camera stays on its way', () => {
    const { project, cameraId } = begin();
    const order = { move: 'arc', amount: 180, seconds: 20, easeIn: 0.3, easeOut: 0.3, settleS: 0 } as const;
    const round = after(project, addNamedMove(project, cameraId, { ...order, subjectId: null }, 0));
    const rail = rigAround(round, cameraId, 'rail', 0);
    expect(rail.kind === 'rail' && rail.nodesM.length).toBeGreaterThanOrEqual(5);
    expect(rail.kind === 'rail' && rail.nodesM.length).toBeLessThanOrEqual(8);
    const { edit, deviation } = changeRig(round, cameraId, rail, 0);
    expect(deviation.metres).toBeLessThan(0.05);
    expect(deviation.degrees).toBeLessThan(0.5);
    const onRail = after(round, edit);
    const fewer = refitRail(onRail, cameraId, 3);
    const more = refitRail(onRail, cameraId, 9);
    expect(fewer.deviation.metres).toBeGreaterThan(more.deviation.metres);
  });

  it('goes through what was composed exactly, and closes where the way does', () => {
    const composed: Vector = [1, 0, 2];
    const places: Vector[] = Array.from({ length: 41 }, (_, i) => [i / 10, 0, Math.sin(i / 6)]);
    const through = [...places.slice(0, 7), composed, ...places.slice(7)];
    expect(trackThrough(through, { withinM: 10 }, [composed]).nodesM).toContainEqual(composed);
    const circle: Vector[] = Array.from({ length: 101 }, (_, i) => {
      const angle = (i / 50) * Math.PI;
      return [Math.cos(angle) * 4, 0, Math.sin(angle) * 4];
    });
    const closed = trackThrough(circle, { withinM: 0.05 });
    expect(closed).toMatchObject({ closed: true });
    expect(closed.nodesM.length).toBeLessThan(10);
  });
});

describe('a mark', () => {
  it('goes with its keys when all of them do, and is moved off when they do not', () => {
    const { project, cameraId } = twoMarks();
    const move = theMove(project, cameraId);
    const later = (time: number) => (time === frame(72) ? frame(90) : time);
    const shifted = Object.fromEntries(
      Object.entries(move.curves).map(([channel, curve]) => [
        channel,
        curve.map((key) => ({ ...key, atFlicks: later(key.atFlicks) })),
      ]),
    );
    const all = setCurves(
      project,
      cameraId,
      'Move',
      shifted,
      0,
      marksWithKeys(move, (_, time) => later(time)),
    );
    const moved = theMove(after(project, all), cameraId);
    expect(moved.marks.map((mark) => mark.atFlicks)).toEqual([0, frame(90)]);
    const pan = { pan: shifted['pan'] ?? [] };
    const onlyPan = (channel: string, time: number) => (channel === 'pan' ? later(time) : time);
    const one = after(project, setCurves(project, cameraId, 'Move', pan, 0, marksWithKeys(move, onlyPan)));
    const [first, second] = theMove(one, cameraId).marks;
    const camera = one.cameras[cameraId];
    if (!camera || !first || !second) throw new Error('gone');
    expect(second.atFlicks).toBe(frame(72));
    expect([first, second].map((mark) => isMovedOff(theMove(one, cameraId), camera, mark))).toEqual([false, true]);
  });

  it('is moved alone with its keys, and never onto another', () => {
    const { project, cameraId } = twoMarks();
    const [, second] = theMove(project, cameraId).marks;
    if (!second) throw new Error('gone');
    const moved = after(project, moveMark(project, cameraId, second.id, frame(100)));
    expect(sceneOfMark(theMove(moved, cameraId), theMove(moved, cameraId).marks[1] ?? second)).toBe(frame(100));
    expect(cameraAt(moved, cameraId, frame(100)).positionM).toEqual(cameraAt(project, cameraId, frame(72)).positionM);
    expect(() => moveMark(project, cameraId, second.id, 0)).toThrow(/same frame/);
  });

  it('is come to over the time that was asked for, standing where it stood', () => {
    const { project, cameraId } = twoMarks();
    const [, second] = theMove(project, cameraId).marks;
    if (!second) throw new Error('gone');
    const rests = after(project, setRest(project, cameraId, second.id, 2));
    expect(restOf(theMove(rests, cameraId), second)).toBeCloseTo(2, 6);
    const speed = (of: Project, at: number) =>
      Math.abs((cameraAt(of, cameraId, at + 1000).positionM[0] - cameraAt(of, cameraId, at).positionM[0]) * 1e5);
    expect(speed(rests, frame(70))).toBeLessThan(speed(project, frame(70)));
    const dead = after(rests, setRest(rests, cameraId, second.id, 0));
    expect(restOf(theMove(dead, cameraId), second)).toBe(0);
    expect(cameraAt(dead, cameraId, frame(72)).positionM).toEqual(cameraAt(project, cameraId, frame(72)).positionM);
  });
});

describe('comfort', () => {
  it('does not call an eased stop sudden, and says of a dead one what settling it does', () => {
    const { project, cameraId } = twoMarks();
    const jolts = (of: Project) =>
      comfortOf(of, cameraId, 0, frame(110)).events.filter(({ kind }) => kind === 'sudden-stop');
    expect(jolts(project)).toEqual([]);
    const [, second] = theMove(project, cameraId).marks;
    const dead = after(project, setRest(project, cameraId, second?.id ?? '', 0));
    const [stop] = jolts(dead);
    expect(stop).toBeDefined();
    const jolt = { kind: 'sudden-stop', atFlicks: frame(stop?.fromFrame ?? 0) } as const;
    const settled = settle(dead, cameraId, { ...jolt, settleS: 0.4 });
    expect(settled.before).toBeGreaterThan(1);
    expect(settled.after).toBeLessThan(settled.before);
    const soft = after(dead, settled.edit);
    expect(jolts(soft)).toEqual([]);
    // The mark went with its keys: what is seen at it is what was composed.
    const mark = theMove(soft, cameraId).marks[1];
    const camera = soft.cameras[cameraId];
    expect(mark && camera && isMovedOff(theMove(soft, cameraId), camera, mark)).toBe(false);
    expect(() => settle(soft, cameraId, { ...jolt, settleS: 0.4 })).toThrow(/does not soften/);
  });
});

describe('an orbit', () => {
  it('keeps any thing of the set, or a point, in the middle of the picture by its bounds', () => {
    const { project, cameraId } = begin();
    const { project: peopled, id } = withFigure(project, [0.7, 0, 0.4]);
    const thing = peopled.placements[id];
    if (!thing) throw new Error('gone');
    const box = { ...thing, piece: { kind: 'box', widthM: 1, heightM: 2, depthM: 1 } as const, subject: false };
    const set = { ...peopled, placements: { [id]: box } };
    const middle = subjectPointAt(set, box, 'eyes', 0);
    expect(middle[1]).toBe(1);
    const order = { degrees: 360, seconds: 5, loop: true, centred: true };
    for (const about of [{ subjectId: id }, { subjectId: null, pointM: middle }]) {
      const made = after(set, addOrbit(set, cameraId, { ...order, ...about }, 0));
      for (const index of [0, 17, 60, 100]) {
        const state = cameraAt(made, cameraId, frame(index));
        const seen = projectPoint(middle, state, projectedLens(state), deliveredWindow(state));
        expect(seen?.x).toBeCloseTo(0.5, 6);
        expect(seen?.y).toBeCloseTo(0.5, 6);
      }
    }
  });
});
