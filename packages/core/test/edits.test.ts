import { CoreError } from '../src/error';
import fc from 'fast-check';
import { beforeEach, describe, expect, it } from 'vitest';
import { cameraAt, markState, viewsOf } from '../src/camera';
import { findingsOf } from '../src/checks';
import type { Edit } from '../src/edits';
import { composed } from '../src/edits';
import {
  addLensKit,
  addReference,
  deleteCamera,
  deleteLensKit,
  duplicateCamera,
  lensFromKit,
  putLens,
  removeLens,
  removeReference,
  renameLensKit,
  reorderCamera,
  setCamera,
  setFilmBack,
  setOwn,
  setReference,
} from '../src/edits/camera';
import {
  addNamedMove,
  addOrbit,
  addRack,
  bakeRig,
  changeRig,
  copyMove,
  keyHere,
  leaveOutMark,
  moveThroughViews,
  rampMove,
  removeMark,
  removeRack,
  renameMark,
  reorderMark,
  reverseMove,
  rigAround,
  setAfter,
  setLeg,
  setMark,
  shiftMove,
  spaceMarks,
  stretchMove,
} from '../src/edits/move';
import { changeRate, setHead } from '../src/edits/project';
import { addShot, deleteShots, moveShots, nextShotName, setShot } from '../src/edits/sequence';
import {
  addLightGroup,
  arrayPlacements,
  attachPlacements,
  bringIn,
  bringInCard,
  deleteLightGroup,
  deletePlacements,
  duplicatePlacements,
  groupPlacements,
  keyPlacement,
  putPiece,
  setLightGroup,
  setPlacements,
  setSet,
  walkAlong,
} from '../src/edits/set';
import { setCameraMix } from '../src/edits/looks';
import type { Camera, GeometryFile, Mark, PictureFile, Project } from '../src/model';
import {
  applied,
  applyChange,
  changeOf,
  changeSchema,
  kitLensOf,
  marksInOrder,
  moveOf,
  PIECE_OFFERS,
  projectSchema,
  shotsInOrder,
} from '../src/model';
import type { KitLens } from '../src/optics';
import { flicksAtFrame, flicksFromSeconds } from '../src/time';
import { after, emptyProject, nextId, projectWithCamera, SEQUENCE_ID, withFigure } from './sample-project';

const RATE = { frames: 24, seconds: 1 };
const frame = (number: number) => flicksAtFrame(number, RATE);
const PICTURE: PictureFile = {
  kind: 'picture',
  hash: 'b'.repeat(64),
  bytes: 9,
  mediaType: 'image/png',
  widthPx: 400,
  heightPx: 100,
};
const GEOMETRY: GeometryFile = {
  kind: 'geometry',
  hash: 'a'.repeat(64),
  bytes: 100,
  triangles: 12,
  minM: [0, 0, 0],
  maxM: [1, 1, 1],
  clips: [{ name: 'slides', seconds: 1 }],
  footprints: [],
  deforms: false,
  leftOut: [],
};
const LENS: KitLens = {
  id: nextId(),
  name: 'Shed 60',
  minMm: 60,
  maxMm: 60,
  widestStop: 2,
  tStop: 2.2,
  closestM: 0.6,
  blades: 9,
  roundness: 0.5,
  imageCircleMm: 46,
  pupilMm: null,
};

/** A camera with three marks and a rack, a second one, two shots, a figure that walks, a box carried by a block, a lamp's group. */
interface World {
  project: Project;
  readonly ids: Readonly<Record<'first' | 'second' | 'move' | 'walker' | 'keeper' | 'box' | 'block' | 'group', string>>;
}
function world(): World {
  const made = projectWithCamera({ pose: { positionM: [0, 1.6, 8], panDeg: 0, tiltDeg: 0, rollDeg: 0 } });
  const first = made.cameraId;
  const other: Camera = { ...(made.project.cameras[first] as Camera), id: nextId(), number: 2, name: 'Gate' };
  let project: Project = { ...made.project, cameras: { ...made.project.cameras, [other.id]: other } };
  const walker = withFigure(project, [0, 0, 0], true);
  const standing = withFigure(walker.project, [1, 0, 1]);
  project = standing.project;
  const [box, block, group, move] = [nextId(), nextId(), nextId(), nextId()];
  const setId = Object.keys(project.sets)[0] as string;
  const take = (make: (project: Project) => Edit) => (project = after(project, make(project)));
  for (const id of [box, block]) take((now) => putPiece(now, setId, id, PIECE_OFFERS[0]!, [2, 0, -2]));
  take((now) => attachPlacements(now, [box], block, 0));
  take(() => addLightGroup(group, 'Lamps'));
  for (const at of [0, 24, 72]) {
    take((now) => setMark(now, first, frame(at), nextId(), { positionX: at / 24, pan: at }));
  }
  for (const cameraId of [first, other.id]) {
    const shot = { id: nextId(), cameraId, sceneStartFlicks: 0, durationFlicks: frame(96) };
    take((now) => addShot(now, SEQUENCE_ID, shot));
  }
  const rack = {
    id: nextId(),
    subjectId: standing.id,
    point: 'eyes',
    startFlicks: frame(10),
    durationFlicks: frame(20),
  };
  take((now) => addRack(now, first, { ...rack, ease: 1 } as Camera['focus']['racks'][number], walker.id));
  return { project, ids: { first, second: other.id, move, walker: walker.id, keeper: standing.id, box, block, group } };
}

let project: Project;
let ids: World['ids'];
beforeEach(() => {
  ({ project, ids } = world());
});
const camera = (id = ids.first) => project.cameras[id] as Camera;
const marks = () => marksInOrder(moveOf(project, ids.first));
const take = (edit: Edit) => (project = after(project, edit));
/** A project without the revisions, which undo rightly renews, and in one order of keys. */
const content = (one: Project) =>
  JSON.parse(JSON.stringify(one, (key, value: unknown) => (key === 'revision' ? '' : value))) as unknown;

describe('every edit', () => {
  const setId = () => Object.keys(project.sets)[0] as string;
  const at = () => frame(24);
  const options = { along: 'both' as const };
  const EDITS: Readonly<Record<string, () => Edit>> = {
    'a camera is copied': () => duplicateCamera(project, ids.first, nextId()),
    'a camera goes': () => deleteCamera(project, ids.first),
    'cameras change places': () => reorderCamera(project, ids.second, 0),
    'a film back, the angle kept': () =>
      setFilmBack(project, ids.first, { ...camera().filmBack, widthMm: 16, heightMm: 9 }, 'angle'),
    'settings of its own': () => setOwn(project, ids.first, 'exposure', true),
    'a lens kit': () => addLensKit(nextId(), 'Shed'),
    'a light group': () => addLightGroup(nextId(), 'Window'),
    'a light group’s level': () => setLightGroup(project, ids.group, 'Level', { name: 'Lanterns' }),
    'a light group goes': () => deleteLightGroup(project, ids.group),
    'light for one camera': () =>
      setCameraMix(project, ids.first, 'Light', {
        [ids.group]: { ...project.lightGroups[ids.group]!.level, stops: -1 },
      }),
    'a mark overwritten': () => setMark(project, ids.first, frame(24), nextId(), { pan: 5 }),
    'a mark goes': () => removeMark(project, ids.first, marks()[1]!.id),
    'a mark left out': () => leaveOutMark(project, ids.first, marks()[1]!.id, true),
    'a mark named': () => renameMark(project, ids.first, marks()[0]!.id, 'Over the rail'),
    'marks in another order': () => reorderMark(project, ids.first, marks()[2]!.id, 0),
    'marks spaced': () => spaceMarks(project, ids.first, frame(1)),
    'a leg': () => setLeg(project, ids.first, marks()[1]!.id, frame(60)),
    'a curve that repeats': () => setAfter(project, ids.first, 'pan', 'repeat'),
    'EV keyed': () => keyHere(project, ids.first, 'ev', at()),
    'a push': () =>
      addNamedMove(
        project,
        ids.second,
        { move: 'push-in', amount: 1, seconds: 2, easeIn: 0.3, easeOut: 0.3, settleS: 0, subjectId: null },
        at(),
      ),
    'an orbit': () =>
      addOrbit(project, ids.second, { subjectId: ids.keeper, degrees: 360, seconds: 4, loop: true }, at()),
    'through views': () => {
      const order = { views: viewsOf(project, ids.first, marks()), legsFlicks: [], even: true, eased: true };
      return moveThroughViews(project, ids.second, order, { atFlicks: at(), markIds: marks().map(() => nextId()) });
    },
    'onto a rail': () => changeRig(project, ids.first, rigAround(project, ids.first, 'rail', 0), at()).edit,
    baked: () =>
      composed(project, 'Rail, baked', [
        (now) => changeRig(now, ids.first, rigAround(now, ids.first, 'rail', 0), at()).edit,
        (now) => bakeRig(now, ids.first, at()).edit,
      ]),
    'a hand': () => setCamera(project, ids.first, 'Hand', { handheld: { ...camera().handheld, on: true } }),
    'stretched with its subjects': () => stretchMove(project, ids.first, frame(100), options),
    'later with its subjects': () => shiftMove(project, ids.first, frame(12), options),
    backward: () => reverseMove(project, ids.first),
    'a ramp': () => rampMove(project, ids.first, 0, 2),
    'another rate': () => changeRate(project, { frames: 30, seconds: 1 }, 'frames', options),
    'a move copied': () => copyMove(project, ids.first, [ids.second], ['place', 'head'], 'world'),
    'a rack goes': () => removeRack(project, ids.first, camera().focus.racks[0]!.id),
    'a reference': () => addReference(project, ids.first, { asset: nextId(), reference: nextId() }, 'Board 3', PICTURE),
    geometry: () => bringIn(project, setId(), { asset: nextId(), placement: nextId() }, 'hut', GEOMETRY),
    'a card': () => bringInCard(project, setId(), { asset: nextId(), placement: nextId() }, 'sky', PICTURE, [0, 0, 0]),
    'copies in a line': () => arrayPlacements(project, [ids.block], nextId, 3, [1, 0, 0]),
    'a copy with what it carries': () => duplicatePlacements(project, [ids.block], nextId),
    'a group': () => groupPlacements(project, [ids.block, ids.keeper], nextId()),
    'a carrier goes': () => deletePlacements(project, [ids.block]),
    'a thing keyed': () => keyPlacement(project, ids.block, frame(12), { positionM: [0, 0, 4] }),
    'a walk': () =>
      walkAlong(project, ids.keeper, {
        nodesM: [
          [0, 0, 0],
          [4, 0, 0],
        ],
        groundM: [],
        startFlicks: 0,
      }),
    'a set’s name': () => setSet(project, setId(), 'Name the set', { name: 'The marsh' }),
    'a shot trimmed': () =>
      setShot(project, shotsInOrder(project, SEQUENCE_ID)[0]!.id, 'Length', { durationFlicks: frame(5) }),
    'shots change places': () => moveShots(project, [shotsInOrder(project, SEQUENCE_ID)[1]!.id], 0),
    'a shot goes': () => deleteShots(project, [shotsInOrder(project, SEQUENCE_ID)[0]!.id], { close: true }),
    'the project’s unit': () => setHead(project, 'Feet', { displayUnit: 'ft' }),
  };

  it.each(Object.keys(EDITS))('makes a whole project and is taken back whole: %s', (name) => {
    const edit = EDITS[name]!();
    // As it travels: nothing is lost on the way to the server.
    const change = changeSchema.parse(JSON.parse(JSON.stringify(changeOf(edit, nextId()))));
    const { project: next, inverse } = applied(project, change);
    expect(content(next)).not.toEqual(content(project));
    expect(projectSchema.parse(JSON.parse(JSON.stringify(next)))).toEqual(next);
    findingsOf(next); // and every camera of it can be judged
    const undo = { id: nextId(), name: 'Undo', operations: inverse };
    expect(content(applyChange(next, undo))).toEqual(content(project));
  });

  it('makes a whole project after any other two, in one act with them, and all are taken back at once', () => {
    const names = Object.keys(EDITS);
    const begun = project;
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...names), { minLength: 2, maxLength: 3 }), (chosen) => {
        project = begun;
        const edits = chosen.map((name) => (now: Project) => {
          project = now;
          return EDITS[name]!();
        });
        let edit: Edit;
        try {
          edit = composed(begun, chosen.join(', then '), edits);
        } catch (error) {
          // One may take away what another needs; then none of them is made.
          if (error instanceof CoreError || error instanceof TypeError) return;
          throw error;
        }
        const change = changeSchema.parse(JSON.parse(JSON.stringify({ ...changeOf(edit, nextId()), name: 'Several' })));
        const { project: next, inverse } = applied(begun, change);
        expect(projectSchema.parse(JSON.parse(JSON.stringify(next)))).toEqual(next);
        findingsOf(next);
        expect(content(applyChange(next, { id: nextId(), operations: inverse }))).toEqual(content(begun));
      }),
      { numRuns: 60 },
    );
  });

  it('on something that is not there is refused by name, and nothing is begun', () => {
    const nobody = nextId();
    for (const make of [
      () => deleteCamera(project, nobody),
      () => removeRack(project, nobody, nobody),
      () => setLightGroup(project, nobody, 'Level', {}),
      () => deleteLensKit(project, nobody),
      () => setShot(project, nobody, 'Length', {}),
      () => setPlacements(project, [nobody], 'Move', () => ({})),
    ]) {
      expect(make).toThrow(`${nobody} in this project`);
    }
  });
});

describe('lens kits of a project', () => {
  it('are built lens by lens; a camera keeps its settings when its lens goes', () => {
    const kitId = nextId();
    take(addLensKit(kitId, 'Shed'));
    take(putLens(project, kitId, LENS));
    take(putLens(project, kitId, { ...LENS, name: 'Shed 60 new' }));
    take(renameLensKit(project, kitId, 'Boat shed'));
    expect(project.lensKits[kitId]).toMatchObject({ name: 'Boat shed', lenses: [{ name: 'Shed 60 new' }] });
    take(setCamera(project, ids.first, 'Lens', { lens: lensFromKit(camera().lens, LENS) }));
    expect(kitLensOf(project, camera().lens.lensId)?.name).toBe('Shed 60 new');
    expect(camera().lens).toMatchObject({ focalLengthMm: 60, blades: 9 });
    const withoutLens = after(project, removeLens(project, kitId, LENS.id));
    const withoutKit = after(project, deleteLensKit(project, kitId));
    for (const { cameras } of [withoutLens, withoutKit]) {
      expect(cameras[ids.first]?.lens).toMatchObject({ focalLengthMm: 60, lensId: null });
    }
    expect([withoutLens.lensKits[kitId]?.lenses, withoutKit.lensKits]).toEqual([[], {}]);
  });
});

describe('light groups', () => {
  it('leave their lamps in the set when they go', () => {
    take(setPlacements(project, [ids.block], 'Group', () => ({ lightGroupId: ids.group })));
    const setId = Object.keys(project.sets)[0] as string;
    take(setSet(project, setId, 'Daylight', { daylightGroupId: ids.group }));
    take(deleteLightGroup(project, ids.group));
    expect([project.placements[ids.block]?.lightGroupId, project.sets[setId]?.daylightGroupId]).toEqual([null, null]);
  });

  it('begin a camera’s own mix as the project’s, so that only one of them changes', () => {
    const other = nextId();
    take(addLightGroup(other, 'Window'));
    const level = project.lightGroups[other]!.level;
    take(setLightGroup(project, other, 'Level', { level: { ...level, stops: -2 } }));
    take(setCameraMix(project, ids.first, 'Light', { [ids.group]: { ...level, stops: 1 } }));
    expect(cameraAt(project, ids.first, 0).lightMix).toMatchObject({
      [ids.group]: { stops: 1 },
      [other]: { stops: -2 },
    });
    expect(cameraAt(project, ids.second, 0).lightMix[ids.group]?.stops ?? 0).toBe(0);
  });
});

describe('reference pictures', () => {
  it('belong to one camera, are changed one by one and taken off', () => {
    const [one, two] = [nextId(), nextId()];
    for (const reference of [one, two]) {
      take(addReference(project, ids.first, { asset: nextId(), reference }, 'Board', PICTURE));
    }
    take(setReference(project, ids.first, two, 'Opacity', { opacity: 0.2, layer: 'under' }));
    expect(camera().references.map(({ opacity, layer }) => [opacity, layer])).toEqual([
      [0.5, 'over'],
      [0.2, 'under'],
    ]);
    take(removeReference(project, ids.first, one));
    expect(camera().references.map(({ id }) => id)).toEqual([two]);
    expect(camera(ids.second).references).toEqual([]);
    expect(() => take(setReference(project, ids.first, two, 'Opacity', { opacity: 2 }))).toThrow(
      'references.0.opacity',
    );
  });

  it('as a card keep the shape of their picture', () => {
    const placement = nextId();
    take(
      bringInCard(project, Object.keys(project.sets)[0]!, { asset: nextId(), placement }, 'sky', PICTURE, [1, 0, 2], 2),
    );
    expect(project.placements[placement]?.piece).toMatchObject({ kind: 'card', heightM: 2, widthM: 8 });
  });
});

describe('racks', () => {
  const rack = (start: number, length: number, subjectId: string) =>
    ({
      id: nextId(),
      subjectId,
      point: 'eyes',
      startFlicks: frame(start),
      durationFlicks: frame(length),
      ease: 0,
    }) as const;

  it('never overlap: an earlier one ends where the next begins', () => {
    take(addRack(project, ids.first, rack(20, 12, ids.walker)));
    expect(camera().focus.racks.map((one) => [one.startFlicks, one.durationFlicks])).toEqual([
      [frame(10), frame(10)],
      [frame(20), frame(12)],
    ]);
  });

  it('need somebody to go from', () => {
    expect(() => addRack(project, ids.second, rack(0, 5, ids.walker))).toThrow('Say from whom');
    take(addRack(project, ids.second, rack(0, 5, ids.walker), ids.keeper));
    expect(camera(ids.second).focus).toMatchObject({ mode: 'follow', subjectId: ids.keeper });
  });
});

describe('marks', () => {
  const names = () => marks().map((mark: Mark) => mark.name);

  it('are named by letters, keep a name of their own, and give a freed letter to the next', () => {
    take(renameMark(project, ids.first, marks()[0]!.id, 'Over the rail'));
    take(removeMark(project, ids.first, marks()[1]!.id));
    for (const at of [80, 90]) take(setMark(project, ids.first, frame(at), nextId()));
    expect(names()).toEqual(['Over the rail', 'C', 'A', 'B']);
  });

  it('that are left out keep their pose, and it is what their thumbnail shows', () => {
    const second = marks()[1]!;
    const before = markState(project, ids.first, second);
    take(leaveOutMark(project, ids.first, second.id, true));
    expect(cameraAt(project, ids.first, frame(24)).panDeg).not.toBeCloseTo(before.panDeg, 3);
    const out = marks()[1]!;
    expect(markState(project, ids.first, out).panDeg).toBeCloseTo(before.panDeg, 9);
    take(leaveOutMark(project, ids.first, second.id, false));
    expect(cameraAt(project, ids.first, frame(24)).panDeg).toBeCloseTo(before.panDeg, 9);
  });
});

describe('shots', () => {
  it('are named in tens after the last one, between others too', () => {
    expect(nextShotName([])).toBe('SH_010');
    expect(nextShotName([{ name: 'SL_045' }, { name: 'pick-up' }] as never)).toBe('SL_050');
    const [first] = shotsInOrder(project, SEQUENCE_ID);
    const between = { id: nextId(), cameraId: ids.first, sceneStartFlicks: 0, durationFlicks: 5, afterId: first!.id };
    take(addShot(project, SEQUENCE_ID, between));
    expect(shotsInOrder(project, SEQUENCE_ID).map(({ name }) => name)).toEqual(['SH_010', 'SH_030', 'SH_020']);
    expect(() => setShot(project, between.id, 'Length', { durationFlicks: 0 })).toThrow('one frame or more');
  });
});

describe('a move retimed with its subjects', () => {
  it('takes their walks along, and leaves them without that choice', () => {
    const start = (one: Project) => {
      const { motion } = one.placements[ids.walker]!;
      return motion.kind === 'path' ? [motion.startFlicks, motion.speedMps] : [];
    };
    const [, speed = 0] = start(project);
    const later = after(project, shiftMove(project, ids.first, frame(24), { along: 'both' as const }));
    expect(start(later)).toEqual([frame(24), speed]);
    const slower = after(project, stretchMove(project, ids.first, frame(144), { along: 'both' as const }));
    expect(start(slower)[1]).toBeCloseTo(speed / 2, 9);
    const alone = after(project, stretchMove(project, ids.first, frame(144), { along: 'camera' as const }));
    expect(start(alone)).toEqual(start(project));
    expect(flicksFromSeconds(6)).toBe(frame(144));
  });
});

describe('an empty project', () => {
  it('says what is to be done first', () => {
    expect(findingsOf(emptyProject()).map(({ code }) => code)).toEqual(['set-empty', 'sequence-empty']);
  });
});
