import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cameraAt, deliveredWindow, projectedLens } from '../src/camera';
import { findingsOf } from '../src/checks';
import {
  applyPackage,
  changeEv,
  changeExposure,
  exposureValues,
  lensFromKit,
  matchCameras,
  packageOf,
  reorderCamera,
  setCamera,
  setGroup,
  setOwn,
} from '../src/edits/camera';
import { changeRate, rateExposures } from '../src/edits/project';
import { keyPlacement, putPiece } from '../src/edits/set';
import type { ExposureValues } from '../src/exposure';
import { meteredEv, meterLuminance, MID_TONE, sceneEv, setHolding, shiftEv } from '../src/exposure';
import { cameraFacts } from '../src/facts';
import { chosenSubject, keepVerticals, positionKeepingSize, shotSize } from '../src/framing';
import type { Camera, PieceOffer, Project } from '../src/model';
import { aspectWithin, CAMERA_DEFAULTS } from '../src/model';
import {
  blurLimitMm,
  breathingFocalLengthMm,
  centredWindow,
  distortionFactor,
  distortionK1,
  focusLimits,
  holdSharp,
  holdSharpMarked,
  lensExcesses,
  projectPoint,
  sightThrough,
  STANDARD_LENSES,
  undistortionFactor,
} from '../src/optics';
import { subjectPointAt } from '../src/set';
import { flicksFromSeconds } from '../src/time';
import { after, nextId, projectWithCamera } from './sample-project';

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const relative = (actual: number, expected: number) => Math.abs(actual / expected - 1);
const FIGURE: PieceOffer = {
  name: 'Keeper',
  piece: { kind: 'figure', heightM: 1.8, pose: 'standing' },
  colour: null,
  subject: true,
};

/** A camera at the origin, eye high, that looks north at a figure. */
function withFigure(parts: Partial<Camera> = {}, z = -5): { project: Project; cameraId: string; figureId: string } {
  const pose = { positionM: [0, 1.6, 0] as [number, number, number], panDeg: 0, tiltDeg: 0, rollDeg: 0 };
  const { project, cameraId } = projectWithCamera({ pose, ...parts });
  const figureId = nextId();
  const setId = Object.keys(project.sets)[0] as string;
  return { project: after(project, putPiece(project, setId, figureId, FIGURE, [0, 0, z])), cameraId, figureId };
}

describe('held exposure', () => {
  const values: ExposureValues = { stop: 4, shutter: 180, iso: 400, nd: 0 };

  it('lets the first absorber take a change up: f/4 to f/8 at ISO 400 asks ISO 1600', () => {
    const held = setHolding(values, 'stop', 8, ['iso']);
    expect(held.values.iso).toBeCloseTo(1600, 9);
    expect(held).toMatchObject({ restStops: 0 });
    expect(held.absorbed[0]?.stops).toBeCloseTo(2, 9);
  });

  it('goes on to the next absorber at an end stop, and says what nobody could take', () => {
    const ends = { stop: [1, 22], shutter: [1, 360], iso: [25, 800], nd: [0, 10] } as const;
    const held = setHolding(values, 'stop', 16, ['iso', 'shutter'], ends); // four stops darker
    expect(held.values.iso).toBeCloseTo(800, 9);
    expect(held.values.shutter).toBeCloseTo(360, 9);
    expect(held.absorbed.map(({ part }) => part)).toEqual(['iso', 'shutter']);
    expect(held.restStops).toBeCloseTo(2, 9); // EV is two stops higher than it was
  });

  it('takes the filters out before ISO goes up, and brings ISO down before they go in', () => {
    const behind: ExposureValues = { ...values, iso: 100, nd: 3 };
    const brighter = shiftEv(behind, -5, ['iso', 'nd', 'shutter', 'stop']);
    expect(brighter.values).toMatchObject({ nd: 0, iso: 400 });
    const high: ExposureValues = { ...values, iso: 6400, nd: 0 };
    const darker = shiftEv(high, 5, ['nd', 'stop', 'iso', 'shutter']);
    expect(darker.values).toMatchObject({ iso: 800, nd: 2 });
    expect(shiftEv(behind, -2, ['stop', 'iso']).values).toMatchObject({ nd: 3, stop: 2 }); // as chosen
  });

  it('puts filters in by whole stops, and ISO takes up the part of a stop that is left', () => {
    const behind: ExposureValues = { ...values, iso: 100, nd: 0 };
    const darker = shiftEv(behind, 3.9, ['nd', 'stop', 'iso', 'shutter']).values;
    expect(darker).toMatchObject({ nd: 4, stop: 4, shutter: 180 });
    expect(darker.iso).toBeCloseTo(100 * 2 ** 0.1, 6);
    const brighter = shiftEv({ ...behind, nd: 4 }, -0.3, ['nd', 'iso']).values;
    expect([brighter.nd, brighter.iso]).toEqual([4, expect.closeTo(100 * 2 ** 0.3, 6)]);
    expect(shiftEv(behind, 3.9, ['nd']).values.nd).toBeCloseTo(3.9, 9); // nobody else may
  });

  it('is kept at another rate, the shutter’s angle and f-stop staying; where EV is free that is told', () => {
    const exposure = { ...projectWithCamera().project.head.exposure, hold: true, ndStops: 3, iso: 100 };
    const { project, cameraId } = projectWithCamera({ own: ['exposure'], exposure });
    const at30 = { frames: 30, seconds: 1 };
    const next = after(project, changeRate(project, at30, 'seconds', { along: 'both' }));
    const ev = (of: Project) => sceneEv(cameraAt(of, cameraId, 0).exposure);
    expect(ev(next)).toBeCloseTo(ev(project), 9);
    expect(next.cameras[cameraId]?.exposure.shutterAngleDeg).toBe(exposure.shutterAngleDeg);
    const told = rateExposures(project, at30);
    expect(told.map(({ of, held }) => [of, held !== undefined])).toEqual([
      ['The project', false],
      [project.cameras[cameraId]?.name, true],
    ]);
    expect(told[0]?.stops).toBeCloseTo(Math.log2(24 / 30), 9);
    expect(rateExposures(project, project.head.rate)).toEqual([]);
  });

  it('never changes EV while something can take it up', () => {
    const evOf = ({ stop, shutter, iso, nd }: ExposureValues) =>
      Math.log2(stop ** 2 / shutter) - Math.log2(iso / 100) + nd;
    fc.assert(
      fc.property(number(2, 11), number(45, 360), number(100, 6400), (stop, shutter, iso) => {
        const held = setHolding(values, 'stop', stop, ['iso', 'nd', 'shutter']);
        expect(evOf(held.values) - evOf(values)).toBeCloseTo(held.restStops, 9);
        const { values: next } = setHolding({ ...values, shutter, iso }, 'nd', 2, ['iso', 'shutter', 'stop']);
        expect(evOf(next)).toBeCloseTo(evOf({ ...values, shutter, iso }), 9);
      }),
    );
  });

  it('counts the T-stop in exposure and the f-stop in depth of field', () => {
    const [lens] = STANDARD_LENSES.filter(({ id }) => id === 'standard-24');
    if (!lens) throw new Error('no lens');
    const { project, cameraId } = projectWithCamera({
      lens: lensFromKit(CAMERA_DEFAULTS.lens, lens),
      focus: { ...CAMERA_DEFAULTS.focus, fStop: 2.8 },
    });
    const state = cameraAt(project, cameraId, 0);
    expect(state.focus.tStop).toBeCloseTo(3, 9); // T1.5 at f/1.4
    expect(state.exposure.ev100).toBeCloseTo(Math.log2(9 * 48), 9);
    const limits = focusLimits(24, 2.8, 5000, state.focus.blurLimitMm);
    expect(state.focus.nearM * 1000).toBeCloseTo(limits.nearMm, 9);
    expect(changeExposure(state, 'iso', 200).exposure.iso).toBe(200);
    expect(exposureValues(state).shutter).toBe(180);
    // As a crew does: neutral density goes in before anything else is touched.
    expect(changeEv(state, 1).exposure).toMatchObject({
      ndStops: exposureValues(state).nd + 1,
      iso: 100,
      shutterAngleDeg: 180,
    });
  });
});

describe('the meter', () => {
  it('says which EV a luminance asks for, and its mid-tone lands at 0.104', () => {
    expect(meteredEv(0.125)).toBe(0);
    expect(meteredEv(4096 * 0.125)).toBeCloseTo(12, 12);
    expect(MID_TONE).toBeCloseTo(0.104, 3);
  });

  it('weighs the spot, the centre or the whole', () => {
    const [width, height] = [40, 20];
    const left = Array.from({ length: width * height }, (_, i) => (i % width < width / 2 ? 100 : 0));
    expect(meterLuminance(left, width, height, 'whole')).toBeCloseTo(50, 9);
    expect(meterLuminance(left, width, height, 'spot', [0.1, 0.5])).toBe(100);
    expect(meterLuminance(left, width, height, 'spot', [0.9, 0.5])).toBe(0);
    expect(meterLuminance(left, width, height, 'centre')).toBeCloseTo(50, 6);
  });

  it('takes a glint as no brighter than four stops above the mean, but a spot reads what it is aimed at', () => {
    const grey = Array.from({ length: 1000 }, (_, i) => (i === 0 ? 10_000 : 10));
    const plain = (999 * 10 + 10_000) / 1000;
    expect(meterLuminance(grey, 40, 25, 'whole')).toBeCloseTo((999 * 10 + 16 * plain) / 1000, 9);
    expect(meterLuminance(grey, 40, 25, 'spot', [0.5 / 40, 0.5 / 25])).toBe(10_000);
  });
});

describe('focus', () => {
  it('solved for two points holds both: computing the limits gives them back', () => {
    fc.assert(
      fc.property(number(12, 200), number(600, 4000), number(1.05, 20), (f, near, ratio) => {
        const c = 0.025;
        const { focusMm, fStop } = holdSharp(f, near, near * ratio, c);
        const limits = focusLimits(f, fStop, focusMm, c);
        expect(relative(limits.nearMm, near)).toBeLessThan(1e-9);
        expect(relative(limits.farMm, near * ratio)).toBeLessThan(1e-6);
      }),
    );
  });

  it('takes the nearest marked stop that still holds both, and no wider one than the lens has', () => {
    expect(holdSharpMarked(50, 2000, 5000, 0.029, 1.4).fStop).toBe(14); // 13.16 is wanted
    expect(holdSharpMarked(50, 3000, 3050, 0.029, 1.4).fStop).toBe(1.4);
  });

  it('follows a subject that walks, along the axis and not along the ray', () => {
    const { project, cameraId, figureId } = withFigure();
    let next = after(project, keyPlacement(project, figureId, 0, { positionM: [3, 0, -4] }));
    next = after(next, keyPlacement(next, figureId, flicksFromSeconds(2), { positionM: [3, 0, -8] }));
    const focus = { ...CAMERA_DEFAULTS.focus, mode: 'follow' as const, subjectId: figureId };
    next = after(next, setCamera(next, cameraId, 'Focus', { focus }));
    const distanceM = (seconds: number) => cameraAt(next, cameraId, flicksFromSeconds(seconds)).focus.distanceM;
    expect(cameraAt(next, cameraId, 0).focus.drivenBy).toBe('follow');
    // It looks away: its eyes are 0.1134 m (0.063 of 1.80 m) further than where it stands.
    [4, 6, 8].forEach((metres, i) => expect(distanceM(i)).toBeCloseTo(metres + 0.1134, 6));
  });

  it('falls back to the hand when the subject is gone, and the checks say so', () => {
    const focus = { ...CAMERA_DEFAULTS.focus, mode: 'follow' as const, subjectId: nextId() };
    const { project, cameraId } = withFigure({ focus });
    expect(cameraAt(project, cameraId, 0).focus).toMatchObject({ distanceM: 5, drivenBy: 'manual' });
    expect(findingsOf(project).map(({ code }) => code)).toContain('focus-on-nothing');
  });

  it('judges sharpness by the film back, by delivered pixels, or as typed', () => {
    const back = { widthMm: 36, heightMm: 24, squeeze: 1 };
    expect(blurLimitMm({ kind: 'back' }, back, 0.01)).toBeCloseTo(43.2666 / 1500, 6);
    expect(blurLimitMm({ kind: 'pixels', count: 2 }, back, 36 / 1920)).toBeCloseTo(0.0375, 9);
    expect(blurLimitMm({ kind: 'typed', mm: 0.02 }, back, 1)).toBe(0.02);
  });

  it('breathes: at twice the focal length the acting focal length doubles', () => {
    expect(breathingFocalLengthMm(50, 100)).toBe(100);
    expect(breathingFocalLengthMm(50, Infinity)).toBeNaN();
  });
});

describe('distortion', () => {
  it('moves the corner by the per cent that was dialled', () => {
    const [x, y] = [0.4, 0.25];
    const k1 = distortionK1(-6, Math.hypot(x, y));
    expect(distortionFactor(k1, x, y)).toBeCloseTo(0.94, 12);
  });

  it('is undone by Newton to a billionth wherever it is not folded', () => {
    fc.assert(
      fc.property(number(-15, 25), number(-1, 1), number(-1, 1), (percent, u, v) => {
        const k1 = distortionK1(percent, 0.6);
        const [x, y] = [u * 0.42, v * 0.42];
        const factor = distortionFactor(k1, x, y);
        expect(undistortionFactor(k1, x * factor, y * factor) * factor).toBeCloseTo(1, 9);
      }),
    );
  });

  it('leads the line of sight through the point where a thing is seen, in perspective and in parallel', () => {
    fc.assert(
      fc.property(number(-12, 12), fc.boolean(), number(0.05, 0.95), number(0.05, 0.95), (percent, parallel, x, y) => {
        const { project, cameraId } = projectWithCamera({
          pose: { positionM: [1, 2, 3], panDeg: 33, tiltDeg: -8, rollDeg: 5 },
          lens: {
            ...CAMERA_DEFAULTS.lens,
            distortionPercent: percent,
            shiftYMm: 2,
            parallelWidthM: parallel ? 6 : null,
          },
        });
        const state = cameraAt(project, cameraId, 0);
        const [lens, window] = [projectedLens(state), centredWindow(24, 13)];
        const { fromM, direction } = sightThrough(x, y, state, lens, window);
        const point = fromM.map((from, i) => from + (direction[i] ?? 0) * 7) as [number, number, number];
        const seen = projectPoint(point, state, lens, window);
        expect(seen?.x).toBeCloseTo(x, 8);
        expect(seen?.y).toBeCloseTo(y, 8);
      }),
    );
  });
});

describe('framing', () => {
  it('names shot sizes by how much of a person is seen', () => {
    expect([0.1, 0.3, 0.5, 1.1, 2.5, 20].map((share) => shotSize(share))).toEqual([
      'extreme close-up',
      'medium close-up',
      'medium',
      'full',
      'wide',
      'extreme wide',
    ]);
  });

  it('reads headroom, distance and size of the subject', () => {
    const { project, cameraId, figureId } = withFigure();
    const state = cameraAt(project, cameraId, 0);
    const framing = chosenSubject(project, state, 0);
    // 35 mm on 13.87 mm of height: the frame is 1.98 m high at 5 m, the head's top 0.2 m over the axis, its edge at the knees.
    const frameHeight = (5 * 13.87) / 35;
    expect(framing?.placement.id).toBe(figureId);
    expect(framing?.distanceM).toBeCloseTo(5.1134, 9); // it looks away: its eyes are 0.1134 m (0.063 of 1.80 m) behind its middle
    expect(framing?.headroom).toBeCloseTo(0.5 - 0.2 / frameHeight, 9);
    expect(framing?.size).toBe('medium wide');
    expect(framing?.cutAt).toBe('thighs');
    expect(framing?.lookRoom).toBeUndefined(); // it looks away from the camera
  });

  it('keeps a subject as large when the lens changes and the camera moves', () => {
    fc.assert(
      fc.property(number(18, 150), number(10, 36), (focalLengthMm, widthMm) => {
        const { project, cameraId, figureId } = withFigure();
        const figure = project.placements[figureId];
        if (!figure) throw new Error('gone');
        const state = cameraAt(project, cameraId, 0);
        const filmBack = { widthMm, heightMm: widthMm * 0.6, squeeze: 1 };
        const positionM = positionKeepingSize(state, subjectPointAt(project, figure, 'eyes', 0), {
          focalLengthMm,
          filmBack,
        });
        const [x, y, z] = positionM;
        const moved = after(
          project,
          setCamera(project, cameraId, 'Lens', {
            filmBack,
            lens: { ...CAMERA_DEFAULTS.lens, focalLengthMm },
            pose: { positionM: [x, y, z], panDeg: 0, tiltDeg: 0, rollDeg: 0 },
          }),
        );
        const [before, now] = [chosenSubject(project, state, 0), chosenSubject(moved, cameraAt(moved, cameraId, 0), 0)];
        expect(relative(now?.heightShare ?? 0, before?.heightShare ?? 0)).toBeLessThan(1e-9);
      }),
    );
  });

  it('turns a tilt into shift with the same thing in the middle', () => {
    const { project, cameraId } = withFigure({ pose: { positionM: [0, 1.6, 0], panDeg: 20, tiltDeg: 12, rollDeg: 0 } });
    const state = cameraAt(project, cameraId, 0);
    const level = keepVerticals(state);
    expect(level?.shiftYMm).toBeCloseTo(35 * Math.tan((12 * Math.PI) / 180), 9);
    const middle = sightThrough(0.5, 0.5, state, projectedLens(state), deliveredWindow(state));
    const shifted = after(
      project,
      setCamera(project, cameraId, 'Verticals', {
        pose: { positionM: [0, 1.6, 0], panDeg: 20, tiltDeg: 0, rollDeg: 0 },
        lens: { ...CAMERA_DEFAULTS.lens, shiftYMm: level?.shiftYMm ?? 0 },
      }),
    );
    const now = cameraAt(shifted, cameraId, 0);
    const same = sightThrough(0.5, 0.5, now, projectedLens(now), deliveredWindow(now));
    same.direction.forEach((part, i) => expect(part).toBeCloseTo(middle.direction[i] ?? NaN, 9));
    expect(keepVerticals({ ...state, tiltDeg: 75 })).toBeUndefined();
  });

  it('lays narrower and wider guide aspects in the frame', () => {
    expect(aspectWithin(2.39, 16 / 9).height).toBeCloseTo(16 / 9 / 2.39, 9);
    expect(aspectWithin(1, 16 / 9)).toMatchObject({ y: 0, height: 1, width: 9 / 16 });
  });
});

describe('lenses of a kit', () => {
  const [lens] = STANDARD_LENSES.filter(({ id }) => id === 'standard-70-200');
  const asked = { focalLengthMm: 250, fStop: 2, focusM: 1, cornerMm: 20 };

  it('say what is asked of them beyond what they have, and what they have instead', () => {
    if (!lens) throw new Error('no lens');
    const found = lensExcesses(lens, asked);
    expect(found.map(({ what, mend }) => [what, mend])).toEqual([
      ['focal-length', 200],
      ['stop', 2.8],
      ['focus', 1.4],
      ['image-circle', undefined],
    ]);
    expect(lensExcesses(lens, { focalLengthMm: 100, fStop: 4, focusM: 3, cornerMm: 14 })).toEqual([]);
  });

  it('are flagged by the checks with a mend that clears the flag', () => {
    const focus = { ...CAMERA_DEFAULTS.focus, fStop: 1.4 };
    const { project, cameraId } = withFigure({
      lens: { ...CAMERA_DEFAULTS.lens, focalLengthMm: 90, lensId: lens?.id ?? '' },
      focus,
    });
    const excess = findingsOf(project).find(({ code }) => code === 'lens-exceeded');
    expect(excess?.message).toContain('opens to ƒ2.8');
    const mended = excess?.fix ? after(project, excess.fix(project)) : project;
    expect(findingsOf(mended).filter(({ code }) => code === 'lens-exceeded')).toEqual([]);
    expect(cameraAt(mended, cameraId, 0).focus.fStop).toBe(2.8);
  });
});

describe('matching, packing and following the project', () => {
  it('matches a lens by angle on another film back, to a billionth', () => {
    fc.assert(
      fc.property(number(10, 36), number(1, 2), number(12, 200), (widthMm, squeeze, focalLengthMm) => {
        const { project, cameraId } = withFigure({ lens: { ...CAMERA_DEFAULTS.lens, focalLengthMm } });
        const other: Camera = {
          ...CAMERA_DEFAULTS,
          id: nextId(),
          revision: 'first',
          number: 2,
          name: 'Reverse',
          filmBack: { widthMm, heightMm: 10, squeeze },
        };
        const two = { ...project, cameras: { ...project.cameras, [other.id]: other } };
        const matched = after(two, matchCameras(two, cameraId, [other.id], ['lens'], 'angle'));
        const [a, b] = [cameraAt(matched, cameraId, 0), cameraAt(matched, other.id, 0)];
        expect(Math.abs(a.lens.horizontalDeg - b.lens.horizontalDeg)).toBeLessThan(1e-9);
        expect(b.filmBack).toEqual(other.filmBack);
      }),
    );
  });

  it('gives several parts to several cameras as one edit, and leaves the rest', () => {
    const { project, cameraId } = withFigure({
      filmBack: { widthMm: 36, heightMm: 24, squeeze: 1 },
      own: ['exposure', 'guides'],
    });
    const others = [nextId(), nextId()];
    const cameras = others.map((id, i): Camera => ({
      ...CAMERA_DEFAULTS,
      id,
      revision: 'first',
      number: i + 2,
      name: `Camera of ${i}`,
    }));
    const all = {
      ...project,
      cameras: { ...project.cameras, ...Object.fromEntries(cameras.map((one) => [one.id, one])) },
    };
    const edit = matchCameras(all, cameraId, others, ['back', 'exposure', 'guides']);
    expect(edit.name).toContain('2 cameras');
    const next = after(all, edit);
    for (const id of others) {
      expect(next.cameras[id]?.filmBack.widthMm).toBe(36);
      expect(next.cameras[id]?.own).toEqual(['exposure', 'guides']);
      expect(next.cameras[id]?.name).toBe(all.cameras[id]?.name);
      expect(next.cameras[id]?.pose).toEqual(CAMERA_DEFAULTS.pose);
    }
    const facts = (id: string) => cameraFacts(next, id, 0).filter(({ part }) => part === 'back' || part === 'exposure');
    expect(facts(others[0] as string)).toEqual(facts(cameraId));
  });

  it('packs a camera’s settings and unpacks them in another project, lens and all', () => {
    const lens = {
      ...lensFromKit(CAMERA_DEFAULTS.lens, {
        ...(STANDARD_LENSES[5] as (typeof STANDARD_LENSES)[number]),
        id: 'own-1',
        name: 'Old 50',
      }),
    };
    const kitId = nextId();
    const first = withFigure({
      lens,
      own: ['delivery'],
      framing: { ...CAMERA_DEFAULTS.framing, delivery: { widthPx: 1080, heightPx: 1920, pixelAspect: 1 } },
    });
    const kit = {
      id: kitId,
      revision: 'first',
      name: 'Own',
      lenses: [{ ...(STANDARD_LENSES[5] as (typeof STANDARD_LENSES)[number]), id: 'own-1', name: 'Old 50' }],
    };
    const source = { ...first.project, lensKits: { [kitId]: kit } };
    const settings = packageOf(source, first.cameraId);
    const target = withFigure();
    const unpacked = after(
      target.project,
      applyPackage(
        target.project,
        target.cameraId,
        { id: nextId(), name: 'Portrait', settings },
        { kit: nextId(), look: nextId() },
      ),
    );
    const state = cameraAt(unpacked, target.cameraId, 0);
    expect(state.lens.kitLens?.name).toBe('Old 50');
    expect(state.framing.delivery.heightPx).toBe(1920);
    expect(unpacked.cameras[target.cameraId]?.own).toEqual(['delivery']);
    expect(unpacked.cameras[target.cameraId]?.pose).toEqual(target.project.cameras[target.cameraId]?.pose);
  });

  it('edits a group where the camera gets it from, and going back and forth loses neither', () => {
    const { project, cameraId } = withFigure();
    let next = after(project, setGroup(project, cameraId, 'exposure', 'ISO 200', { iso: 200 }));
    expect([next.head.exposure.iso, cameraAt(next, cameraId, 0).exposure.iso]).toEqual([200, 200]);
    next = after(next, setOwn(next, cameraId, 'exposure', true));
    expect(cameraAt(next, cameraId, 0).exposure.iso).toBe(200); // begins as the project's
    next = after(next, setGroup(next, cameraId, 'exposure', 'ISO 3200', { iso: 3200 }));
    expect([next.head.exposure.iso, cameraAt(next, cameraId, 0).exposure.iso]).toEqual([200, 3200]);
    next = after(next, setOwn(next, cameraId, 'exposure', false));
    expect(cameraAt(next, cameraId, 0).exposure.iso).toBe(200);
    next = after(next, setOwn(next, cameraId, 'exposure', true));
    expect(cameraAt(next, cameraId, 0).exposure.iso).toBe(3200);
  });

  it('numbers cameras anew in the order they are put in', () => {
    const { project, cameraId } = withFigure();
    const ids = [2, 5].map((cameraNumber): Camera => ({
      ...CAMERA_DEFAULTS,
      id: nextId(),
      revision: 'first',
      number: cameraNumber,
      name: `N ${cameraNumber}`,
    }));
    const all = { ...project, cameras: { ...project.cameras, ...Object.fromEntries(ids.map((one) => [one.id, one])) } };
    const next = after(all, reorderCamera(all, cameraId, 2));
    expect([next.cameras[cameraId]?.number, next.cameras[ids[0]?.id ?? '']?.number]).toEqual([5, 1]);
  });
});
