import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ev100, isoForEv, shutterSeconds } from '../src/exposure';
import {
  angleOfViewDeg,
  blurCircleMm,
  equivalentFocalLengthMm,
  fitDelivery,
  focalLengthForAngleMm,
  focusLimits,
  holdSharp,
} from '../src/optics';

const HD = { widthPx: 1920, heightPx: 1080, pixelAspect: 1 };
const back = (widthMm: number, heightMm: number, squeeze = 1) => ({ widthMm, heightMm, squeeze });
const anyBack = fc.record({
  widthMm: fc.double({ min: 5, max: 70, noNaN: true }),
  heightMm: fc.double({ min: 4, max: 50, noNaN: true }),
  squeeze: fc.constantFrom(1, 1.33, 2),
});

describe('angle of view', () => {
  it.each([
    [back(36, 24), 50, 39.5978, 26.9915, 46.793],
    [back(36, 24), 35, 54.4322, 37.8493, 63.44],
    [back(24.89, 18.66), 32, 42.5027, 32.5094, 51.8453],
    [back(17.3, 13), 25, 38.1712, 29.1484, 46.8059],
  ])('%o with %d mm', (film, f, horizontal, vertical, diagonal) => {
    expect(angleOfViewDeg(f, film, 'horizontal')).toBeCloseTo(horizontal, 4);
    expect(angleOfViewDeg(f, film, 'vertical')).toBeCloseTo(vertical, 4);
    expect(angleOfViewDeg(f, film, 'diagonal')).toBeCloseTo(diagonal, 4);
  });

  it('counts the squeeze in the horizontal angle only', () => {
    expect(angleOfViewDeg(50, back(24.89, 18.66, 2), 'horizontal')).toBeCloseTo(52.9282, 4);
    expect(angleOfViewDeg(50, back(24.89, 18.66, 2), 'vertical')).toBeCloseTo(21.1397, 4);
  });

  it('and focal length are two ends of one thing', () => {
    fc.assert(
      fc.property(anyBack, fc.double({ min: 4, max: 500, noNaN: true }), (film, f) => {
        for (const side of ['horizontal', 'vertical', 'diagonal'] as const) {
          expect(focalLengthForAngleMm(angleOfViewDeg(f, film, side), film, side) / f).toBeCloseTo(1, 9);
        }
      }),
    );
  });

  it('stays when the film back changes and the focal length follows', () => {
    fc.assert(
      fc.property(anyBack, anyBack, fc.double({ min: 8, max: 200, noNaN: true }), (from, to, f) => {
        const equivalent = equivalentFocalLengthMm(f, from, to);
        expect(angleOfViewDeg(equivalent, to, 'horizontal')).toBeCloseTo(angleOfViewDeg(f, from, 'horizontal'), 9);
      }),
    );
  });

  it('refuses half a turn', () => expect(() => focalLengthForAngleMm(180, back(36, 24), 'vertical')).toThrow('180°'));
});

describe('delivery on the film back', () => {
  it('pads three-perf by 5 pixels above and below for 16:9 by width', () => {
    const fit = fitDelivery(back(24.89, 13.87), HD, 'match-width');
    expect(fit.heightMm).toBeCloseTo(14.0006, 4);
    expect(fit.cropXMm).toBe(0);
    expect(fit.cropYPx).toBeCloseTo(-5.04, 2);
  });

  it('loses nothing with show all and pads nothing with fill', () => {
    fc.assert(
      fc.property(anyBack, fc.integer({ min: 64, max: 8192 }), fc.integer({ min: 64, max: 8192 }), (film, w, h) => {
        const delivery = { widthPx: w, heightPx: h, pixelAspect: 1 };
        const all = fitDelivery(film, delivery, 'show-all');
        const fill = fitDelivery(film, delivery, 'fill');
        expect(Math.max(all.cropXMm, all.cropYMm)).toBeLessThan(1e-9);
        expect(Math.min(fill.cropXMm, fill.cropYMm)).toBeGreaterThan(-1e-9);
        expect(all.widthMm / all.heightMm).toBeCloseTo(w / h, 6);
      }),
    );
  });
});

describe('focus', () => {
  it.each([
    [50, 2.8, 0.029, 3000, 30_838.177, 2737.686, 3317.909],
    [50, 8, 0.029, 3000, 10_825.862, 2355.232, 4130.866],
    [24, 11, 0.025, 1500, 2118.545, 879.927, 5079.365],
  ])('%d mm at f/%d, limit %d mm, at %d mm', (f, n, c, d, hyperfocal, near, far) => {
    const limits = focusLimits(f, n, d, c);
    expect(limits.hyperfocalMm).toBeCloseTo(hyperfocal, 3);
    expect(limits.nearMm).toBeCloseTo(near, 3);
    expect(limits.farMm).toBeCloseTo(far, 3);
  });

  it('reaches infinity from the hyperfocal distance', () => {
    const { hyperfocalMm } = focusLimits(50, 8, 3000, 0.029);
    expect(focusLimits(50, 8, hyperfocalMm, 0.029).farMm).toBe(Infinity);
  });

  it('blurs a point by the thin lens', () => expect(blurCircleMm(85, 1.4, 2000, 5000)).toBeCloseTo(1.61693, 5));

  it('holds two points just sharp', () => {
    const held = holdSharp(50, 2000, 5000, 0.029);
    expect(held.focusMm).toBeCloseTo(2857.143, 3);
    expect(held.fStop).toBeCloseTo(13.1614, 4);
    const limits = focusLimits(50, held.fStop, held.focusMm, 0.029);
    expect(limits.nearMm).toBeCloseTo(2000, 6);
    expect(limits.farMm).toBeCloseTo(5000, 6);
  });
});

describe('exposure', () => {
  it.each([
    [16, 1 / 125, 100, 14.9658],
    [2.8, 1 / 48, 800, 5.5558],
    [5.6, 1 / 50, 400, 8.6147],
    [8, 1 / 100, 200, 11.6439],
  ])('N %d, %d s, ISO %d is EV %d', (stop, seconds, iso, ev) => {
    expect(ev100({ stop, shutterSeconds: seconds, iso })).toBeCloseTo(ev, 4);
    expect(isoForEv(ev, stop, seconds) / iso).toBeCloseTo(1, 4);
  });

  it('turns a shutter angle into seconds at the rate', () => {
    expect(1 / shutterSeconds(180, { frames: 24, seconds: 1 })).toBeCloseTo(48, 9);
    expect(1 / shutterSeconds(172.8, { frames: 24, seconds: 1 })).toBeCloseTo(50, 9);
  });
});
