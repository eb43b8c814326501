/**
 * Figures of the demo: what every question of the core answers about one whole film, and what every edit of it is made of. Each
 * stands in a file beside this one. Who changes a rule on purpose looks at what changed there, and writes them anew with
 * `npx vitest run --project core figures -u`; a change that nobody meant is seen here first.
 */
import { readFileSync } from 'node:fs';
import { describe, it } from 'vitest';
import * as z from 'zod';
import type { BurntIn, Edit, RenderOrder, ShotColumn, SizedBy } from '../src';
import * as core from '../src';
import { jointSide } from '../src/continuity/seen-at-joint';
import { kept } from './kept-figures';

const demo = core.projectFrom(
  JSON.parse(readFileSync(new URL('../../../demo/made/project.json', import.meta.url), 'utf8')),
);
const { rate } = demo.head;
const at = (frame: number) => core.flicksAtFrame(frame, rate);
const cameras = core.camerasInOrder(demo);
const sequenceId = core.sequencesInOrder(demo)[0]?.id ?? '';
const { shots } = core.cutOf(demo, sequenceId);
const things = Object.values(demo.placements);
const figures = core.subjectsIn(demo);
const keeper = figures[0]?.id ?? '';
const TIMES = [0, 11, 37, 96, 240].map(at);

const LOOSE = { unrepresentable: 'any', io: 'input' } as const;

describe('the figures of the demo', () => {
  it('where cameras are, what they see and how their rigs stand', () =>
    kept(
      'cameras',
      cameras.flatMap(({ id, name }) =>
        TIMES.flatMap((time, i) => {
          const state = core.cameraAt(demo, id, time);
          const shape = { ...state, look: undefined, lightMix: undefined };
          return [
            [`${name} ${i}`, () => shape],
            [`${name} ${i} rig`, () => core.rigBody(demo, id, time)],
            [
              `${name} ${i} seen`,
              () => [core.projectedLens(state), core.deliveredWindow(state), core.paneWindow(state, 1.2, 0.05)],
            ],
            [`${name} ${i} window`, () => core.windowShare(core.deliveredWindow(state), core.filmBackWindow(state))],
            [`${name} ${i} facts`, () => core.cameraFacts(demo, id, time)],
          ] as const;
        }),
      ),
    ));

  it('what cameras look like', () =>
    kept('looks', [
      ...cameras.flatMap(({ id, name, variations }) =>
        [null, ...Object.keys(variations)].map(
          (variation, i) =>
            [
              `${name} ${i}`,
              () => {
                const { look, lightMix, exposure } = core.cameraAt(demo, id, at(24), undefined, variation);
                return { look, lightMix, exposure };
              },
            ] as const,
        ),
      ),
      ['wearers', () => Object.keys(demo.looks).map((id) => core.wearersOf(demo, id))],
      ['daylight', () => Object.values(demo.sets)],
    ]));

  it('how figures are framed, and how they would be as other sizes', () =>
    kept(
      'framing',
      cameras.flatMap(({ id, name }) => {
        const state = core.cameraAt(demo, id, at(24));
        return [
          [`${name} about`, () => core.chosenSubject(demo, state, at(24))?.placement.name],
          ...figures.flatMap((figure) => {
            const subject = core.subjectFraming(demo, figure, state, at(24));
            if (!subject) return [];
            const sized = (by: SizedBy) =>
              core.SHOT_SIZES.map((size) => core.composedAs(demo, state, subject, size, by, at(24)));
            return [
              [`${name} ${figure.name}`, () => ({ ...subject, placement: undefined })],
              [`${name} ${figure.name} sizes`, () => [sized('camera'), sized('lens')]],
            ] as const;
          }),
        ] as const;
      }),
    ));

  it('the cut, its pictures, its sound and its list', () =>
    kept('sequence', [
      ...Array.from({ length: 60 }, (_, i) => i * 13).map(
        (frame) =>
          [
            `frame ${frame}`,
            () => {
              const picture = core.pictureAt(demo, sequenceId, frame);
              return [
                core.cutTimecode(demo, sequenceId, frame),
                core.frameName(demo, sequenceId, frame),
                { ...picture, shot: picture?.shot?.name },
              ];
            },
          ] as const,
      ),
      [
        'shots',
        () => core.shotListCsv(demo, core.shotFacts(demo, sequenceId), Object.keys(core.SHOT_COLUMNS) as ShotColumn[]),
      ],
      ['scenes', () => core.sceneRuns(shots).map((run) => ({ ...run, shots: run.shots?.length }))],
      ['lanes', () => cameras.map(({ id }) => core.cameraLane(demo, sequenceId, id))],
      ['stretches', () => cameras.map(({ id }) => core.stretchesOf(demo, id))],
      ['rows', () => [...core.sequenceRows(demo, sequenceId, 0, 400)].filter((_, i) => i % 57 === 0)],
      [
        'heard',
        () => {
          const played = { firstFlicks: 0, endFlicks: at(100), startFlicks: at(10), loops: true };
          return core.heardBetween(Object.values(demo.sounds), played, 0, 500_000);
        },
      ],
    ]));

  it('what is judged: joints, rigs, comfort, coverage', () =>
    kept('judged', [
      ['findings', () => core.findingsOf(demo)],
      ['coverage', () => core.coverageOf(demo, sequenceId)],
      ['continuity', () => core.continuityOf(demo, sequenceId)],
      ...shots.flatMap((placed) => {
        const { name } = placed.shot;
        const room = core.rigRooms(demo, placed, 4);
        const met = room.map(({ parts }) => ({
          near: { placementId: things[0]?.id, distanceM: 0.1 },
          through: parts.map(() => things[1]?.id),
        }));
        return [
          [`${name} rig`, () => core.riggingOf(demo, placed)],
          [`${name} room`, () => room],
          [`${name} in the way`, () => core.rigRoomTroubles(demo, placed, room, met)],
        ] as const;
      }),
      ...shots.slice(1).map((placed, i) => {
        const [before, after] = [shots[i], placed].map(
          (one, end) => one && jointSide(demo, one, end === 0 ? 'last' : 'first'),
        );
        const line = () => before && after && core.actionLineAt(demo, before, after);
        return [`joint ${i}`, () => [before?.subject?.placement.name, line()]] as const;
      }),
      ...cameras.map(({ id, name }) => {
        const comfort = () => {
          const { frames, events, ...rest } = core.comfortOf(demo, id, 0, at(72));
          return { ...rest, events, frames: frames.filter((_, i) => i % 9 === 0) };
        };
        return [`comfort ${name}`, comfort] as const;
      }),
    ]));

  it('what may be kept at all, and what is agreed upon', () =>
    kept('limits', [
      ...core.ALL_KINDS.map((kind) => [kind, () => z.toJSONSchema(core.KINDS[kind].schema, LOOSE)] as const),
      ['order', () => z.toJSONSchema(core.renderOrderSchema, LOOSE)],
      ...Object.entries(core)
        .filter(([name, value]) => !/Schema$|KINDS/.test(name) && typeof value !== 'function')
        .map(([name, value]) => [name, () => value] as const),
    ]));

  it('rows of tables, frame by frame', () =>
    kept(
      'tables',
      [
        ...cameras.slice(0, 3).flatMap(({ id }) => [...core.cameraRows(demo, id, 0, 60)]),
        ...core.placementRows(demo, keeper, 0, 60),
      ]
        .filter((_, i) => i % 20 === 7)
        .map((row, i) => [String(i), () => row] as const),
    ));

  it('exposure that is changed, part by part', () =>
    kept(
      'exposure',
      cameras.flatMap(({ id, name }) => {
        const state = core.cameraAt(demo, id, 0);
        const held = { ...state, exposure: { ...state.exposure, hold: true } };
        return [
          ...core.EXPOSURE_PARTS.map(
            (part) =>
              [
                `${name} ${part}`,
                () => [0.3, 1.7, 90, 4000].map((value) => core.changeExposure(held, part, value)),
              ] as const,
          ),
          [`${name} EV`, () => [-30, -1.5, 0.5, 30].map((stops) => core.changeEv(held, stops))] as const,
        ];
      }),
    ));

  it('things of the set in time', () =>
    kept(
      'things',
      things.flatMap((thing) => [
        [thing.name, () => TIMES.map((time) => core.placementAt(demo, thing.id, time))],
        [`${thing.name} faces`, () => TIMES.map((time) => core.facingDegAt(demo, thing, time))],
        [`${thing.name} box`, () => core.boxCornersAt(demo, thing, at(37))],
        [
          `${thing.name} points`,
          () => core.SUBJECT_POINTS.map((point) => core.subjectPointAt(demo, thing, point, at(37))),
        ],
      ]),
    ));

  it('what orders come to', () => {
    const shot = shots[1]?.shot.id ?? '';
    const base: RenderOrder = { ...core.ORDER_DEFAULTS, what: { kind: 'cut', sequenceId } };
    const burnt = Object.keys(core.BURNT_IN) as BurntIn[];
    const items = burnt.map((what) => ({ what, text: 'Of Arvex', x: 0.5, y: 0.5 }));
    const png = base.formats;
    const orders: Readonly<Record<string, Partial<RenderOrder>>> = {
      cut: {},
      shots: {
        what: { kind: 'shots', sequenceId, shotIds: shots.slice(1, 4).map((one) => one.shot.id) },
        variations: 'all',
        slateFrames: 12,
        frames: { range: null, step: 1, handles: true },
      },
      cameras: {
        what: { kind: 'cameras', cameraIds: cameras.slice(0, 3).map(({ id }) => id) },
        frames: { range: { first: 1010, last: 1030 }, step: 3, handles: false },
      },
      'one frame': { what: { kind: 'still', sequenceId, frame: 40 } },
      slates: { slateFrames: 24, slates: 'each', burnIns: { items, size: 0.03, outside: true, logoAssetId: null } },
      clash: { names: { folder: '{version}', frames: 'same', movie: '../{project}' } },
      linear: {
        formats: {
          ...png,
          movies: [],
          layersLie: 'together',
          layers: { depth: true, masks: true, lightGroups: true },
          pictures: { ...png.pictures, exr: core.PICTURE_FORMATS.exr.first },
        },
      },
      eyes: { stereo: { ...core.STEREO_DEFAULTS, layout: 'two-files' }, size: { kind: 'share', share: 0.5 } },
      round: { panorama: { ...core.PANORAMA_DEFAULTS, kind: 'cube', cube: 'six' } },
      clear: { background: { kind: 'transparent', alpha: 'straight', shadow: true }, shading: 'clay', look: false },
      gone: {
        what: { kind: 'shots', sequenceId, shotIds: [shot, sequenceId] },
        visible: { ...base.visible, without: [shot], guides: true, figures: false },
      },
    };
    const number = { version: 'v007', date: '2026-03-02' };
    return kept(
      'orders',
      Object.entries(orders).flatMap(([name, more]) => {
        const order: RenderOrder = { ...base, ...more };
        const parts = () => core.partsOf(demo, order);
        return [
          [`${name}: parts`, parts],
          [`${name}: said`, () => core.orderSentence(demo, order)],
          [`${name}: against`, () => core.againstOrder(demo, order, parts(), number)],
          [`${name}: sizes`, () => parts().map((part) => [core.outputSize(order, part), core.framesOfPart(part)])],
          [`${name}: disk`, () => core.bytesOf(demo, order, parts())],
          [`${name}: files`, () => core.frameFiles(demo, order)],
          [`${name}: without what is gone`, () => core.withoutGone(order, demo).what],
          [
            `${name}: names`,
            () =>
              parts().map((part) => [
                core.folderOf(demo, order, part, number),
                core.movieFileName(demo, order, part, number),
                [0, 1, 25].map((i) => i < core.framesOfPart(part) && core.frameFileName(demo, order, part, number, i)),
              ]),
          ],
          [`${name}: texts`, () => parts().map((part) => items.map(core.burnInTexts(demo, part, number, 13)))],
          [`${name}: heard`, () => parts().map((part) => core.heardOfPart(demo, part))],
          [
            `${name}: lines`,
            () =>
              cameras
                .slice(0, 2)
                .map(({ id }) => core.linesOver(demo, core.cameraAt(demo, id, 0), 0, order.visible).length),
          ],
        ] as const;
      }),
    );
  });
});

describe('every edit of the demo', () => {
  let count = 0;
  const id = () => `00000000-0000-4000-9000-${String((count += 1)).padStart(12, '0')}`;
  const [one, two, three] = cameras.map((each) => each.id) as [string, string, string];
  const moving = cameras.filter((each) => (core.moveOf(demo, each.id)?.marks.length ?? 0) > 1).slice(0, 2);
  const [first, second, third] = shots.map(({ shot }) => shot.id) as [string, string, string];
  const [thing, other] = things.map((each) => each.id) as [string, string];
  const sounds = Object.keys(demo.sounds);
  const markers = Object.keys(demo.markers);
  const look = Object.keys(demo.looks)[0] ?? '';
  const dressed = { cameraId: one, variationId: null };
  const setId = Object.keys(demo.sets)[0] ?? '';
  const ALL: Readonly<Record<string, readonly (() => Edit)[]>> = {
    sequence: [
      ...[-9, -1, 1, 7, 60].flatMap((by) => [
        () => core.trimEnd(demo, second, by, { ripple: true }),
        () => core.trimEnd(demo, second, by, { ripple: false }),
        () => core.trimStart(demo, second, by, { ripple: true }),
        () => core.trimStart(demo, second, by, { ripple: false }),
        () => core.rollJoint(demo, second, by),
        () => core.slipShots(demo, [second, third], by),
        () => core.slideShot(demo, second, by),
      ]),
      () => core.setLength(demo, second, 30, { ripple: true }),
      ...shots.map(
        ({ startFrame }) =>
          () =>
            core.splitShot(demo, sequenceId, startFrame + 5, id()),
      ),
      ...[0.25, 2, 3].map((speed) => () => core.setSpeed(demo, second, speed, 'length')),
      ...[0.25, 2, 3].map((speed) => () => core.setSpeed(demo, second, speed, 'action')),
      () => core.fitAction(demo, second, 40),
      () => core.reverseShot(demo, second),
      () => core.holdFrame(demo, second, 'out', 12),
      () => core.holdFrame(demo, second, 'in', 12),
      () =>
        core.setRamp(demo, second, [
          { afterFlicks: 0, speed: 1, ease: 'eased' },
          { afterFlicks: at(20), speed: 0.5, ease: 'even' },
        ]),
      () => core.deleteShots(demo, [second], { close: true }),
      () => core.deleteShots(demo, [second], { close: false }),
      () => core.moveShots(demo, [third, first], 1),
      () => core.putShots(demo, sequenceId, core.copiedShots(demo, [first, second]), third, id),
      () => core.setContinues(demo, second, true),
      () => core.setContinues(demo, second, false),
      () => core.setSceneStart(demo, second, at(50)),
      () => core.setScene(demo, [first, second], 'Quay'),
      () => core.setMeant(demo, [{ key: 'jump-cut', shotId: second }], true),
      () => core.renumberShots(demo, sequenceId, { pattern: 'SQ_####', first: 100, step: 20 }),
      () => core.addSequence(demo, id(), 'Second reel'),
      () => core.duplicateSequence(demo, sequenceId, id(), id),
      () => core.deleteSequence(demo, sequenceId),
      () => core.addTake(demo, second, id(), core.showingOf({ ...demo.shots[third]! }), 'Wider'),
      () => core.setFadeOut(demo, third, { durationFlicks: at(12), place: 'before', colour: '#000000', ease: 0.5 }),
      () =>
        core.cutToCameras(
          demo,
          sequenceId,
          [
            { frame: 12, cameraId: two },
            { frame: 33, cameraId: three },
          ],
          id,
        ),
      () => core.putMoveUnder(demo, second, two),
      () => core.throwPiece(demo, second, two, true),
      () => core.joinToMarkers(demo, sequenceId, 20),
      () => core.deleteMarkers(demo, markers),
      ...sounds.flatMap((sound) => [
        () => core.splitSound(demo, sound, at(100), id()),
        () => core.deleteSound(demo, sound),
      ]),
      () => core.withAction(demo, sequenceId, core.trimEnd(demo, second, 9, { ripple: true })),
      () => core.conformCut(demo, sequenceId, id()).edit,
      () => core.changeRate(demo, { frames: 30, seconds: 1 }, 'frames', { along: 'both' }),
      () => core.changeRate(demo, { frames: 25, seconds: 1 }, 'seconds', { along: 'camera' }),
    ],
    moves: [
      ...moving.flatMap(({ id: cameraId }) => {
        const marks = core.marksInOrder(core.moveOf(demo, cameraId));
        const [, mark = marks[0]!] = marks;
        return [
          ...core.RIG_KINDS.map(
            (kind) => () => core.changeRig(demo, cameraId, core.rigAround(demo, cameraId, kind, at(24)), at(24)).edit,
          ),
          ...(['world', 'relative'] as const).map(
            (how) => () => core.copyMove(demo, cameraId, [three], ['place', 'head', 'lens'], how),
          ),
          () => core.setMark(demo, cameraId, at(30), id(), { positionX: 3, roll: 2 }),
          () => core.removeMark(demo, cameraId, mark.id),
          () => core.leaveOutMark(demo, cameraId, mark.id, true),
          () => core.reorderMark(demo, cameraId, mark.id, 0),
          () => core.setLeg(demo, cameraId, mark.id, at(40)),
          () => core.spaceMarks(demo, cameraId, at(20)),
          () => core.setRest(demo, cameraId, mark.id, 0.7),
          () => core.settle(demo, cameraId, { kind: 'sudden-stop', atFlicks: mark.atFlicks, settleS: 0.5 }).edit,
          () => core.settle(demo, cameraId, { kind: 'sudden-start', atFlicks: marks[0]!.atFlicks, settleS: 0.5 }).edit,
          () => core.stretchMove(demo, cameraId, at(100), { along: 'both' }),
          () => core.reverseMove(demo, cameraId),
          () => core.rampMove(demo, cameraId, 0.5, 1.5),
          () => core.bakeRig(demo, cameraId, at(24)).edit,
          () => core.keyHere(demo, cameraId, 'focalLength', at(24)),
          () =>
            core.moveThroughViews(
              demo,
              two,
              { views: core.viewsOf(demo, cameraId, marks), legsFlicks: [], even: true, eased: true },
              { atFlicks: 0, markIds: marks.map(id) },
            ),
        ];
      }),
      ...(Object.keys(core.NAMED_MOVES) as core.NamedMove[]).map(
        (move) => () =>
          core.addNamedMove(
            demo,
            three,
            { move, amount: 1.5, seconds: 2, easeIn: 0.3, easeOut: 0.3, settleS: 0.2, subjectId: keeper },
            at(12),
          ),
      ),
      () => core.addOrbit(demo, three, { subjectId: keeper, degrees: -120, seconds: 4, loop: false }, at(12)),
      () => core.addOrbit(demo, three, { subjectId: null, degrees: 360, seconds: 6, loop: true }, 0),
    ],
    'cameras, looks and the set': [
      () => core.matchCameras(demo, one, [two, three], ['lens', 'exposure']),
      () =>
        core.applyPackage(demo, two, { name: 'Dusk kit', settings: core.packageOf(demo, one) } as never, {
          kit: id(),
          look: id(),
        }),
      () => core.setFilmBack(demo, one, { ...demo.cameras[one]!.filmBack, widthMm: 13.2, heightMm: 8.8 }, 'angle'),
      () => core.setFilmBack(demo, one, { ...demo.cameras[one]!.filmBack, widthMm: 13.2, heightMm: 8.8 }, 'lens'),
      () => core.duplicateCamera(demo, one, id()),
      () => core.deleteCamera(demo, two),
      () => core.reorderCamera(demo, three, 0),
      ...(['exposure', 'guides', 'delivery', 'look'] as const).map(
        (group) => () => core.setOwn(demo, one, group, true),
      ),
      () => core.setLook(demo, dressed, 'Look', { saturation: 0.5 } as never, id()),
      () => core.setLook(demo, { cameraId: three, variationId: null }, 'Look', {}, id(), 'alone'),
      () => core.deleteLook(demo, look),
      () => core.setProjectLook(demo, look),
      () => core.keepVariation(demo, dressed, { variation: id(), look: id() }, 'Dusk', true),
      ...cameras.flatMap(({ id: cameraId, variations }) =>
        Object.keys(variations).flatMap((variation) => [
          () => core.wearVariation(demo, cameraId, variation),
          () => core.duplicateVariation(demo, cameraId, variation, { variation: id(), look: id() }),
          () => core.moveVariation(demo, cameraId, variation, 0),
          () => core.deleteVariation(demo, cameraId, variation),
        ]),
      ),
      ...(
        [
          [0, 0, 0],
          [1.5, 0, -2],
        ] as const
      ).map((way) => () => core.arrayPlacements(demo, [thing], id, 3, way)),
      () => core.duplicatePlacements(demo, [thing, other], id),
      () => core.groupPlacements(demo, [thing, other], id()),
      () => core.attachPlacements(demo, [other], thing, at(24)),
      () => core.deletePlacements(demo, [keeper]),
      () => core.turnPlacement(demo, thing, { fromFlicks: 0, lengthFlicks: at(48), degrees: 360 }),
      () => core.stopMoving(demo, keeper, at(24)),
      () => core.inNewLightGroup(demo, thing, id()),
      ...core.STARTING_PLACES.map((place) => () => core.startingPlace(demo, setId, place, id)),
      () => core.addLensKit(id(), 'Shed'),
    ],
  };

  it.each(Object.keys(ALL))('is made of the same operations: %s', (group) =>
    kept(
      `edits of ${group}`,
      (ALL[group] ?? []).map((make, i) => [
        String(i),
        () => {
          const edit = make();
          // What it leaves is a project that holds.
          core.previewed(demo, edit);
          return [edit.name, edit.operations.map(({ op, kind, ...rest }) => ({ op, kind, ...rest }))];
        },
      ]),
    ),
  );
});
