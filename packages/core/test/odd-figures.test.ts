/**
 * Figures where the demo does not go: every question of one number or two over its whole range, and a camera, a thing and a sound in
 * each state that they can have. Kept as in `figures.test.ts`.
 */
import { describe, it } from 'vitest';
import type { Camera, Operation, Placement, PlacementMotion, Project, Retime, Sound } from '../src';
import * as core from '../src';
import { marksWithKeys } from '../src/edits/move/marks';
import { touchSame } from '../src/model/rebase';
import { kept } from './kept-figures';
import { emptyProject } from './sample-project';

const RATE = { frames: 24, seconds: 1 };
const at = (frame: number) => core.flicksAtFrame(frame, RATE);
const BACK = core.CAMERA_DEFAULTS.filmBack;
const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;

/** Every answer of a question to each of some things, in one line a question. */
const over = <T>(what: string, asked: readonly T[], ask: (one: T) => unknown) =>
  asked.map((one, i) => [`${what} ${i}`, () => ask(one)] as const);
const each = <A, B, C>(as: readonly A[], bs: readonly B[], ask: (a: A, b: B) => C) =>
  as.map((a) => bs.map((b) => ask(a, b)));

describe('questions of a few numbers', () => {
  it('of time', () =>
    kept('time', [
      ...over('frames', core.RATES, (rate) =>
        [0, 1, 7, 1799, 1800, 17_982, 107_892].flatMap((frame) => [
          core.flicksAtFrame(frame, rate),
          core.frameAtFlicks(core.flicksAtFrame(frame, rate) - 1, rate),
          core.timecodeAtFrame(frame, rate),
          core.timecodeOfDay(frame, rate),
          core.framesKeepingSeconds(frame, rate, RATE),
        ]),
      ),
      ...over('named', core.RATES, (rate) => [
        core.rateLabel(rate),
        core.flicksPerFrame(rate),
        core.frameAtTimecode('00:10:00:02', rate),
      ]),
      ...over('read', ['1', '2.5s', '12f', '00:00:02:05', '3 s', '-4f', '1m', 'x'], (text) => [
        core.readNumber(text, core.timeInFrames(RATE)),
      ]),
      ...over('length', [0, 0.001, 0.3048, 1.7, 12.345, 1852], (metres) =>
        core.DISPLAY_UNITS.map((unit) => [core.lengthText(metres, unit), core.lengthNumber(metres, unit)]),
      ),
    ]));

  it('of lenses', () => {
    const [mms, stops, metres] = [
      [8, 18, 35, 50, 135, 400],
      [0.7, 1.4, 2, 5.6, 16, 22],
      [0.3, 1, 2.5, 8, 40, 1000],
    ];
    return kept('lenses', [
      ...over('angles', mms, (mm) =>
        (['horizontal', 'vertical', 'diagonal'] as const).map((side) => [
          core.angleOfViewDeg(mm, BACK, side),
          core.focalLengthForAngleMm(core.angleOfViewDeg(mm, BACK, side) / 2, BACK, side),
        ]),
      ),
      ...over('blur', mms, (mm) => each(stops, metres, (stop, m) => core.blurCircleMm(mm, stop, 3000, m * 1000))),
      ...over('limits', mms, (mm) => each(stops, metres, (stop, m) => core.focusLimits(mm, stop, m * 1000, 0.02))),
      ...over('held', mms, (mm) =>
        each(metres, [1.2, 3], (m, far) => [
          core.holdSharp(mm, m * 1000, m * far * 1000, 0.02),
          core.holdSharpMarked(mm, m * 1000, m * far * 1000, 0.02, 1.4),
        ]),
      ),
      ...over('breathing', mms, (mm) => metres.map((m) => core.breathingFocalLengthMm(mm, m * 1000))),
      ...over('opened', mms, (mm) => [core.nearestFocusMm(mm), ...stops.map((stop) => core.apertureMm(mm, stop))]),
      ...over('marked', stops, (stop) => [
        core.markedStopAtLeast(stop),
        core.markedStopAtLeast(stop * 1.01),
        core.STANDARD_LENSES.slice(0, 3).map((lens) => core.tStopOf(lens, stop)),
      ]),
      ...over('bent', [-14, -5, 0, 3, 20], (percent) => {
        const k1 = core.distortionK1(percent, 1.1);
        return [
          k1,
          core.foldSquared(k1),
          ...each([0, 0.3, 0.9], [0, 0.5], (x, y) => [
            core.distortionFactor(k1, x, y),
            core.undistortionFactor(k1, x, y),
          ]),
        ];
      }),
      ...over('fits', core.FITS, (fit) =>
        [0.5, 1.2, 1.78, 2.39].map((aspect) =>
          core.fitDelivery(BACK, { widthPx: Math.round(1000 * aspect), heightPx: 1000, pixelAspect: 1.25 }, fit),
        ),
      ),
      ...over('formats', core.FILM_FORMATS, (format) => [core.filmBackName(format), core.unsqueezedWidthMm(format)]),
      ...over('asked too much', core.STANDARD_LENSES, (lens) =>
        each([1, 35, 60, 900], [0.2, 3], (mm, m) =>
          core.lensExcesses(lens, { focalLengthMm: mm, fStop: 1, focusM: m, cornerMm: 30 }),
        ),
      ),
    ]);
  });

  it('of light and colour', () =>
    kept('light and colour', [
      ...over('white', [1700, 2000, 2222, 2300, 3200, 3950, 4000, 4050, 5600, 7000, 7200, 25_000], (kelvin) =>
        [-100, -20, 0, 55].map((tint) => [core.whiteAt(kelvin, tint), core.whiteBalance(kelvin, tint)]),
      ),
      ...over('lights', [1700, 3200, 6504, 12_000], core.lightColour),
      ...over('levels', [-20, -1.5, 0, 3], (stops) =>
        ['#ffffff', '#ff8000', '#000000'].map((tint) =>
          [true, false].map((on) => core.lightFactor({ stops, tint, on })),
        ),
      ),
      ...over('reach', [0.1, 1, 10], (wanted) =>
        each([0, 0.5, 2], [0, 0.01, 3], (rest, own) => core.stopsToReach(wanted, rest, own) ?? null),
      ),
      ...over('shares', [0, 0.3, 1, 7], (share) =>
        ['#ffffff', '#102040', '#ff8000'].map((tint) => core.tintShare(tint, share)),
      ),
      ...over('sun', [-30, -7, -0.5, 0, 2, 12, 45, 90], core.clearDaylight),
      ...over('places', [0, 40, 80, 120], (hours) =>
        each([-66, 0, 51, 80], [-120, 0, 30], (latitude, longitude) =>
          core.sunPosition(Date.UTC(2026, 2, 20) + hours * 3_600_000 * 26.5, latitude, longitude),
        ),
      ),
      ...over('responses', core.RESPONSES, (response) => {
        const table = core.responseTable(response);
        return (
          table &&
          [0, 0.02, 0.18, 0.5, 0.93, 1].map((x) =>
            ([0, 1, 2] as const).map((part) => core.throughTable(table, x, part)),
          )
        );
      }),
      ...over('shown', [-0.2, 0, 0.001, 0.0031, 0.2, 0.8, 0.9, 1, 3], (x) => [
        core.linearFromSrgb(x),
        core.srgbFromLinear(x),
        core.shoulder(x, x / 2, x / 5, [0, 0, 0]),
      ]),
      ...over('exposed', [0.5, 2, 8, 22], (stop) =>
        each([1 / 500, 1 / 48, 1], [50, 800], (seconds, iso) => {
          const ev = core.ev100({ fStop: stop, shutterS: seconds, iso } as never);
          return [ev, core.isoForEv(ev, stop, seconds), core.clippingLuminance(ev, 2), core.meteredEv(2 ** ev)];
        }),
      ),
      ...over('shutter', [1, 90, 172.8, 360], (angle) => [
        core.shutterSeconds(angle, RATE),
        core.angleForShutter(core.shutterSeconds(angle, RATE), RATE),
        core.shutterOpensS(core.shutterSeconds(angle, RATE), 'centred'),
      ]),
    ]));

  it('of space', () => {
    const angles = [-200, -90, -30, 0, 45, 90, 181].map((deg) => ({
      panDeg: deg,
      tiltDeg: deg / 3,
      rollDeg: -deg / 4,
    }));
    return kept('space', [
      ...over('turns', angles, (one) => [
        core.anglesOf(core.rotationOf(one)),
        core.turned([1, 2, 3], core.rotationOf(one)),
        core.turned([1, 2, 3], core.inverseRotation(core.rotationOf(one))),
        core.combined(core.rotationOf(one), core.rotationOf(angles[4]!)),
      ]),
      ...over(
        'toward',
        [
          [0, 0, -1],
          [3, 1, 2],
          [0, 5, 0],
          [-1, -4, 0.1],
        ] as const,
        (to) => core.anglesToward([0.5, 1, 0], to),
      ),
      ...over('paths', [false, true], (closed) =>
        (['smooth', [true, false, true]] as const).map((shape) => {
          const path = core.pathThrough(
            [
              [0, 0, 0],
              [2, 0, 1],
              [5, 1, 0],
              [6, 1, -4],
            ],
            closed,
            shape,
          );
          return [
            path.lengthM,
            ...[0, 0.1, 0.5, 0.99, 1].flatMap((share) => [
              path.pointAt(share * path.lengthM),
              path.headingDegAt(share * path.lengthM),
            ]),
          ];
        }),
      ),
    ]);
  });
});

describe('tracks and marks', () => {
  const way = (count: number, at: (share: number) => core.Vector) =>
    Array.from({ length: count }, (_, i) => at(i / (count - 1)));
  const turn = (share: number, whole: number) => share * whole * 2 * Math.PI;
  const WAYS = [
    way(40, (s) => [6 * Math.cos(turn(s, 0.5)), 1.5, 6 * Math.sin(turn(s, 0.5))]),
    way(60, (s) => [3 * Math.cos(turn(s, 1)), 1, 3 * Math.sin(turn(s, 1))]),
    way(50, (s) => [9 * s, Math.sin(turn(s, 1)), s * s * 4]),
    way(30, (s) => (s < 0.5 ? [8 * s, 1, 0] : [4, 1, 8 * (s - 0.5)])),
  ];

  it('are laid with as few nodes as are asked for', () =>
    kept(
      'tracks',
      over('way', WAYS, (places) => [
        ...[0.02, 0.1, 0.5].map((withinM) => core.trackThrough(places, { withinM })),
        core.trackThrough(places, { count: 4 }),
        core.trackThrough(places, { withinM: 0.2 }, [places[9]!, places[23]!]),
      ]),
    ));

  it('go with their keys where these go together', () => {
    const keyed = (...frames: readonly number[]) =>
      frames.map((frame) => ({ atFlicks: at(frame), value: 0, shape: 'smooth' as const }));
    const curves = { positionX: keyed(0, 10, 20), pan: keyed(0, 10), timeWarp: keyed(20) };
    const marks = [0, 10, 20, 30].flatMap((frame) =>
      [false, true].map((leftOut) => ({ id: id(frame + Number(leftOut)), atFlicks: at(frame), leftOut })),
    ) as unknown as Parameters<typeof marksWithKeys>[0]['marks'];
    const ways: readonly ((channel: string, flicks: number) => number)[] = [
      (_, flicks) => flicks + at(5),
      (channel, flicks) => (channel === 'pan' ? flicks + at(5) : flicks),
      (_, flicks) => (flicks === at(10) ? at(20) : flicks),
      () => at(7),
    ];
    return kept(
      'marks',
      over('moved', ways, (movedTo) => marksWithKeys({ marks, curves }, movedTo).map(({ atFlicks }) => atFlicks)),
    );
  });
});

describe('time that is changed', () => {
  const ramp = (...speeds: readonly number[]) =>
    speeds.map((speed, i) => ({
      afterFlicks: at(i * 20 - 5),
      speed,
      ease: (['even', 'eased', 'held'] as const)[i % 3]!,
    }));
  const RETIMES: readonly Retime[] = [
    core.TRUE_SPEED,
    ...[-2, 0, 0.4, 3].map((speed) => ({ ...core.TRUE_SPEED, speed })),
    { speed: 1, ramp: ramp(1, 0, -1, 2), holds: [] },
    { speed: 1, ramp: ramp(2, 3), holds: [{ afterFlicks: at(10), durationFlicks: at(6) }] },
    {
      speed: -1,
      ramp: [],
      holds: [
        { afterFlicks: 0, durationFlicks: at(4) },
        { afterFlicks: at(9), durationFlicks: at(3) },
      ],
    },
  ];
  const AFTER = [-30, 0, 3, 11, 24, 60].map(at);

  it('is as fast, gone by and found again as it says', () =>
    kept(
      'retimed',
      over('retime', RETIMES, (retime) => [
        core.isTrueSpeed(retime),
        AFTER.map((after) => [
          core.sceneGoneBy(retime, after),
          core.speedAfter(retime, after),
          core.retimeFrom(retime, after),
        ]),
        AFTER.map((gone) => core.whenGoneBy(retime, gone, at(90)) ?? null),
        core.reachOf(retime, at(50)),
      ]),
    ));

  it('is heard in every stretch, looped or not, from any sample', () => {
    const sound = (startFlicks: number, more: Partial<Sound>): Sound => ({
      id: id(1),
      revision: 'first',
      sequenceId: id(2),
      assetId: id(3),
      name: 'wind',
      lane: 0,
      muted: false,
      startFlicks,
      trimS: 0.5,
      lengthS: 2,
      fadeInS: 0.25,
      fadeOutS: 0.5,
      gainDb: -6,
      ...more,
    });
    const sounds = [sound(0, {}), sound(at(30), { gainDb: 0, fadeInS: 0 }), sound(at(47), { lengthS: 9 })];
    return kept(
      'heard',
      over(
        'stretch',
        each([0, 10], [0, 13, 40], (first, start) => [first, first + start] as const).flat(),
        ([first, start]) =>
          [true, false].map((loops) => {
            const played = { firstFlicks: at(first), endFlicks: at(first + 55), startFlicks: at(start), loops };
            return each([-100, 0, 30_001, 400_000], [1, 90_000], (from, count) =>
              core.heardBetween(sounds, played, from, from + count).map(({ sound: _, ...part }) => part),
            );
          }),
      ),
    );
  });
});

describe('what is written at the same time', () => {
  it('touches the same, or does not; orders are told apart by their ids', () => {
    const parts = [[], ['pose'], ['curves', 'pan'], ['curves', 'panorama']];
    const operations = [
      { op: 'create', kind: 'move', id: id(1), fields: {} },
      { op: 'delete', kind: 'move', id: id(1), baseRevision: 'a' },
      { op: 'delete', kind: 'move', id: id(2), baseRevision: 'a' },
      { op: 'delete', kind: 'camera', id: id(1), baseRevision: 'a' },
      { op: 'patch', kind: 'move', id: id(1), baseRevision: 'a', fields: { curves: {} } },
      { op: 'patch', kind: 'move', id: id(1), baseRevision: 'a', fields: { after: {} } },
      ...parts.map((path) => ({
        op: 'patch',
        kind: 'move',
        id: id(1),
        baseRevision: 'a',
        fields: {},
        parts: path.length > 0 ? [{ at: path, value: [] }] : [],
      })),
    ] as unknown as Operation[];
    const placed = ['a', 'b'].flatMap((order) => [1, 2].map((n) => ({ order, id: id(n) })));
    return kept('at the same time', [
      ...over('touches', operations, (one) => operations.map((other) => Number(touchSame(one, other)))),
      ...over('order', placed, (one) => placed.map((other) => core.compareOrder(one, other))),
      ...over('between', [undefined, 'a0', 'a1V'], (before) =>
        [1, 77, 4_000_000].map((n) => core.orderBetween(before, undefined, id(n))),
      ),
    ]);
  });
});

describe('a camera and a thing in each state that they can have', () => {
  const [walker, ground, box, second] = [id(11), id(12), id(13), id(14)];
  const curve = (...values: readonly number[]) =>
    values.map((value, i) => ({ atFlicks: at(i * 24), value, shape: (['smooth', 'linear', 'hold'] as const)[i % 3]! }));
  const walk = (more: Partial<Extract<PlacementMotion, { kind: 'path' }>>): PlacementMotion => ({
    kind: 'path',
    nodesM: [
      [-3, 0, -6],
      [0, 0, -5],
      [4, 1, -7],
    ],
    groundM: [],
    speedMps: 1.3,
    startFlicks: at(6),
    closed: false,
    facing: 'along',
    ...more,
  });
  const MOTIONS: readonly PlacementMotion[] = [
    { kind: 'still' },
    { kind: 'keys', curves: { positionX: curve(0, 2, -1), pan: curve(0, 400) } },
    {
      kind: 'keys',
      curves: { positionX: curve(0, 2, -1), pan: curve(0, 90) },
      after: { positionX: 'repeat', pan: 'onward' },
    },
    walk({}),
    walk({ closed: true, groundM: [0, 0.2, 1, 0.4] }),
    walk({ facing: 'as-placed', speedMps: 9 }),
  ];
  const placement = (
    placementId: string,
    name: string,
    piece: Placement['piece'],
    more: Partial<Placement> = {},
  ): Placement => ({
    ...core.PLACEMENT_DEFAULTS,
    id: placementId,
    revision: 'first',
    name,
    piece,
    positionM: [0, 0, 0],
    setId: Object.keys(empty.sets)[0] ?? '',
    ...more,
  });
  const offer = (kind: string) => core.PIECE_OFFERS.find(({ piece }) => piece.kind === kind)!.piece;
  const empty = emptyProject();
  const camera = (more: Partial<Camera>): Camera => ({
    ...core.CAMERA_DEFAULTS,
    id: id(1),
    revision: 'first',
    number: 1,
    name: 'Odd one',
    ...more,
  });
  const project = (one: Camera, motion: PlacementMotion = MOTIONS[3]!): Project => ({
    ...empty,
    cameras: { [one.id]: one },
    placements: {
      [walker]: placement(walker, 'courier', offer('figure'), {
        subject: true,
        motion,
        positionM: [1, 0, -4],
        panDeg: 30,
      }),
      [second]: placement(second, 'keeper', offer('figure'), { subject: true, positionM: [-1, 0.5, -9] }),
      [ground]: placement(ground, 'ground', offer('ground')),
      [box]: placement(box, 'crate', offer('box'), { positionM: [1.2, 0.5, 3], panDeg: 20, parentId: null }),
    },
    moves: {
      [id(2)]: {
        id: id(2),
        revision: 'first',
        cameraId: one.id,
        marks: [],
        after: {},
        curves: {
          positionX: curve(0, 1, 1.5),
          focalLength: curve(one.lens.focalLengthMm, one.lens.focalLengthMm + 10),
        },
      },
    },
  });
  const base = core.CAMERA_DEFAULTS;
  const rigged = { ...core.RIG_DEFAULTS.base, atM: [1, 0.2, 2] as const, turnDeg: 25 };
  const rack = (n: number, subjectId: string, from: number, frames: number, ease: number) => ({
    id: id(20 + n),
    subjectId,
    point: 'eyes' as const,
    startFlicks: at(from),
    durationFlicks: at(frames),
    ease,
  });
  const focus = (more: Partial<Camera['focus']>): Partial<Camera> => ({ focus: { ...base.focus, ...more } });
  const aim = (smoothingS: number, weight = 1): Partial<Camera> => ({
    aim: { kind: 'subject', placementId: walker, point: 'eyes', offsetM: [0.2, 0.1, 0], weight, smoothingS },
  });
  const CAMERAS: Readonly<Record<string, Partial<Camera>>> = {
    plain: {},
    under: { pose: { ...base.pose, positionM: [0, -1, 0] } },
    level: { pose: { ...base.pose, positionM: [0, -0.01, 0] } },
    inside: { pose: { ...base.pose, positionM: [1.1, 0.6, 3.1] } },
    away: { pose: { ...base.pose, panDeg: 180 }, ...focus({ mode: 'follow', subjectId: walker }) },
    near: focus({ distanceM: 0.4, fStop: 1.2 }),
    follow: focus({ mode: 'follow', subjectId: walker, point: 'foot' }),
    nobody: focus({ mode: 'follow', subjectId: null, racks: [rack(1, second, 10, 0, 0)] }),
    racks: focus({
      mode: 'follow',
      subjectId: walker,
      racks: [rack(1, second, 5, 20, 1), rack(2, walker, 40, 12, 0), rack(3, id(99), 50, 5, 0)],
    }),
    auto: focus({ mode: 'auto', auto: { x: 0.2, y: 0.9 } }),
    'aim at': aim(0),
    'aim late': aim(0.8, 0.5),
    'aim at a point': { aim: { kind: 'point', positionM: [3, 1, -4] } },
    'aim along': {
      aim: {
        kind: 'path',
        nodesM: [
          [0, 1, -9],
          [4, 1, -9],
          [5, 2, -3],
        ],
        closed: false,
      },
    },
    'head forward': { headOffsetMm: [20, 60, 180], ...aim(0) },
    hand: { handheld: { ...base.handheld, amount: 1 } },
    rail: {
      rig: {
        kind: 'rail',
        ...rigged,
        nodesM: [
          [0, 0, 0],
          [3, 0, 1],
          [6, 0, 0],
        ],
        straight: [true, false],
        closed: false,
        by: 'distance',
        along: 2,
        cameraM: [0.3, 1.4, 0.1],
      },
    },
    'rail round': {
      rig: {
        kind: 'rail',
        ...rigged,
        head: 'carried',
        nodesM: [
          [0, 0, 0],
          [3, 0, 1],
          [6, 0, 0],
        ],
        straight: [],
        closed: true,
        by: 'share',
        along: 110,
        cameraM: [0, 1.4, 0],
      },
    },
    crane: { rig: { kind: 'crane', ...rigged, columnM: 1.2, swingDeg: 40, pitchDeg: 25, armM: 4, riserM: -0.3 } },
    orbit: {
      rig: { kind: 'orbit', ...rigged, subjectId: walker, point: 'middle', angleDeg: 70, radiusM: 3, heightM: 1 },
    },
    'orbit a place': {
      rig: {
        kind: 'orbit',
        ...rigged,
        head: 'carried',
        subjectId: null,
        point: 'middle',
        angleDeg: 70,
        radiusM: 3,
        heightM: 1,
      },
    },
    'follow along': {
      rig: {
        kind: 'follow',
        ...rigged,
        subjectId: walker,
        point: 'eyes',
        axes: 'subject',
        offsetM: [1, 0.5, 2],
        lagS: 0.6,
      },
    },
    'follow in the world': {
      rig: {
        kind: 'follow',
        ...rigged,
        head: 'carried',
        subjectId: walker,
        point: 'foot',
        axes: 'world',
        offsetM: [0, 2, 4],
        lagS: 0,
      },
    },
    wide: {
      lens: { ...base.lens, focalLengthMm: 12, breathing: true, distortionPercent: -12, shiftXMm: 3, shiftYMm: -4 },
    },
    parallel: { lens: { ...base.lens, parallelWidthM: 6 } },
    squeezed: { filmBack: { widthMm: 22, heightMm: 18.6, squeeze: 2 }, framing: { ...base.framing, fit: 'show-all' } },
    'clips close': { clip: { nearM: 4.4, farM: 7 } },
  };

  it('cameras: where they are, what they see, what is wrong', () =>
    kept(
      'odd cameras',
      Object.entries(CAMERAS).flatMap(([name, more]) => {
        const film = project(camera(more));
        const seen = [0, 7, 30, 52].map(at);
        return [
          [
            name,
            () =>
              seen.map((time) => ({
                ...core.cameraAt(film, id(1), time),
                look: undefined,
                lightMix: undefined,
                exposure: undefined,
              })),
          ],
          [
            `${name}: framed`,
            () =>
              seen.map((time) => ({
                ...core.chosenSubject(film, core.cameraAt(film, id(1), time), time),
                placement: undefined,
              })),
          ],
          [
            `${name}: rig`,
            () => [
              core.rigBody(film, id(1), at(30)),
              core.markChannels(film.cameras[id(1)]!),
              core.rigChannels(film.cameras[id(1)]!),
            ],
          ],
          [`${name}: said`, () => [core.cameraFacts(film, id(1), at(30)), core.cameraFindings(film)]],
          [`${name}: borne`, () => core.comfortOf(film, id(1), 0, at(60)).events],
          [`${name}: row`, () => [...core.cameraRows(film, id(1), 30, 31)]],
        ] as const;
      }),
    ));

  it('things: where they go, where they face', () =>
    kept(
      'odd things',
      MOTIONS.flatMap((motion, i) => {
        const film = project(camera({}), motion);
        const thing = film.placements[walker]!;
        const carried = {
          ...film,
          placements: { ...film.placements, [box]: { ...film.placements[box]!, parentId: walker } },
        };
        const times = [-5, 0, 6, 25, 49, 200].map(at);
        return [
          [
            `motion ${i}`,
            () => times.map((time) => [core.placementAt(film, walker, time), core.facingDegAt(film, thing, time)]),
          ],
          [`motion ${i} carries`, () => times.map((time) => core.placementAt(carried, box, time))],
          [
            `motion ${i} walks`,
            () =>
              motion.kind === 'path'
                ? [core.arrivalFlicks(motion), times.map((time) => core.walkedM(motion, time))]
                : null,
          ],
          [
            `motion ${i} let go`,
            () => [
              core.attachPlacements(carried, [box], null, at(25)).operations,
              core.attachPlacements(film, [box], walker, at(25)).operations,
            ],
          ],
        ] as const;
      }),
    ));

  it('pieces: how large they are, where their eyes are', () =>
    kept(
      'pieces',
      core.PIECE_OFFERS.map(
        ({ piece, name }) =>
          [
            name,
            () => [
              core.pieceBox(piece),
              core.pieceFootprints(piece),
              core.eyesAboveFootM(piece) ?? null,
              core.eyesForwardM(piece),
              core.pieceSized(piece, [2, 0.5, 1.5]),
            ],
          ] as const,
      ),
    ));

  it('moves: when they begin again', () =>
    kept(
      'loops',
      over(
        'loop',
        each(
          [
            {},
            { positionX: curve(0, 1) },
            { positionX: curve(0, 1), pan: curve(0, 1) },
            { pan: curve(0, 1, 2), positionX: curve(5) },
          ],
          [{}, { positionX: 'repeat' }, { positionX: 'repeat', pan: 'onward' }],
          (curves, after) => ({ curves, after }) as Parameters<typeof core.isLoop>[0],
        ).flat(),
        (move) => [core.isLoop(move), core.sceneSpanOf(move as never) ?? null, core.clockSpanOf(move as never) ?? null],
      ),
    ));
});
