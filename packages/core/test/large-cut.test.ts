import { beforeEach, describe, expect, it } from 'vitest';
import { coverageFindings, findingsOf, isMeant, mayBeMeant, meantKey } from '../src/checks';
import { addShot, putShots, copiedShots, setMeant, setScene, setShot, splitShot } from '../src/edits/sequence';
import { foundShots, shotFacts } from '../src/facts';
import type { Project } from '../src/model';
import { shotsInOrder } from '../src/model';
import { againstOrder, ORDER_DEFAULTS, partsOf } from '../src/output';
import { cutOf, sceneRuns } from '../src/sequence';
import { flicksAtFrame } from '../src/time';
import { after, nextId, projectWithCamera, SEQUENCE_ID } from './sample-project';

const frame = (index: number) => flicksAtFrame(index, { frames: 24, seconds: 1 });

/** Three shots of one camera, the second after a gap; the third shows again what the first has shown. */
function threeShots(): Project {
  const made = projectWithCamera({ name: 'Harbour' });
  let { project } = made;
  const { cameraId } = made;
  for (const start of [0, 100, 0]) {
    const shot = {
      id: nextId(),
      cameraId,
      sceneStartFlicks: frame(start),
      durationFlicks: frame(50),
      continues: false,
    };
    project = after(project, addShot(project, SEQUENCE_ID, shot));
  }
  const second = shotsInOrder(project, SEQUENCE_ID)[1]?.id ?? '';
  return after(project, setShot(project, second, 'Gap', { gapFlicks: frame(10) }));
}

describe('a cut of many shots', () => {
  let project: Project;
  const shots = () => shotsInOrder(project, SEQUENCE_ID);
  const ids = () => shots().map(({ id }) => id);
  const codes = () => findingsOf(project).flatMap(({ topic, code }) => (topic === 'sequence' ? [code] : []));
  const runs = () => sceneRuns(cutOf(project, SEQUENCE_ID).shots).map((run) => [run.name, run.shots.length]);

  beforeEach(() => {
    project = threeShots();
  });

  it('has scenes: neighbours of one scene are a group, and a new shot is of the scene it comes after', () => {
    const [first = '', second = '', third = ''] = ids();
    project = after(project, setScene(project, [first, second], '12'));
    expect(runs()).toEqual([
      ['12', 2],
      ['', 1],
    ]);
    project = after(project, setScene(project, [third], '12'));
    project = after(project, setScene(project, [second], '13'));
    expect(runs().map(([name]) => name)).toEqual(['12', '13', '12']);
    const shot = { id: nextId(), cameraId: null, sceneStartFlicks: 0, durationFlicks: frame(5), continues: false };
    project = after(project, addShot(project, SEQUENCE_ID, { ...shot, afterId: second }));
    project = after(project, splitShot(project, SEQUENCE_ID, 5, nextId()));
    expect(runs()).toEqual([
      ['12', 2],
      ['13', 2],
      ['12', 1],
    ]);
  });

  it('is searched by every word that tells a shot', () => {
    const [first = '', second = ''] = ids();
    project = after(
      project,
      setShot(project, first, 'Words', { description: 'Dusk over the flats', spoken: 'You there!' }),
    );
    project = after(project, setScene(project, [second], '7b'));
    const found = (typed: string) =>
      foundShots(shotFacts(project, SEQUENCE_ID), typed).map(({ placed }) => ids().indexOf(placed.shot.id));
    expect(found('')).toEqual([0, 1, 2]);
    expect(found('  dusk THERE ')).toEqual([0]);
    expect(found('scene 7')).toEqual([1]);
    expect(found('harbour still')).toEqual([0, 1, 2]);
    expect(found('dusk scene')).toEqual([]);
  });

  it('says nothing of what is meant, until it is taken back; copies and halves are asked anew', () => {
    const found = coverageFindings(project).map((one) => ({ key: meantKey(one), shotId: one.shotId ?? '' }));
    expect(codes().sort()).toEqual(['gap', 'same-frames']);
    project = after(project, setMeant(project, found, true));
    expect(codes()).toEqual([]);
    expect(coverageFindings(project).every((one) => isMeant(project, one))).toBe(true);
    const order = { ...ORDER_DEFAULTS, what: { kind: 'cut', sequenceId: SEQUENCE_ID } as const };
    const said = againstOrder(project, order, partsOf(project, order), { version: 'v001', date: '2026-01-01' });
    expect(said.filter(({ finding }) => finding?.topic === 'sequence')).toEqual([]);

    const copied = copiedShots(project, ids().slice(1, 2));
    const copy = after(project, putShots(project, SEQUENCE_ID, copied, ids()[2], nextId));
    expect(shotsInOrder(copy, SEQUENCE_ID).map(({ meant }) => meant.length)).toEqual([0, 1, 1, 0]);
    const split = after(project, splitShot(project, SEQUENCE_ID, 130, nextId()));
    expect(shotsInOrder(split, SEQUENCE_ID).map(({ meant }) => meant.length)).toEqual([0, 1, 1, 0]);

    project = after(project, setMeant(project, found.slice(0, 1), false));
    expect(codes()).toHaveLength(1);
  });

  it('tells what is meant at a joint from the same thing at another joint', () => {
    const [first = '', second = '', third = ''] = ids();
    const joint = (beforeId: string) => ({ code: 'jump', shotId: third, beforeId });
    project = after(project, setMeant(project, [{ key: meantKey(joint(second)), shotId: third }], true));
    expect(isMeant(project, joint(second))).toBe(true);
    expect(isMeant(project, joint(first))).toBe(false);
  });

  it.each(['shot-without-camera', 'camera-disabled', 'frames-missing', 'same-name', 'take-lost'])(
    'takes no %s for meant: it is in the way of the picture, or of telling shots apart',
    (code) => expect(mayBeMeant({ code, shotId: 'one' })).toBe(false),
  );
});
